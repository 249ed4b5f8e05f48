export { makeDeposit } from "./makeDeposit";
export {
  getDeposit,
  listDeposits,
  type DepositPartView,
  type DepositRow,
  type DepositView,
} from "./depositViews";
export { cancelDeposit, returnCheque } from "./undoDeposit";
