export * from "./names";
export * from "./partner";
export * from "./creditLimit";
