export * from "./tax";
export * from "./invoice";
export * from "./payments";
export * from "./payForAnother";
export * from "./amountInWords";
export * from "./magneticLine";
export * from "./match";
export * from "./shares";
