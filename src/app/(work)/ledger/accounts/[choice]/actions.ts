"use server";
import { chart } from "@/server/ledger";
import { actionCaller } from "@/app/lib/session";

/** Accounts, and the headings under which they stand. */
export async function accountList(): Promise<{ number: string; name: string }[]> {
  const result = await chart(await actionCaller());
  if (!result.ok) return [];
  const { accounts, headings } = result.value;
  return [
    ...accounts.map(({ number, name }) => ({ number, name })),
    ...headings
      .filter((h) => !accounts.some((a) => a.number === h.code))
      .map((h) => ({ number: h.code, name: `${h.name}, heading` })),
  ];
}
