"use server";
import {
  cancelDeposit,
  customersItems,
  decideSlipRequest,
  makeDeposit,
  returnCheque,
} from "@/server/banks";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const makeDepositAction = async (input: unknown) =>
  answer(await makeDeposit(await actionCaller(), input));
export const returnChequeAction = async (input: unknown) =>
  answer(await returnCheque(await actionCaller(), input));
export const cancelDepositAction = async (id: number, reason: string) =>
  answer(await cancelDeposit(await actionCaller(), { id, reason }));
export const decideSlipRequestAction = async (id: number, keep: boolean) =>
  answer(await decideSlipRequest(await actionCaller(), { id, keep }));
export const customersItemsAction = async (input: {
  company: string;
  partner: string;
  currency: string;
}) => answer(await customersItems(await actionCaller(), input));
