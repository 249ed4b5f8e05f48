export { moneyReversed, recordMoney } from "./recordMoney";
export { moneyAgainstJournals } from "./verifyMoney";
export { getReceipt, listReceipts, type ReceiptRow, type ReceiptView } from "./receiptViews";
