export * from "./openItems";
export * from "./allocations";
