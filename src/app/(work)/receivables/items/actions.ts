"use server";
import { saveSaleItem } from "@/server/trade";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveSaleItemAction = async (input: unknown) =>
  answer(await saveSaleItem(await actionCaller(), input));
