export { moneyReversed } from "./recordMoney";
export { getReceipt, listReceipts, type ReceiptRow, type ReceiptView } from "./receiptViews";
