"use server";
import { confirmPromise, saveReminders, sendLetters } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const sendLettersAction = async (run: string) =>
  answer(await sendLetters(await actionCaller(), { run }));
export const confirmPromiseAction = async (id: number) =>
  answer(await confirmPromise(await actionCaller(), { id }));
export const saveRemindersAction = async (input: unknown) =>
  answer(await saveReminders(await actionCaller(), input));
