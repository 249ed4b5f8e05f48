import { sql, type SQL } from "drizzle-orm";
import { minor } from "../src/core/shared";
import { runAs, type Caller } from "../src/server/access";
import { openDatabase, rows, type Database } from "../src/server/db";
import { workOnAll } from "../src/server/jobs";
import { postDrafts } from "../src/server/ledger";
import { ageing } from "../src/server/openItems";
import { collectionsDesk } from "../src/server/receivables";
import { discardRun, proposeRun } from "../src/server/runs";
import { must } from "../tests/must";
import { prepare } from "./ledger";
import { compare, median, type Bar } from "./measure";

const CUSTOMERS = 20_000;
const ITEMS = 200_000;
const ROUNDS = 3;

/**
 * The work on what customers owe, on 20,000 of them with 200,000 items: ranking them, their ageing,
 * and the preview of reminders to a quarter of them; each held against the bare reading of its rows.
 */
export async function measureDesk(say: (line: string) => void): Promise<Bar[]> {
  const database = await openDatabase({});
  try {
    const { db } = database;
    const caller = await prepare(database);
    await manyItems(database, caller);
    say(`desk: ${CUSTOMERS} customers, ${ITEMS} items`);
    const read = (which: SQL) =>
      rows(
        db,
        sql`select id, partner, reference, due_date as due, currency, left_amount as "left",
          left_functional as "functional" from open_item i
          where area = 'receivables' and left_amount <> 0 and ${which}`,
      );
    const bar = (work: string, against: string, most: number, t: Times): Bar => ({
      work,
      against,
      kind: "atMost",
      bar: most,
      measured: t.work / t.against,
      workMs: t.work,
      againstMs: t.against,
    });
    const ranking = await compare(
      async () => must(await collectionsDesk(caller, { company: "ONE" })),
      () => read(sql`true`),
      ROUNDS,
    );
    const on = { company: "ONE", area: "receivables", on: "2026-12-31" } as const;
    const aged = await compare(
      async () => must(await ageing(caller, on)),
      () =>
        rows(
          db,
          sql`select partner, sum(left_functional)::bigint as sum from open_item
            where area = 'receivables' group by partner`,
        ),
      ROUNDS,
    );
    const date = "2026-12-05";
    const overdue = () =>
      read(sql`due_date < ${date} and exists (select 1 from partner p where p.code = i.partner
        and p.customer_group = 'QUARTER')`);
    const times = { work: [] as number[], against: [] as number[] };
    const timed = async (name: keyof typeof times, job: () => Promise<unknown>) => {
      const start = process.hrtime.bigint();
      await job();
      times[name].push(Number(process.hrtime.bigint() - start) / 1e6);
    };
    // The first round warms both up.
    for (let round = 0; round <= ROUNDS; round++) {
      const params = { company: "ONE", date, group: "QUARTER" };
      let run = 0;
      await timed("work", async () => {
        run = must(await proposeRun(caller, { kind: "letters", params })).id;
        await workOnAll(database);
      });
      await timed("against", overdue);
      must(await discardRun(caller, { key: String(run) }));
    }
    const reminding = {
      work: median(times.work.slice(1)),
      against: median(times.against.slice(1)),
    };
    const items = ITEMS.toLocaleString("en");
    return [
      bar(
        `ranking ${CUSTOMERS.toLocaleString("en")} customers`,
        `reading their ${items} items`,
        5,
        ranking,
      ),
      bar(`ageing of ${items} items`, "their bare sum by customer", 3, aged),
      bar(
        `reminders to ${(CUSTOMERS / 4).toLocaleString("en")} customers, preview`,
        "reading their overdue items",
        5,
        reminding,
      ),
    ];
  } finally {
    await database.close();
  }
}

type Times = Pick<Awaited<ReturnType<typeof compare>>, "work" | "against">;

/** Customers with items and promises; every fourth is of a group. */
async function manyItems(database: Database, caller: Caller): Promise<void> {
  const { db } = database;
  await db.execute(sql`insert into customer_group (code, name) values ('QUARTER', 'Every fourth')`);
  await db.execute(
    sql`insert into partner (code, name, customer, country, grade, credit_limit, customer_group)
      select 'C' || g, 'Customer ' || g, true, 'IE', (array['A','B','C','D'])[1 + g % 4], g * 1000,
        case when g % 4 = 0 then 'QUARTER' else '' end
      from generate_series(1, ${CUSTOMERS}) g`,
  );
  const line = { dimensions: {}, description: "", amount: minor(BigInt(ITEMS) * 100n) };
  const posted = must(
    await runAs(caller, (context) =>
      postDrafts(context, [
        {
          company: "ONE",
          type: "opening",
          book: null,
          date: "2026-05-05",
          description: "Invoices",
          lines: [
            { ...line, account: "1310", side: "debit", partner: "C1", dueDate: "2026-06-04" },
            { ...line, account: "4130", side: "credit" },
          ],
        },
      ]),
    ),
  );
  // Items are written as they lie; what is measured is reading and ranking, not posting.
  await db.execute(sql`insert into open_item (company_id, area, account_id, partner, kind,
    document_id, journal_id, line_no, seq, reference, date, due_date, currency, amount, functional,
    left_amount, left_functional)
    select i.company_id, i.area, i.account_id, 'C' || (1 + g % ${CUSTOMERS}), 'invoice',
      i.document_id, i.journal_id, i.line_no + g, i.seq, 'N' || g, i.date,
      date '2026-01-01' + (g % 400), i.currency, 100 + g % 900, 100 + g % 900, 100 + g % 900,
      100 + g % 900
    from open_item i cross join generate_series(2, ${ITEMS}) g
    where i.journal_id = ${posted[0]!.id}`);
  await db.execute(sql`insert into promise (company_id, partner, made_on, due, made_by, made_at, after)
    select company_id, partner, '2026-10-01', date '2026-10-20' + (id % 60)::int, 1, now(), 0
    from open_item where id % 50 = 0`);
  await db.execute(sql`insert into promise_item (promise_id, item_id, currency, amount)
    select p.id, i.id, i.currency, 50 from promise p join lateral (select id, currency
      from open_item where partner = p.partner order by id limit 1) i on true`);
  await db.execute(sql`analyze`);
}
