export { loadCardPayments } from "./loadCardPayments";
export { makeDeposit } from "./makeDeposit";
export {
  getDeposit,
  listDeposits,
  type DepositPartView,
  type DepositRow,
  type DepositView,
} from "./depositViews";
export { cancelDeposit, decideSlipRequest, returnCheque } from "./undoDeposit";
export { customersItems, type CustomersItem } from "./customersItems";
export { depositPdf } from "./depositPdf";
