"use server";
import { switchPeriods } from "@/server/organisation";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const switchPeriodsAction = async (input: unknown) =>
  answer(await switchPeriods(await actionCaller(), input));
