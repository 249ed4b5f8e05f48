import type { CalendarDate, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { bookCash, listBankAccounts } from "@/server/banks";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;

/** What the harbour office paid in cash, from what was fetched at the bank. */
const SPENT: readonly [CalendarDate, string, string, string][] = [
  ["2026-11-02", "38.40", "7250", "Stamps and a parcel to Kestle"],
  ["2026-11-03", "12.50", "7050", "Parking at the shipyard"],
  ["2026-11-03", "64.90", "7240", "Printer paper and ink"],
  ["2026-11-04", "27.80", "7050", "Taxi, crew change at night"],
  ["2026-11-05", "45.00", "7240", "Flowers and coffee for the office"],
];

/** The petty cash of the ferries' harbour office: filled once, and spent from. */
export async function addPettyCash(
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const clerk = await as("treasury", "2026-11-02", 9);
  const accounts = must(await listBankAccounts(clerk, {}), "accounts");
  const entry = { company: "HSF", bank: "HSF-CASH" } as const;
  must(
    await bookCash(clerk, {
      ...entry,
      date: "2026-11-02",
      side: "in",
      amount: "400.00",
      text: "Fetched at the bank",
      is: "bank",
      other: accounts.find((a) => a.code === "HSF-MAIN")!.id,
    }),
    "petty cash",
  );
  for (const [date, amount, account, text] of SPENT)
    must(
      await bookCash(await as("treasury", date, 16), {
        ...entry,
        date,
        side: "out",
        amount,
        text,
        is: "coding",
        account,
        dimensions: { costCentre: "A-FIN" },
      }),
      text,
    );
}
