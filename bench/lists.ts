import { sql } from "drizzle-orm";
import { openDatabase } from "../src/server/db";
import { listJournals } from "../src/server/ledger";
import { prepare } from "./ledger";
import { compare, type Bar } from "./measure";

const DOCUMENTS = 200_000;
const ROWS = 50;

/** Pages of a list of 200,000 documents, held against an indexed look-up of as many rows. */
export async function measureLists(say: (line: string) => void): Promise<Bar[]> {
  const database = await openDatabase({});
  const { db } = database;
  const caller = await prepare(database);
  await db.execute(
    sql`insert into document (kind, type, number, company_id, date, amount, currency, title, search,
        created_by, status)
      select 'journal', 'general', 'LIST-' || g, 1, date '2024-01-01' + (g % 1000)::int, g * 7 % 9999999,
        'EUR', 'Document ' || g, 'list-' || g, 1, 'posted' from generate_series(1, ${DOCUMENTS}) g`,
  );
  await db.execute(sql`analyze document`);
  const asked = { company: "ONE", limit: ROWS };
  const list = async (more: object) => {
    const page = await listJournals(caller, { ...asked, ...more });
    if (!page.ok) throw new Error(JSON.stringify(page.problems));
    return page.value;
  };
  const lookUp = () =>
    db.execute(
      sql`select * from document where company_id = 1 and kind = 'journal'
        and date = '2025-03-03' order by id limit ${ROWS}`,
    );
  const first = await list({});
  // The place in the middle of the list, as a page that ended there would give it.
  const middle = Buffer.from(JSON.stringify(["false", "2025-05-15", "100000"])).toString(
    "base64url",
  );
  const bars: Bar[] = [];
  for (const [work, after] of [
    ["the next page of 50 of 200,000 documents", first.next],
    ["a page in their middle", middle],
  ] as const) {
    const t = await compare(() => list({ after }), lookUp, 60);
    bars.push({
      work,
      against: "an indexed look-up of 50 rows",
      kind: "atMost",
      bar: 5,
      measured: t.work / t.against,
      workMs: t.work,
      againstMs: t.against,
    });
    say(`  ${work}: ${t.work.toFixed(2)} ms, against ${t.against.toFixed(2)} ms`);
  }
  const whole = await compare(
    () => list({}),
    () =>
      db.execute(
        sql`select currency, count(*), sum(amount) from document
          where company_id = 1 and kind = 'journal' group by currency`,
      ),
    9,
  );
  bars.push({
    work: "their first page, with count and sums of all",
    against: "GROUP BY over their register rows",
    kind: "atMost",
    bar: 5,
    measured: whole.work / whole.against,
    workMs: whole.work,
    againstMs: whole.against,
  });
  say(`  first page: ${whole.work.toFixed(2)} ms, against ${whole.against.toFixed(2)} ms`);
  await database.close();
  return bars;
}
