"use server";
import { askForCreditLimit, decideCreditRequest } from "@/server/partners";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const askForCreditLimitAction = async (input: unknown) =>
  answer(await askForCreditLimit(await actionCaller(), input));
export const decideCreditRequestAction = async (input: unknown) =>
  answer(await decideCreditRequest(await actionCaller(), input));
