export * from "./saleInput";
export { saleValue, type SaleLineValue } from "./saleLines";
export * from "./sale";
export * from "./paymentCode";
export * from "./outgoing";
export * from "./desk";
export * from "./letters";
export * from "./losses";
export * from "./figures";
