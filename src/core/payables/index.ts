export * from "./tax";
export * from "./invoice";
