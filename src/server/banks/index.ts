export { listBankAccounts, readBankAccount, type BankAccount } from "./bankAccounts";
export { accountControl, agreeToAccount, saveAccountControl } from "./agreeToAccount";
export { saveBankAccount } from "./saveBankAccount";
export { saveSignature } from "./saveSignature";
export { loadBanks } from "./loadBanks";
export { listBanks, saveBank, type BankRecord } from "./bankRecords";
export { againstBank, againstPromise } from "./againstBank";
export { gainsSetting, paymentPlace } from "./paymentPlace";
export { postedPayments, type PaymentRunDetail, type RunPayment } from "./postedPayments";
export {
  getPayment,
  listPayments,
  listTransfers,
  type PaymentRow,
  type PaymentView,
  type TransferRow,
} from "./payments";
export {
  decidePaymentRequest,
  recallPayment,
  rejectPayment,
  reversePayment,
  undoPayment,
  UNDOING,
} from "./undoPayment";
export { balanceNow } from "./balanceNow";
export { transferAccounts, type TransferAccount } from "./transferAccounts";
export { transferRun } from "./transferRun";
export { fileMadeAt, keepBankFile } from "./keepBankFile";
export { undonePayments } from "./undoPayments";
export { RUNS_THAT_PAY } from "./runsThatPay";
export { getPaymentFile, makePaymentFile, paymentsOfRun, type RunPapers } from "./paymentFiles";
export { bankCodings, type BankCodings } from "./bankCodings";
export { listMovementKinds, saveMovementKind, type MovementKind } from "./movementKinds";
export * from "./statements";
export * from "./deposits";
export * from "./receipts";
export { againstRules } from "./againstRules";
export { moneyPlace, type MoneyPlace } from "./moneyPlace";
export { itemsOfLines, type ItemToTake } from "./statements/lineFacts";
export * from "./cash";
export * from "./folder";
export { printCheques, voidCheque } from "./cheques";
export { cancelCheque } from "./cancelCheque";
export { chequesPdf } from "./chequesPdf";
export { draftPdf, getBankPaper, samplePaper, saveBankPaper, type BankPaper } from "./papers";
