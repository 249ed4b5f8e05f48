export { cashFlows, cashPosition, type CashAccount, type CashPosition } from "./cashPosition";
export type { ExpectedFlow } from "./expectedFlows";
export { listMonthlyPayments, saveMonthlyPayment, type MonthlyPayment } from "./monthlyPayments";
