"use server";
import { endSession } from "@/server/access";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const endSessionAction = async (id: string) =>
  answer(await endSession(await actionCaller(), { id }));
