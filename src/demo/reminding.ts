import { usualReminders } from "@/core/receivables";
import { addDays, type CalendarDate, type Result } from "@/core/shared";
import type { Database } from "@/server/db";
import { workOnAll } from "@/server/jobs";
import { saveLateRates, saveReminders, sendLetters } from "@/server/receivables";
import { postRun, proposeRun } from "@/server/runs";
import type { At } from "./buying";
import { onDay } from "./onDay";

type Must = <T>(result: Result<T>, what: string) => T;

/** Days before the working date on which reminders went out. */
const RUNS = [24, 10];

/** How customers are reminded, the law's rates, and the reminders of the last weeks. */
export async function remindCustomers(
  database: Database,
  worksAt: At,
  must: Must,
  today: CalendarDate,
): Promise<void> {
  const controller = await worksAt("controller", addDays(today, -60), 10);
  const usual = usualReminders();
  must(
    await saveReminders(controller, { code: "TRADE", procedure: { ...usual, invoiced: true } }),
    "reminders of trade",
  );
  must(
    await saveReminders(controller, {
      code: "BERTH",
      procedure: {
        ...usual,
        minimum: "50",
        levels: usual.levels.map((l) => ({ ...l, fee: "0", interest: false })),
      },
    }),
    "reminders of berth holders",
  );
  must(
    await saveLateRates(controller, {
      rates: [
        { from: "2025-01-01", percent: "11.15" },
        { from: "2025-07-01", percent: "10.15" },
        { from: "2026-01-01", percent: "10.15" },
        { from: "2026-07-01", percent: "10.4" },
      ],
    }),
    "rates of late interest",
  );
  for (const daysAgo of RUNS) {
    const day = addDays(today, -daysAgo);
    await onDay(database, day, async () => {
      const clerk = await worksAt("receivables", day, 15);
      const run = must(
        await proposeRun(clerk, { kind: "letters", params: { company: "HSF", date: day } }),
        "reminders",
      );
      must(await postRun(clerk, { key: String(run.id) }), "reminders");
      must(await sendLetters(clerk, { run: String(run.id) }), "reminders");
      await workOnAll(database, clerk.now);
    });
  }
}
