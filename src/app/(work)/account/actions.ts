"use server";
import { toString as qrCode } from "qrcode";
import { readWriting, writingCode, type Writing } from "@/core/shared";
import {
  confirmSecondFactor,
  endSession,
  removeSecondFactor,
  savePreference,
  startSecondFactor,
} from "@/server/access";
import { answer } from "@/app/lib/answer";
import { actionCaller } from "@/app/lib/session";
import { keepWriting, WRITING_PREFERENCE } from "@/app/lib/writing";

export const endSessionAction = async (id: string) =>
  answer(await endSession(await actionCaller(), { id }));

/** A new secret, with the picture that an authenticator reads. */
export async function startSecondFactorAction() {
  const begun = answer(await startSecondFactor(await actionCaller()));
  if (!begun.ok) return begun;
  const { secret, address } = begun.value;
  const svg = await qrCode(address, { type: "svg", margin: 1 });
  const picture = `data:image/svg+xml;base64,${Buffer.from(svg).toString("base64")}`;
  return { ok: true as const, value: { secret, picture } };
}
export const confirmSecondFactorAction = async (code: string) =>
  answer(await confirmSecondFactor(await actionCaller(), { code }));
export const removeSecondFactorAction = async (code: string) =>
  answer(await removeSecondFactor(await actionCaller(), { code }));

/** Keeps a way of writing with the person, and in this browser. */
export async function keepWritingAction(wanted: Writing) {
  const writing = readWriting(writingCode(wanted));
  const kept = answer(
    await savePreference(await actionCaller(), {
      key: WRITING_PREFERENCE,
      value: writingCode(writing),
    }),
  );
  if (kept.ok) await keepWriting(writing);
  return kept;
}
