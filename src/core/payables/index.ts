export {
  invoiceLineSchema,
  invoiceSchema,
  type InvoiceInput,
  type InvoiceLineInput,
  invoiceInput,
  numberKey,
} from "./invoiceInput";
export { type InvoiceContext, type InvoiceReading, readInvoice } from "./invoice";
export {
  type PayableItem,
  type PayableSupplier,
  DISCOUNT_ON_PART,
  type DiscountOnPart,
} from "./payments";
export {
  type PaymentRules,
  type PaymentPlan,
  paymentItemKey,
  proposePayments,
} from "./paymentPlan";
export * from "./singlePayment";
export * from "./match";
export * from "./signsOfFraud";
export * from "./recurringInvoice";
