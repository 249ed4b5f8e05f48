"use server";
import { savePreference } from "@/server/access";
import { actionCaller } from "./session";

/** Keeps what a person chose for themselves, such as the columns of a table. */
export async function keepPreference(key: string, value: string): Promise<void> {
  await savePreference(await actionCaller(), { key, value });
}
