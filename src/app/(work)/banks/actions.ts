"use server";
import {
  addPaperLine,
  bookCash,
  closeReconciliation,
  dropPaperStatement,
  listBankAccounts,
  prepareReconciliation,
  reopenReconciliation,
  saveBankFolder,
  nextDemoDay,
  simulatedBankDay,
  startPaperStatement,
  takeBackFile,
  tickJournals,
  tryLineRule,
} from "@/server/banks";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const closeReconciliationAction = async (input: {
  company: string;
  bank: string;
  date: string;
}) => answer(await closeReconciliation(await actionCaller(), input));
export const prepareReconciliationAction = async (input: {
  company: string;
  bank: string;
  date: string;
}) => answer(await prepareReconciliation(await actionCaller(), input));
export const reopenReconciliationAction = async (id: number, reason: string) =>
  answer(await reopenReconciliation(await actionCaller(), { id, reason }));
export const startPaperAction = async (input: unknown) =>
  answer(await startPaperStatement(await actionCaller(), input));
export const tickAction = async (id: number, journals: readonly number[], on: boolean) =>
  answer(await tickJournals(await actionCaller(), { id, journals, on }));
export const addPaperLineAction = async (input: unknown) =>
  answer(await addPaperLine(await actionCaller(), input));
export const dropPaperAction = async (id: number, line?: number) =>
  answer(await dropPaperStatement(await actionCaller(), { id, line }));
export const tryRuleAction = async (id: number) =>
  answer(await tryLineRule(await actionCaller(), { id }));
export const nextDemoDayAction = async (company: string) =>
  answer(await nextDemoDay(await actionCaller(), { company }));
export const bankDayAction = async (bank: string, format: string) =>
  answer(await simulatedBankDay(await actionCaller(), { bank, format }));
export const bankAccountsAction = async () =>
  answer(await listBankAccounts(await actionCaller(), {}));
export const takeBackFileAction = async (id: number, reason: string) =>
  answer(await takeBackFile(await actionCaller(), { id, reason }));
export const bookCashAction = async (input: unknown) =>
  answer(await bookCash(await actionCaller(), input));
export const saveBankFolderAction = async (on: boolean) =>
  answer(await saveBankFolder(await actionCaller(), { on }));
