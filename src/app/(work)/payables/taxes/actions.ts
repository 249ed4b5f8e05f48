"use server";
import { declareTaxes, withdrawDeclaration } from "@/server/taxes";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const declareTaxesAction = async (input: {
  company: string;
  from: string;
  to: string;
  reference: string;
}) => answer(await declareTaxes(await actionCaller(), input));

export const withdrawDeclarationAction = async (id: number, reason: string) =>
  answer(await withdrawDeclaration(await actionCaller(), { id, reason }));
