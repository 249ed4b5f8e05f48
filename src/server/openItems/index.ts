export * from "./openItems";
export * from "./allocations";
export * from "./credited";
export * from "./subLedgers";
export * from "./verifyItems";
