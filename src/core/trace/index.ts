export * from "./ref";
export * from "./decompose";
