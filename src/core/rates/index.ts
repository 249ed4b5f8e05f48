export * from "./types";
export * from "./findRate";
export * from "./convert";
export * from "./conversion";
export * from "./simulatedRates";
