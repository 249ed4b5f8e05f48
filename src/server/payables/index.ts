export type { InvoiceCheck, InvoiceFigures, PossibleCopy } from "./checkInvoice";
export {
  cancelInvoice,
  checkInvoice,
  createInvoice,
  deleteInvoice,
  postInvoice,
  postStoredInvoice,
  releaseInvoice,
  saveInvoice,
  submitInvoice,
  type PostedInvoice,
  type SavedInvoice,
} from "./invoices";
export { correctableInvoices, type Correctable, type DocumentName } from "./corrections";
export * from "./recurringInvoices";
export * from "./invoiceLists";
export {
  paymentRunSchema,
  gainsSetting,
  type PaymentRunDetail,
  type RunPayment,
} from "./paymentRun";
export * from "./payments";
export * from "./cheques";
export * from "./remittance";
export * from "./singlePayment";
export * from "./netting";
export * from "./outlook";
export * from "./loadInvoices";
export * from "./settings";
