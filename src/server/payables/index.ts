export { arriveFromGroup } from "./fromGroup";
export type { InvoiceCheck, PossibleCopy } from "./checkInvoice";
export {
  approveInvoice,
  checkInvoice,
  createInvoice,
  deleteInvoice,
  postInvoice,
  postStoredInvoice,
  submitStoredInvoice,
  saveInvoice,
  submitInvoice,
  type PostedInvoice,
  type SavedInvoice,
} from "./invoices";
export { cancelInvoice } from "./cancelInvoice";
export { releaseFitting, releaseInvoice } from "./heldInvoices";
export { correctableInvoices, type Correctable } from "./corrections";
export {
  type RecurringInvoiceRow,
  type RecurringInvoiceView,
  listRecurringInvoices,
  getRecurringInvoice,
  saveRecurringInvoice,
  endRecurringInvoice,
  skipRecurringInvoice,
} from "./recurringInvoices";
export { recurringInvoiceRun } from "./recurringInvoiceRun";
export * from "./invoiceLists";
export { paymentRunSchema, paymentRunKind } from "./paymentRun";
export * from "./remittance";
export * from "./singlePayment";
export * from "./netting";
export * from "./outlook";
export { loadEInvoice, loadInvoices, type LoadedEInvoice } from "./loadInvoices";
export * from "./settings";
export {
  inPaymentRuns,
  instalments,
  recurringToCome,
  type InvoiceToCome,
  invoicesToCome,
} from "./expectedPayments";
