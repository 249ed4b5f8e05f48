"use server";
import { addRemark, papersOf, removeAttachment } from "@/server/documents";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const papersAction = async (id: number) =>
  answer(await papersOf(await actionCaller(), { id }));
export const addRemarkAction = async (id: number, text: string) =>
  answer(await addRemark(await actionCaller(), { id, text }));
export const removeAttachmentAction = async (id: number) =>
  answer(await removeAttachment(await actionCaller(), { id }));
