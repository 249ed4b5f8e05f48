export * from "./kinds";
export * from "./chain";
export * from "./stateWords";
export * from "./reasons";
export * from "./remarkKinds";
