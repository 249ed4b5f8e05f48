"use server";
import { deleteShortcut, deleteTemplate, listTemplates, postStoredDraft, reverseJournal, saveShortcut, saveTemplate } from "@/server/ledger";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const postStoredAction = async (id: number) => answer(await postStoredDraft(await actionCaller(), { id }));
export const reverseJournalAction = async (input: unknown) => answer(await reverseJournal(await actionCaller(), input));
export const saveShortcutAction = async (input: unknown) => answer(await saveShortcut(await actionCaller(), input));
export const deleteShortcutAction = async (id: number) => answer(await deleteShortcut(await actionCaller(), { id }));
export const saveTemplateAction = async (input: unknown) => answer(await saveTemplate(await actionCaller(), input));
export const deleteTemplateAction = async (id: number) => answer(await deleteTemplate(await actionCaller(), { id }));
export const listTemplatesAction = async (company: string) => answer(await listTemplates(await actionCaller(), { company }));
