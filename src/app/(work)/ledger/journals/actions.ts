"use server";
import { deleteDraft, lookups, postDraft, postStoredDraft, reverseJournal, saveDraft } from "@/server/ledger";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveDraftAction = async (input: unknown) => answer(await saveDraft(await actionCaller(), input));
export const postDraftAction = async (input: unknown) => answer(await postDraft(await actionCaller(), input));
export const postStoredAction = async (id: number) => answer(await postStoredDraft(await actionCaller(), { id }));
export const deleteDraftAction = async (id: number) => answer(await deleteDraft(await actionCaller(), { id }));
export const reverseJournalAction = async (input: unknown) => answer(await reverseJournal(await actionCaller(), input));
export const lookupsAction = async (company: string, period: string) => answer(await lookups(await actionCaller(), { company, period }));
