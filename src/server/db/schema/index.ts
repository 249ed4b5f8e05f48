export * from "./organisation";
export * from "./access";
export * from "./documents";
export * from "./ledger";
export * from "./statements";
export * from "./runs";
export * from "./entry";
export * from "./openItems";
