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
  type PostedSale,
  type SavedSale,
} from "./sales";
export * from "./saleViews";
export { getSalePdf, getSaleUbl, sendSale } from "./salePapers";
