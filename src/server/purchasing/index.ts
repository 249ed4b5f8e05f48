export * from "./masters";
export * from "./orders";
export * from "./receipts";
export { grniAccount } from "./grniEntries";
export * from "./matching";
export * from "./grni";
export * from "./cleanUp";
export * from "./accrualRun";
export * from "./sendOrder";
