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
export {
  paymentRunSchema,
  gainsSetting,
  paymentRunKind,
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
