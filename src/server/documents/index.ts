export * from "./papers";
export * from "./links";
