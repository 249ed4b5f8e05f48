"use server";
import { endAgreement, saveAgreement, savePriceIndex, skipAgreement } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveAgreementAction = async (input: unknown) =>
  answer(await saveAgreement(await actionCaller(), input));
export const endAgreementAction = async (input: unknown) =>
  answer(await endAgreement(await actionCaller(), input));
export const skipAgreementAction = async (input: unknown) =>
  answer(await skipAgreement(await actionCaller(), input));
export const savePriceIndexAction = async (input: unknown) =>
  answer(await savePriceIndex(await actionCaller(), input));
