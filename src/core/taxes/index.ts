export * from "./taxCode";
export * from "./taxCodeInput";
export * from "./taxOf";
export * from "./takenBack";
