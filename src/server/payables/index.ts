export type { InvoiceCheck, InvoiceFigures, PossibleCopy } from "./checkInvoice";
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
export { correctableInvoices, type Correctable, type DocumentName } from "./corrections";
export {
  type RecurringInvoiceRow,
  type RecurringInvoiceView,
  listRecurringInvoices,
  getRecurringInvoice,
  saveRecurringInvoice,
  changeRecurringInvoice,
} from "./recurringInvoices";
export { recurringInvoiceRun } from "./recurringInvoiceRun";
export * from "./invoiceLists";
export { paymentRunSchema, paymentRunKind } from "./paymentRun";
export { gainsSetting } from "./paymentPlace";
export { type PaymentRunDetail, type RunPayment } from "./postedPayments";
export { type PaymentRow, listPayments, type PaymentView, getPayment } from "./payments";
export { UNDOING, undoPayment, reversePayment, rejectPayment, recallPayment } from "./undoPayment";
export { makePaymentFile, getPaymentFile, type RunPapers, paymentsOfRun } from "./paymentFiles";
export { printCheques, voidCheque } from "./cheques";
export { cancelCheque } from "./cancelCheque";
export { chequesPdf } from "./chequesPdf";
export * from "./remittance";
export * from "./singlePayment";
export * from "./netting";
export * from "./outlook";
export * from "./loadInvoices";
export * from "./settings";
