export {
  MAX_INVOICE_LINES,
  invoiceLineSchema,
  invoiceSchema,
  type InvoiceInput,
  type InvoiceLineInput,
  invoiceInput,
  numberKey,
} from "./invoiceInput";
export {
  type InvoiceContext,
  DISCOUNT_ON,
  type DiscountOn,
  type TaxSum,
  type InvoiceReading,
  readInvoice,
} from "./invoice";
export {
  type PayableItem,
  type PayableSupplier,
  DISCOUNT_ON_PART,
  type DiscountOnPart,
} from "./payments";
export {
  type PaymentRules,
  type PaidItem,
  type PlannedPayment,
  type PaymentPlan,
  paymentItemKey,
  proposePayments,
} from "./paymentPlan";
export {
  type PaymentAccounts,
  type CodedPart,
  underWayItem,
  journalOfPayment,
} from "./journalOfPayment";
export * from "./transferRemarks";
export * from "./singlePayment";
export * from "./payForAnother";
export * from "./amountInWords";
export * from "./magneticLine";
export * from "./match";
export * from "./signsOfFraud";
export * from "./recurringInvoice";
