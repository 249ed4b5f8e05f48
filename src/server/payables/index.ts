export * from "./taxCodes";
export * from "./invoices";
