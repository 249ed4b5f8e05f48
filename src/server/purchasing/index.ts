export * from "./masters";
export {
  type OrderKind,
  type OrderCheck,
  readStoredOrder,
  readPaperOrder,
  type SavedOrder,
} from "./orderKind";
export {
  saveOrder,
  placeOrder,
  submitOrder,
  deleteOrder,
  approveOrder,
  createOrder,
  placeStoredOrder,
  submitStoredOrder,
} from "./orders";
export { changeOrder, closeOrder } from "./changeOrder";
export {
  type OrderRow,
  listOrders,
  type OrderLineView,
  type OrderView,
  getOrder,
} from "./orderViews";
export { type AfterGoodsReceipt, tellGoodsReceipt } from "./tellGoodsReceipt";
export { receiveOrder } from "./receiveOrder";
export { cancelGoodsReceipt } from "./cancelGoodsReceipt";
export {
  type GoodsReceiptRow,
  listGoodsReceipts,
  type GoodsReceiptView,
  getGoodsReceipt,
} from "./goodsReceiptViews";
export { grniAccount } from "./grniEntries";
export * from "./matching";
export * from "./grni";
export * from "./cleanUp";
export * from "./accrualRun";
export * from "./sendOrder";
export * from "./commitments";
export * from "./closeChecks";
export * from "./subLedger";
export { ordersToPay, type OrderToPay } from "./ordersToPay";
