export type { InvoiceCheck, InvoiceFigures, PossibleCopy } from "./checkInvoice";
export * from "./invoices";
export * from "./invoiceLists";
export { paymentRunSchema, gainsSetting, type PaymentRunDetail, type RunPayment } from "./paymentRun";
export * from "./payments";
export * from "./cheques";
export * from "./remittance";
