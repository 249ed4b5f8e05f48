"use server";
import { postStoredDraft, reverseJournal } from "@/server/ledger";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const postStoredAction = async (id: number) => answer(await postStoredDraft(await actionCaller(), { id }));
export const reverseJournalAction = async (input: unknown) => answer(await reverseJournal(await actionCaller(), input));
