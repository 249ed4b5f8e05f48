import { saleInput } from "@/core/receivables";
import type { CalendarDate, Result } from "@/core/shared";
import type { Database } from "@/server/db";
import { createSale } from "@/server/receivables";
import { postRun, proposeRun } from "@/server/runs";
import type { At } from "./buying";
import { onDay } from "./onDay";
import { partnerCode } from "./partners";
import { CUSTOMERS } from "./structure";

type Must = <T>(result: Result<T>, what: string) => T;

/** Who has bought season tickets ahead: name, net, from and to, what for. */
const SEASONS = [
  ["Yarrow Hill School", "7,416.00", "1 Oct 2026", "30 Jun 2027", "24 pupils, school year"],
  ["Longsound Community Bus", "3,060.00", "1 Oct 2026", "30 Sep 2027", "Three buses"],
  ["Birch Sound Rowing Club", "1,190.00", "15 Oct 2026", "14 Apr 2027", "Winter, two trailers"],
] as const;

/** The day on which they were invoiced, and that on which the first month of them was earned. */
const INVOICED: CalendarDate = "2026-10-01";
const EARNED: CalendarDate = "2026-10-31";
/** The day on which berths of the next season were booked, and paid ahead in part. */
const BOOKED: CalendarDate = "2026-10-20";

/**
 * A prepayment of the next season, and season tickets that are paid ahead and earned by the month:
 * October's part is released.
 */
export async function sellSeasons(database: Database, worksAt: At, must: Must): Promise<void> {
  await onDay(database, INVOICED, async () => {
    const clerk = await worksAt("receivables", INVOICED, 11);
    for (const [name, net, earnedFrom, earnedTo, what] of SEASONS)
      must(
        await createSale(clerk, {
          ...saleInput({
            company: "HSF",
            customer: partnerCode(name),
            date: INVOICED,
            description: `Season tickets, ${what.toLowerCase()}`,
            lines: [
              {
                account: "4110",
                dimensions: { costCentre: "R-INN" },
                description: `Season tickets: ${what}`,
                net,
                taxCode: "V13",
                earnedFrom,
                earnedTo,
              },
            ],
          }),
          post: true,
        }),
        `season tickets of ${name}`,
      );
  });
  await onDay(database, BOOKED, async () => {
    const clerk = await worksAt("receivables", BOOKED, 10);
    const what = "Prepayment: berths of the season 2027";
    must(
      await createSale(clerk, {
        ...saleInput({
          company: "HSF",
          customer: partnerCode(CUSTOMERS.cruise),
          date: BOOKED,
          description: "Berths of the season 2027",
          prepayment: true,
          lines: [{ account: "4130", description: what, net: "8,000.00", taxCode: "V23" }],
        }),
        post: true,
      }),
      what,
    );
  });
  await onDay(database, EARNED, async () => {
    const clerk = await worksAt("receivables", EARNED, 17);
    const run = must(
      await proposeRun(clerk, {
        kind: "deferred-revenue",
        params: { company: "HSF", upTo: EARNED },
      }),
      "season tickets earned",
    );
    must(await postRun(clerk, { key: String(run.id) }), "season tickets earned");
  });
}
