"use server";
import { endMandate, makeDebitFile, saveMandate } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const makeDebitFileAction = async (run: number) =>
  answer(await makeDebitFile(await actionCaller(), { run }));
export const saveMandateAction = async (input: unknown) =>
  answer(await saveMandate(await actionCaller(), input));
export const endMandateAction = async (input: unknown) =>
  answer(await endMandate(await actionCaller(), input));
