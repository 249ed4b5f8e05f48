export * from "./posting";
export * from "./drafts";
export * from "./journals";
export * from "./balances";
export * from "./trialBalance";
export * from "./accountView";
export * from "./verify";
export * from "./effect";
