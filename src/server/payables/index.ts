export * from "./taxCodes";
export type { InvoiceCheck, InvoiceFigures, PossibleCopy } from "./checkInvoice";
export * from "./invoices";
export * from "./invoiceLists";
