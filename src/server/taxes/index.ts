export * from "./taxCodes";
