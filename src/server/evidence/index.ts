export * from "./tables";
export * from "./seal";
export * from "./keep";
