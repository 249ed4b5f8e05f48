import { sql } from "drizzle-orm";
import { minor } from "../src/core/shared";
import { runAs } from "../src/server/access";
import { openDatabase, rows } from "../src/server/db";
import { postDrafts } from "../src/server/ledger";
import { collectionsDesk } from "../src/server/receivables";
import { must } from "../tests/must";
import { prepare } from "./ledger";
import { compare, type Bar } from "./measure";

const CUSTOMERS = 20_000;
const ITEMS = 200_000;
const ROUNDS = 3;

/** Ranking all customers of a company by score, held against reading their open items. */
export async function measureDesk(say: (line: string) => void): Promise<Bar[]> {
  const database = await openDatabase({});
  const { db } = database;
  const caller = await prepare(database);
  await db.execute(
    sql`insert into partner (code, name, customer, country, grade, credit_limit)
      select 'C' || g, 'Customer ' || g, true, 'IE', (array['A','B','C','D'])[1 + g % 4], g * 1000
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
  say(`desk: ${CUSTOMERS} customers, ${ITEMS} items`);
  const bare = () =>
    rows(
      db,
      sql`select id, partner, reference, due_date as due, currency, left_amount as "left",
        left_functional as "functional" from open_item
        where area = 'receivables' and left_amount <> 0`,
    );
  const rank = async () => must(await collectionsDesk(caller, { company: "ONE" }));
  const t = await compare(rank, bare, ROUNDS);
  await database.close();
  return [
    {
      work: `ranking ${CUSTOMERS.toLocaleString("en")} customers`,
      against: `reading their ${ITEMS.toLocaleString("en")} items`,
      kind: "atMost",
      bar: 5,
      measured: t.work / t.against,
      workMs: t.work,
      againstMs: t.against,
    },
  ];
}
