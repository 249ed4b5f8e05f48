"use server";
import {
  decideLine,
  itemsForLine,
  matchLinesAnew,
  partnersForLine,
  remarkOnLine,
  undoLines,
} from "@/server/banks";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const decideLineAction = async (input: unknown) =>
  answer(await decideLine(await actionCaller(), input));
export const undoLinesAction = async (ids: readonly number[]) =>
  answer(await undoLines(await actionCaller(), { ids }));
export const matchAnewAction = async (company: string) =>
  answer(await matchLinesAnew(await actionCaller(), { company }));
export const itemsForLineAction = async (id: number, text: string) =>
  answer(await itemsForLine(await actionCaller(), { id, text }));
export const partnersForLineAction = async (text: string) =>
  answer(await partnersForLine(await actionCaller(), { text }));
export const remarkOnLineAction = async (id: number, text: string) =>
  answer(await remarkOnLine(await actionCaller(), { id, text }));
