export * from "./names";
export * from "./partners";
