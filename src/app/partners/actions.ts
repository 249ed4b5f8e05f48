"use server";
import {
  allocateItems,
  holdItem,
  itemHistory,
  restateItem,
  undoAllocation,
} from "@/server/openItems";
import {
  addPartnerBank,
  decidePartnerBank,
  partnersLike,
  saveContacts,
  savePartner,
  saveTerms,
} from "@/server/partners";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const savePartnerAction = async (input: unknown) =>
  answer(await savePartner(await actionCaller(), input));
export const partnersLikeAction = async (input: unknown) =>
  answer(await partnersLike(await actionCaller(), input));
export const addPartnerBankAction = async (input: unknown) =>
  answer(await addPartnerBank(await actionCaller(), input));
export const decidePartnerBankAction = async (id: number, to: string) =>
  answer(await decidePartnerBank(await actionCaller(), { id, to }));
export const saveContactsAction = async (input: unknown) =>
  answer(await saveContacts(await actionCaller(), input));
export const saveTermsAction = async (input: unknown) =>
  answer(await saveTerms(await actionCaller(), input));
export const allocateItemsAction = async (input: unknown) =>
  answer(await allocateItems(await actionCaller(), input));
export const undoAllocationAction = async (id: number) =>
  answer(await undoAllocation(await actionCaller(), { id }));
export const holdItemAction = async (id: number, reason: string) =>
  answer(await holdItem(await actionCaller(), { id, reason }));
export const itemHistoryAction = async (id: number) =>
  answer(await itemHistory(await actionCaller(), { id }));
export const restateItemAction = async (input: unknown) =>
  answer(await restateItem(await actionCaller(), input));
