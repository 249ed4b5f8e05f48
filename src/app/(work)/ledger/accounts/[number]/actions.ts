"use server";
import { chart } from "@/server/ledger";
import { actionCaller } from "@/app/lib/session";

export async function accountList(): Promise<{ number: string; name: string }[]> {
  const result = await chart(await actionCaller());
  return result.ok ? result.value.accounts.map(({ number, name }) => ({ number, name })) : [];
}
