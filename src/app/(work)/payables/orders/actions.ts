"use server";
import {
  cancelGoodsReceipt,
  changeOrder,
  closeOrder,
  deleteCleanUpRule,
  receiveOrder,
  saveCleanUpRule,
  saveShares,
  saveTolerance,
  sendOrder,
  tryCleanUpRule,
} from "@/server/purchasing";
import { savePurchaseItem } from "@/server/trade";
import { releaseInvoice } from "@/server/payables";
import { answer } from "@/app/lib/answer";
import { actionCaller, onceCaller } from "@/app/lib/session";

export const receiveOrderAction = async (form: string, input: unknown) =>
  answer(await receiveOrder(await onceCaller(form, input), input));
export const cancelGoodsReceiptAction = async (id: number, reason: string) =>
  answer(await cancelGoodsReceipt(await actionCaller(), { id, reason }));
export const changeOrderAction = async (input: unknown) =>
  answer(await changeOrder(await actionCaller(), input));
export const closeOrderAction = async (id: number, to: "closed" | "open") =>
  answer(await closeOrder(await actionCaller(), { id, to }));
export const sendOrderAction = async (id: number) =>
  answer(await sendOrder(await actionCaller(), { id }));
export const savePurchaseItemAction = async (input: unknown) =>
  answer(await savePurchaseItem(await actionCaller(), input));
export const saveSharesAction = async (input: unknown) =>
  answer(await saveShares(await actionCaller(), input));
export const saveToleranceAction = async (input: unknown) =>
  answer(await saveTolerance(await actionCaller(), input));
export const saveCleanUpRuleAction = async (input: unknown) =>
  answer(await saveCleanUpRule(await actionCaller(), input));
export const deleteCleanUpRuleAction = async (id: number) =>
  answer(await deleteCleanUpRule(await actionCaller(), { id }));
export const tryCleanUpRuleAction = async (input: unknown) =>
  answer(await tryCleanUpRule(await actionCaller(), input));
export const releaseInvoiceAction = async (id: number, reason: string) =>
  answer(await releaseInvoice(await actionCaller(), { id, reason }));
