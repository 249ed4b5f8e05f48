export * from "./side";
export * from "./paperInput";
export * from "./paper";
export * from "./item";
export * from "./readPaper";
export { priceText, readPrice, valueOf } from "./price";
export { taxSums } from "./taxSums";
export { addTaxLines } from "./taxLines";
