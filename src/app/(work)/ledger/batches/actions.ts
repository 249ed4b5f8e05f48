"use server";
import {
  deleteBatch,
  moveToBatch,
  postBatch,
  reverseBatch,
  saveBatch,
  submitBatch,
} from "@/server/ledger";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveBatchAction = async (input: unknown) =>
  answer(await saveBatch(await actionCaller(), input));
export const moveToBatchAction = async (journal: number, batch: number | null) =>
  answer(await moveToBatch(await actionCaller(), { journal, batch }));
export const postBatchAction = async (id: number, waive: string) =>
  answer(await postBatch(await actionCaller(), { id, waive }));
export const submitBatchAction = async (id: number, waive: string) =>
  answer(await submitBatch(await actionCaller(), { id, waive }));
export const reverseBatchAction = async (id: number, reason: string) =>
  answer(await reverseBatch(await actionCaller(), { id, reason }));
export const deleteBatchAction = async (id: number, version: number) =>
  answer(await deleteBatch(await actionCaller(), { id, version }));
