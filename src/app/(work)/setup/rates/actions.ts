"use server";
import { askRate } from "@/server/rates";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const askRateAction = async (input: unknown) =>
  answer(await askRate(await actionCaller(), input));
