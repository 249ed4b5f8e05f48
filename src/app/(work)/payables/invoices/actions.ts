"use server";
import { cancelInvoice } from "@/server/payables";
import { saveTaxCode } from "@/server/taxes";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const cancelInvoiceAction = async (id: number, reason: string) => answer(await cancelInvoice(await actionCaller(), { id, reason }));
export const saveTaxCodeAction = async (input: unknown) => answer(await saveTaxCode(await actionCaller(), input));
