"use server";
import { endRecurringInvoice, saveRecurringInvoice, skipRecurringInvoice } from "@/server/payables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveRecurringInvoiceAction = async (input: unknown) =>
  answer(await saveRecurringInvoice(await actionCaller(), input));
export const endRecurringInvoiceAction = async (input: unknown) =>
  answer(await endRecurringInvoice(await actionCaller(), input));
export const skipRecurringInvoiceAction = async (input: unknown) =>
  answer(await skipRecurringInvoice(await actionCaller(), input));
