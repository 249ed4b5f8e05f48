"use server";
import { savePaymentTolerance } from "@/server/partners";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const savePaymentToleranceAction = async (input: unknown) =>
  answer(await savePaymentTolerance(await actionCaller(), input));
