"use server";
import {
  changeEstimate,
  fillIntake,
  mergeIntake,
  moveAsset,
  saveAsset,
  saveAssetClass,
  setIntakeAside,
  splitIntake,
} from "@/server/assets";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";

export const saveAssetClassAction = async (input: unknown) =>
  answer(await saveAssetClass(await actionCaller(), input));
export const fillIntakeAction = async (input: unknown) =>
  answer(await fillIntake(await actionCaller(), input));
export const mergeIntakeAction = async (input: unknown) =>
  answer(await mergeIntake(await actionCaller(), input));
export const setIntakeAsideAction = async (input: unknown) =>
  answer(await setIntakeAside(await actionCaller(), input));
export const splitIntakeAction = async (input: unknown) =>
  answer(await splitIntake(await actionCaller(), input));
export const saveAssetAction = async (input: unknown) =>
  answer(await saveAsset(await actionCaller(), input));
export const moveAssetAction = async (input: unknown) =>
  answer(await moveAsset(await actionCaller(), input));
export const changeEstimateAction = async (input: unknown) =>
  answer(await changeEstimate(await actionCaller(), input));
