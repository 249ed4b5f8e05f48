"use server";
import {
  cancelSale,
  correctableSales,
  listPrepayments,
  postStoredSale,
  sendSale,
} from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const cancelSaleAction = async (id: number, reason: string) =>
  answer(await cancelSale(await actionCaller(), { id, reason }));
export const sendSaleAction = async (id: number) =>
  answer(await sendSale(await actionCaller(), { id }));
export const postStoredSaleAction = async (id: number) =>
  answer(await postStoredSale(await actionCaller(), { id }));
/** What a credit note to a customer could correct. */
export const correctableSalesAction = async (company: string, customer: string) =>
  answer(await correctableSales(await actionCaller(), { company, customer }));
/** What a customer was asked for ahead, with what is left of it to be set off. */
export const prepaymentsAction = async (company: string, customer: string) =>
  answer(await listPrepayments(await actionCaller(), { company, customer }));
