export { proposeReceipt, type OpenForReceipt, type ReceiptProposal } from "./proposeReceipt";
export type { ItemElsewhere } from "./payersItems";
export { receivingAccounts, type ReceivingAccount } from "./receivingAccounts";
export { loadReceipts, type LoadedReceipts } from "./loadReceipts";
export { recordReceipt } from "./recordReceipts";
export { undoReceipt } from "./undoReceipt";
