export * from "./classes";
export * from "./depreciation";
export * from "./intake";
export * from "./subLedgers";
