export { cashFlows, cashPosition, type CashAccount, type CashPosition } from "./cashPosition";
export type { ExpectedFlow } from "./expectedFlows";
export {
  listMonthlyPayments,
  paidMonthly,
  saveMonthlyPayment,
  type MonthlyPayment,
} from "./monthlyPayments";
