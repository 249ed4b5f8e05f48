export * from "./rule";
export * from "./assetClass";
export * from "./entries";
export * from "./fiscalYears";
export * from "./depreciate";
export * from "./intake";
export type { Share, Usage } from "./share";
export * from "./charges";
export * from "./classInput";
