export * from "./rule";
export * from "./fiscalYears";
export * from "./depreciate";
export type { Share, Usage } from "./share";
