"use server";
import { makePayment, netPartner, sendAdvices } from "@/server/payables";
import { answer } from "@/app/lib/answer";
import { actionCaller, onceCaller } from "@/app/lib/session";
import {
  cancelCheque,
  decidePaymentRequest,
  makePaymentFile,
  printCheques,
  recallPayment,
  rejectPayment,
  reversePayment,
  voidCheque,
} from "@/server/banks";

const UNDOING = { reversed: reversePayment, rejected: rejectPayment, recalled: recallPayment };

export const printChequesAction = async (run: number, first: number | null, missing: string) =>
  answer(await printCheques(await actionCaller(), { run, first, missing }));
export const voidChequeAction = async (input: {
  id: number;
  reason: string;
  then: string;
  next?: number;
}) => answer(await voidCheque(await actionCaller(), input));
export const cancelChequeAction = async (payment: number, reason: string, keep: boolean) =>
  answer(await cancelCheque(await actionCaller(), { payment, reason, keep: keep ? "keep" : "" }));
export const makePaymentFileAction = async (run: number) =>
  answer(await makePaymentFile(await actionCaller(), { run }));
export const sendAdvicesAction = async (of: { run?: number; payment?: number }) =>
  answer(await sendAdvices(await actionCaller(), of));
export const undoPaymentAction = async (
  how: keyof typeof UNDOING,
  input: { id: number; reason: string; date: string | null },
) => answer(await UNDOING[how](await actionCaller(), input));
export const decidePaymentRequestAction = async (id: number, keep: boolean) =>
  answer(await decidePaymentRequest(await actionCaller(), { id, keep }));
export const makePaymentAction = async (form: string, input: unknown) =>
  answer(await makePayment(await onceCaller(form, input), input));
export const netPartnerAction = async (input: {
  company: string;
  partner: string;
  currency: string;
  date: string;
}) => answer(await netPartner(await actionCaller(), input));
