export * from "./saleInput";
export type { SaleLineValue } from "./saleLines";
export * from "./sale";
export * from "./paymentCode";
export * from "./outgoing";
