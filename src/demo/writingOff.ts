import { sql } from "drizzle-orm";
import { type CalendarDate, type Result } from "@/core/shared";
import { rows, type Database } from "@/server/db";
import { saveReceivablesSettings, writeOffItems } from "@/server/receivables";
import type { At } from "./buying";
import { onDay } from "./onDay";

type Must = <T>(result: Result<T>, what: string) => T;

/** The day on which what was never paid was given up. */
const DAY: CalendarDate = "2026-10-06";
/** What had fallen due by then, and nobody hoped for any more. */
const OLDEST: CalendarDate = "2026-06-30";

/** Gives up what a few small customers never paid, with the tax corrected. */
export async function writeOffOld(database: Database, worksAt: At, must: Must): Promise<void> {
  const controller = await worksAt("controller", "2026-10-05", 9);
  must(
    await saveReceivablesSettings(controller, {
      creditRule: "warn",
      feeAccount: "4590",
      interestAccount: "8510",
      chargeTax: "",
      lossDimensions: { costCentre: "A-SALES" },
      deferralAccount: "2425",
      prepaymentAccount: "2427",
    }),
    "accounts of charges",
  );
  const items = await rows<{ id: number }>(
    database.db,
    sql`select i.id::int as id from open_item i join company c on c.id = i.company_id
      where c.code = 'HSF' and i.area = 'receivables' and i.left_amount > 0
        and i.due_date <= ${OLDEST} order by i.id`,
  );
  await onDay(database, DAY, async () => {
    const clerk = await worksAt("receivables", DAY, 11);
    // One by one: all of them together would be beyond what a clerk may let go at once.
    for (const item of items)
      must(
        await writeOffItems(clerk, {
          company: "HSF",
          date: DAY,
          reason: "Gone out of business, no dividend expected",
          correctTax: true,
          items: [item],
        }),
        "write-offs",
      );
  });
}
