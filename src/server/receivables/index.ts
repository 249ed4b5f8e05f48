export type { Buyer, SaleCheck, SaleFigures } from "./checkSale";
export { type Credit, CREDIT_RULES, type CreditRule } from "./credit";
export {
  approveSale,
  cancelSale,
  checkSale,
  createSale,
  deleteSale,
  postSale,
  postStoredSale,
  saveSale,
  submitSale,
  submitStoredSale,
  type SavedSale,
} from "./sales";
export { keepAndPostSales, type PostedSale } from "./postSales";
export { loadSales } from "./loadSales";
export { listPrepayments, type PrepaymentRow } from "./prepayments";
export * from "./saleViews";
export { getSalePdf, getSaleUbl } from "./salePapers";
export { sendSale, type ArrivesInGroup, type PaperWithinGroup, type SentSale } from "./sendSale";
export * from "./desk";
export * from "./settings";
export * from "./letters";
export * from "./losses";
export * from "./figures";
export * from "./receipts";
export * from "./agreements";
export * from "./debits";
export * from "./deferral";
export { aheadAgainstJournals } from "./verifyAhead";
