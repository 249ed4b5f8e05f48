"use server";
import { endRecurring, saveRecurring, skipRecurring } from "@/server/ledger";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveRecurringAction = async (input: unknown) =>
  answer(await saveRecurring(await actionCaller(), input));
export const endRecurringAction = async (input: unknown) =>
  answer(await endRecurring(await actionCaller(), input));
export const skipRecurringAction = async (input: unknown) =>
  answer(await skipRecurring(await actionCaller(), input));
