"use server";
import { firstUse } from "@/server/organisation";
import { getDatabase } from "@/server/runtime";
import { answer, type Answer } from "../lib/answer";

export const firstUseAction = async (input: unknown): Promise<Answer<{ login: string }>> =>
  answer(await firstUse(await getDatabase(), input));
