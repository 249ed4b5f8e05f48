export * from "./openItems";
export * from "./allocations";
export * from "./credited";
