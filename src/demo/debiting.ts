import { nextBankDay } from "@/core/banks";
import { addDays, type CalendarDate, type Result } from "@/core/shared";
import type { Database } from "@/server/db";
import { workOnAll } from "@/server/jobs";
import { makeDebitFile, saveMandate, sendLetters } from "@/server/receivables";
import { postRun, proposeRun } from "@/server/runs";
import type { At } from "./buying";
import { iban, partnerCode } from "./partners";

type Must = <T>(result: Result<T>, what: string) => T;

/** Who has signed a mandate: name, and scheme. */
const SIGNED = [
  ["Birch Sound Rowing Club", "core"],
  ["Coldharbour Diving", "b2b"],
  ["Dunmore Hauliers", "b2b"],
  ["Holm Sands Golf Club", "core"],
  ["Kittiwake Sailing School", "core"],
  ["Jarrow Quay Traders", "b2b"],
] as const;

/** Days before which these customers are told. */
const NOTICE = 5;

/**
 * What small customers have signed, and a run of direct debits that is at the bank: its day comes
 * next week.
 */
export async function debitCustomers(
  database: Database,
  worksAt: At,
  must: Must,
  today: CalendarDate,
): Promise<void> {
  const signed = addDays(today, -400);
  const clerk = await worksAt("receivables", addDays(today, -390), 11);
  for (const [n, [name, scheme]] of SIGNED.entries())
    must(
      await saveMandate(clerk, {
        company: "HSF",
        partner: partnerCode(name),
        reference: `HSF-M${String(31 + n).padStart(4, "0")}`,
        signed: addDays(signed, n),
        scheme,
        kind: "recurrent",
        iban: iban("IE", "ZZZZ999997", 70_000_001 + 100 * n, 8),
        notice: NOTICE,
      }),
      `mandate of ${name}`,
    );
  const at = await worksAt("receivables", today, 9);
  const date = nextBankDay(addDays(today, NOTICE), "EUR");
  const run = must(
    await proposeRun(at, {
      kind: "direct-debit",
      params: { company: "HSF", bank: "HSF-MAIN", date, upTo: addDays(date, 10) },
    }),
    "direct debits",
  );
  must(await postRun(at, { key: String(run.id) }), "direct debits posted");
  must(await sendLetters(at, { run: String(run.id) }), "customers told");
  must(await makeDebitFile(at, { run: run.id }), "file of direct debits");
  await workOnAll(database, at.now);
}
