export * from "./names";
export * from "./partner";
