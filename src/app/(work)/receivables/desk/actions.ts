"use server";
import {
  closeDispute,
  makePromise,
  openDispute,
  sayOfCustomer,
  withdrawPromise,
} from "@/server/receivables";
import { saveContacts } from "@/server/partners";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const makePromiseAction = async (input: unknown) =>
  answer(await makePromise(await actionCaller(), input));
export const withdrawPromiseAction = async (id: number) =>
  answer(await withdrawPromise(await actionCaller(), { id }));
export const openDisputeAction = async (input: unknown) =>
  answer(await openDispute(await actionCaller(), input));
export const closeDisputeAction = async (input: unknown) =>
  answer(await closeDispute(await actionCaller(), input));
export const sayOfCustomerAction = async (input: unknown) =>
  answer(await sayOfCustomer(await actionCaller(), input));
export const saveContactsAction = async (input: unknown) =>
  answer(await saveContacts(await actionCaller(), input));
