"use server";
import { saveCustomerGroup, tryPolicy } from "@/server/receivables";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const tryPolicyAction = async (input: unknown) =>
  answer(await tryPolicy(await actionCaller(), input));
export const saveCustomerGroupAction = async (input: unknown) =>
  answer(await saveCustomerGroup(await actionCaller(), input));
