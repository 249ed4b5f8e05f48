import type { CalendarDate, Result } from "@/core/shared";
import type { Caller } from "@/server/access";
import { makePaymentFile } from "@/server/banks";
import { postRun, proposeRun } from "@/server/runs";

type As = (login: string, day: CalendarDate, hour?: number) => Promise<Caller>;

/** What treasury moved to the deposit account on the day before; the bank has not booked it yet. */
export async function addTransfer(
  as: As,
  must: <T>(result: Result<T>, what: string) => T,
): Promise<void> {
  const day = "2026-11-04";
  const treasury = await as("treasury", day, 14);
  const run = must(
    await proposeRun(treasury, {
      kind: "transfer",
      params: {
        company: "HSF",
        bank: "HSF-MAIN",
        date: day,
        transfers: [{ to: "HSF-SAVE", amount: "85,000.00", text: "Reserve for dry-docking" }],
      },
    }),
    "transfer",
  );
  must(await postRun(treasury, { key: String(run.id) }), "transfer");
  must(await makePaymentFile(treasury, { run: run.id }), "file of the transfer");
}
