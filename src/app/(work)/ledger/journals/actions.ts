"use server";
import { approveJournal, deleteShortcut, deleteTemplate, listTemplates, postStoredDraft, returnJournal, reverseJournal, saveShortcut, saveTemplate, withdrawJournal } from "@/server/ledger";
import { addRemark, papersOf, removeAttachment } from "@/server/documents";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const postStoredAction = async (id: number) => answer(await postStoredDraft(await actionCaller(), { id }));
export const reverseJournalAction = async (input: unknown) => answer(await reverseJournal(await actionCaller(), input));
export const saveShortcutAction = async (input: unknown) => answer(await saveShortcut(await actionCaller(), input));
export const deleteShortcutAction = async (id: number) => answer(await deleteShortcut(await actionCaller(), { id }));
export const saveTemplateAction = async (input: unknown) => answer(await saveTemplate(await actionCaller(), input));
export const deleteTemplateAction = async (id: number) => answer(await deleteTemplate(await actionCaller(), { id }));
export const listTemplatesAction = async (company: string) => answer(await listTemplates(await actionCaller(), { company }));
export const approveAction = async (id: number) => answer(await approveJournal(await actionCaller(), { id }));
export const returnAction = async (id: number, reason: string) => answer(await returnJournal(await actionCaller(), { id, reason }));
export const withdrawAction = async (id: number) => answer(await withdrawJournal(await actionCaller(), { id }));
export const papersAction = async (id: number) => answer(await papersOf(await actionCaller(), { id }));
export const addRemarkAction = async (id: number, text: string) => answer(await addRemark(await actionCaller(), { id, text }));
export const removeAttachmentAction = async (id: number) => answer(await removeAttachment(await actionCaller(), { id }));
