export * from "./listAsked";
export * from "./amountFilter";
