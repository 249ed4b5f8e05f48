"use server";
import { decodeXml } from "@/server/files";
import {
  cancelInvoice,
  correctableInvoices,
  loadEInvoice,
  loadInvoices,
  postStoredInvoice,
  type LoadedEInvoice,
} from "@/server/payables";
import { billableLines } from "@/server/purchasing";
import { loadRowsFromFile } from "@/app/lib/loadFile";
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
/** A file from a supplier: an e-invoice becomes a draft at once, a table is checked first. */
export async function loadEInvoiceAction(company: string, form: FormData) {
  const caller = await actionCaller();
  const file = form.get("file");
  if (!caller.person || !(file instanceof File))
    return answer<LoadedEInvoice>({
      ok: false,
      problems: [{ code: "FORBIDDEN", what: "load invoices" }],
    });
  const bytes = new Uint8Array(await file.arrayBuffer());
  const xml = decodeXml(bytes);
  if (xml === null)
    return answer<LoadedEInvoice>({
      ok: false,
      problems: [{ code: "INVALID", what: "The file is not in the encoding that it names" }],
    });
  const original = Buffer.from(bytes).toString("base64");
  return answer(await loadEInvoice(caller, { company, xml, original }));
}
export const loadInvoicesAction = async (company: string, form: FormData) =>
  loadRowsFromFile(form, loadInvoices, { company });
