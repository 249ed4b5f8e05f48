export * from "./partner";
export * from "./countries";
