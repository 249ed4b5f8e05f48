export * from "./taxCodes";
export * from "./taxSummary";
export * from "./declareTaxes";
export * from "./taxDays";
export * from "./verifyTaxes";
export * from "./taxRecords";
export { taxesOfItems } from "./taxesOfItems";
