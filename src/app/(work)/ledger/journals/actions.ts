"use server";
import {
  deleteShortcut,
  deleteTemplate,
  listTemplates,
  postStoredDraft,
  reverseJournal,
  saveShortcut,
  saveTemplate,
} from "@/server/ledger";
import { approveDocument, returnDocument, withdrawDocument } from "@/server/approvals";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const postStoredAction = async (id: number) =>
  answer(await postStoredDraft(await actionCaller(), { id }));
export const reverseJournalAction = async (input: unknown) =>
  answer(await reverseJournal(await actionCaller(), input));
export const saveShortcutAction = async (input: unknown) =>
  answer(await saveShortcut(await actionCaller(), input));
export const deleteShortcutAction = async (id: number) =>
  answer(await deleteShortcut(await actionCaller(), { id }));
export const saveTemplateAction = async (input: unknown) =>
  answer(await saveTemplate(await actionCaller(), input));
export const deleteTemplateAction = async (id: number) =>
  answer(await deleteTemplate(await actionCaller(), { id }));
export const listTemplatesAction = async (company: string) =>
  answer(await listTemplates(await actionCaller(), { company }));
export const approveAction = async (id: number) =>
  answer(await approveDocument(await actionCaller(), { id }));
export const returnAction = async (id: number, reason: string) =>
  answer(await returnDocument(await actionCaller(), { id, reason }));
export const withdrawAction = async (id: number) =>
  answer(await withdrawDocument(await actionCaller(), { id }));
