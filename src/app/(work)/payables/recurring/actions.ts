"use server";
import { changeRecurringInvoice, saveRecurringInvoice } from "@/server/payables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveRecurringInvoiceAction = async (input: unknown) =>
  answer(await saveRecurringInvoice(await actionCaller(), input));
export const changeRecurringInvoiceAction = async (input: unknown) =>
  answer(await changeRecurringInvoice(await actionCaller(), input));
