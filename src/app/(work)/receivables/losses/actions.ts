"use server";
import { undoWriteOff, writeOffItems } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const writeOffItemsAction = async (input: unknown) =>
  answer(await writeOffItems(await actionCaller(), input));
export const undoWriteOffAction = async (journal: number, reason: string) =>
  answer(await undoWriteOff(await actionCaller(), { journal, reason }));
