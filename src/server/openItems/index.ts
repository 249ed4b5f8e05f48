export * from "./openItems";
export * from "./allocations";
export * from "./balancesByCurrency";
export * from "./credited";
export * from "./subLedgers";
export * from "./verifyItems";
