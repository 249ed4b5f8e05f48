export * from "./masters";
export * from "./orders";
export * from "./receipts";
export { grniAccount } from "./grniEntries";
export * from "./matching";
