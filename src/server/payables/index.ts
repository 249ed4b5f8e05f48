export type { InvoiceCheck, InvoiceFigures, PossibleCopy } from "./checkInvoice";
export {
  approveInvoice,
  cancelInvoice,
  checkInvoice,
  createInvoice,
  deleteInvoice,
  postInvoice,
  postStoredInvoice,
  releaseFitting,
  releaseInvoice,
  saveInvoice,
  submitInvoice,
  type PostedInvoice,
  type SavedInvoice,
} from "./invoices";
export { correctableInvoices, type Correctable, type DocumentName } from "./corrections";
export * from "./recurringInvoices";
export * from "./invoiceLists";
export { paymentRunSchema, paymentRunKind } from "./paymentRun";
export { gainsSetting } from "./paymentPlace";
export { type PaymentRunDetail, type RunPayment } from "./postedPayments";
export * from "./payments";
export { printCheques, voidCheque } from "./cheques";
export { cancelCheque } from "./cancelCheque";
export { chequesPdf } from "./chequesPdf";
export * from "./remittance";
export * from "./singlePayment";
export * from "./netting";
export * from "./outlook";
export * from "./loadInvoices";
export * from "./settings";
