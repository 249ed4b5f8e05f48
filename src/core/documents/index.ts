export * from "./kinds";
export * from "./chain";
