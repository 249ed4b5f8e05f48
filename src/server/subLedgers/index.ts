export * from "./closeCheck";
export * from "./reconciliation";
export * from "./verifySubLedgers";
