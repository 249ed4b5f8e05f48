export * from "./rates";
