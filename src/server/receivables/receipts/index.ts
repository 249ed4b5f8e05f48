export { proposeReceipt, type OpenForReceipt, type ReceiptProposal } from "./proposeReceipt";
export { receivingAccounts, type ReceivingAccount } from "./receivingAccounts";
export { recordReceipt } from "./recordReceipts";
export { undoReceipt } from "./undoReceipt";
