"use server";
import { cancelInvoice, correctableInvoices, postStoredInvoice } from "@/server/payables";
import { billableLines } from "@/server/purchasing";
import { saveTaxCode } from "@/server/taxes";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const cancelInvoiceAction = async (id: number, reason: string) =>
  answer(await cancelInvoice(await actionCaller(), { id, reason }));
/** What an invoice of a supplier could bill of its orders. */
export const billableLinesAction = async (company: string, supplier: string) =>
  answer(await billableLines(await actionCaller(), { company, supplier }));
export const correctableInvoicesAction = async (company: string, supplier: string) =>
  answer(await correctableInvoices(await actionCaller(), { company, supplier }));
/** Posts a draft as it is kept; one that is held says why. */
export async function postStoredInvoiceAction(id: number) {
  const result = answer(await postStoredInvoice(await actionCaller(), { id }));
  return result.ok ? { ok: true as const, note: result.value.note } : result;
}
export const saveTaxCodeAction = async (input: unknown) =>
  answer(await saveTaxCode(await actionCaller(), input));
