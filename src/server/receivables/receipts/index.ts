export { proposeReceipt, type OpenForReceipt, type ReceiptProposal } from "./proposeReceipt";
export { recordReceipt } from "./recordReceipts";
export { undoReceipt } from "./undoReceipt";
