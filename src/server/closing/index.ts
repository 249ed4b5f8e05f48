import "./yearEnd";
export * from "./checks";
