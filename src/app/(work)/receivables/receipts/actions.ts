"use server";
import { proposeReceipt, recordReceipt, undoReceipt } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const proposeReceiptAction = async (input: unknown) =>
  answer(await proposeReceipt(await actionCaller(), input));
export const recordReceiptAction = async (input: unknown) =>
  answer(await recordReceipt(await actionCaller(), input));
export const undoReceiptAction = async (id: number, reason: string) =>
  answer(await undoReceipt(await actionCaller(), { id, reason }));
