"use server";
import { invoiceInput } from "@/core/payables";
import { dateText } from "@/core/shared";
import {
  cancelInvoice,
  correctableInvoices,
  deleteInvoice,
  postStoredInvoice,
  saveInvoice,
} from "@/server/payables";
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
/** An empty draft of this day, for a paper that is there before anything is typed. */
export const beginInvoiceAction = async (company: string, today: string) =>
  answer(
    await saveInvoice(await actionCaller(), {
      content: invoiceInput({ company, date: dateText(today) }),
    }),
  );
export const removeInvoiceDraftAction = async (id: number, version: number) =>
  answer(await deleteInvoice(await actionCaller(), { id, version }));
