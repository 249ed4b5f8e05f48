export * from "./classes";
export * from "./depreciation";
export * from "./intake";
export * from "./register";
export * from "./retirement";
export * from "./subLedgers";
