"use server";
import {
  changeRun,
  discardRun,
  getRunItem,
  listRunDrafts,
  postRun,
  proposeRun,
  reverseRun,
  saveSchedule,
} from "@/server/runs";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const proposeRunAction = async (kind: string, params: unknown) =>
  answer(await proposeRun(await actionCaller(), { kind, params }));
export const postRunAction = async (key: string) =>
  answer(await postRun(await actionCaller(), { key }));
export const discardRunAction = async (key: string) =>
  answer(await discardRun(await actionCaller(), { key }));
export const reverseRunAction = async (key: string, reason: string) =>
  answer(await reverseRun(await actionCaller(), { key, reason }));
export const changeRunAction = async (key: string, overrides: unknown) =>
  answer(await changeRun(await actionCaller(), { key, ...(overrides as object) }));
export const saveScheduleAction = async (input: unknown) =>
  answer(await saveSchedule(await actionCaller(), input));
export const readRunItem = async (run: string, no: number) =>
  answer(await getRunItem(await actionCaller(), { run, no }));
export const readRunDrafts = async (run: string, from: number) =>
  answer(await listRunDrafts(await actionCaller(), { run, from }));
