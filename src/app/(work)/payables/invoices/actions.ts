"use server";
import { cancelInvoice, loadEInvoice, loadInvoices } from "@/server/payables";
import { loadRowsFromFile } from "@/app/lib/loadFile";
import { saveTaxCode } from "@/server/taxes";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const cancelInvoiceAction = async (id: number, reason: string) =>
  answer(await cancelInvoice(await actionCaller(), { id, reason }));
export const saveTaxCodeAction = async (input: unknown) =>
  answer(await saveTaxCode(await actionCaller(), input));
/** A file from a supplier: an e-invoice becomes a draft at once, a table is checked first. */
export const loadEInvoiceAction = async (company: string, xml: string) =>
  answer(await loadEInvoice(await actionCaller(), { company, xml }));
export const loadInvoicesAction = async (company: string, form: FormData) =>
  loadRowsFromFile(form, loadInvoices, { company });
