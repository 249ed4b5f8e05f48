import { sql } from "drizzle-orm";
import { openDatabase, rows, type Database } from "../src/server/db";
import { saveAssetClass } from "../src/server/assets";
import { workOnAll } from "../src/server/jobs";
import { getRun, postRun, proposeRun, reverseRun } from "../src/server/runs";
import { FIVE_YEARS } from "../tests/thingsOfAssets";
import { must } from "../tests/must";
import { prepare } from "./ledger";
import { median, type Bar } from "./measure";

const ASSETS = 50_000;
const ROUNDS = 2;

/**
 * A month's depreciation of 50,000 assets in three books, each of which has a rule of its own: the
 * preview held against the bare reading of what it rests on, posting against the bare writing of
 * what it leaves.
 */
export async function measureAssets(say: (line: string) => void): Promise<Bar[]> {
  const database = await openDatabase({});
  try {
    const { db } = database;
    const caller = await prepare(database);
    must(
      await saveAssetClass(caller, {
        code: "MANY",
        name: "Many",
        cost: "1075",
        accumulated: "1076",
        charge: "8030",
        common: FIVE_YEARS,
        own: {
          LOCAL: { ...FIVE_YEARS, life: "8 years" },
          TAX: { ...FIVE_YEARS, method: "declining balance", rate: "30", switches: true },
        },
      }),
    );
    await manyAssets(database);
    say(`assets: ${ASSETS} in three books`);
    const times = { preview: [], read: [], post: [], write: [] } as Record<string, number[]>;
    const timed = async (name: keyof typeof times, work: () => Promise<unknown>) => {
      const start = process.hrtime.bigint();
      await work();
      times[name]!.push(Number(process.hrtime.bigint() - start) / 1e6);
    };
    const read = async () => {
      await rows(
        db,
        sql`select a.document_id::int as id, d.number, d.title, a.in_service, a.rules, c.accounts,
            p.dimensions
          from asset a join document d on d.id = a.document_id
            join asset_class c on c.id = a.class_id join asset_place p on p.asset_id = d.id`,
      );
      await rows(db, sql`select asset_id, book_id, part, date, amount from asset_entry`);
    };
    await db.execute(sql`create table written (like asset_entry including all)`);
    // The first round warms both up.
    for (let round = 0; round <= ROUNDS; round++) {
      let run = 0;
      await timed("preview", async () => {
        const params = { company: "ONE", period: "2026-03" };
        run = must(await proposeRun(caller, { kind: "depreciation", params })).id;
        await workOnAll(database);
      });
      await timed("read", read);
      const key = String(run);
      if (must(await getRun(caller, { key })).items.in !== 3 * ASSETS)
        throw new Error("not every asset is charged in each book");
      await timed("post", async () => {
        must(await postRun(caller, { key }));
        await workOnAll(database);
      });
      if (must(await getRun(caller, { key })).status !== "posted") throw new Error("not posted");
      await timed("write", () =>
        db.execute(sql`insert into written overriding system value
          select * from asset_entry where run_id = ${run}`),
      );
      await db.execute(sql`truncate written`);
      if (round < ROUNDS) must(await reverseRun(caller, { key, reason: "for the next round" }));
    }
    const bar = (work: string, against: string, most: number, a: string, b: string): Bar => {
      const [workMs, againstMs] = [a, b].map((name) => median(times[name]!.slice(1)));
      return {
        work,
        against,
        kind: "atMost",
        bar: most,
        measured: workMs! / againstMs!,
        workMs: workMs!,
        againstMs: againstMs!,
      };
    };
    return [
      bar("depreciation of 50,000 assets, preview", "reading its rows", 5, "preview", "read"),
      bar("posting it", "writing its entries", 4, "post", "write"),
    ];
  } finally {
    await database.close();
  }
}

/** Assets with a cost, spread over five years, all of one class. */
async function manyAssets({ db }: Database): Promise<void> {
  await db.execute(sql`
    insert into document (kind, number, company_id, date, amount, currency, status, title,
      created_by)
    select 'asset', 'M' || g, c.id, '2024-01-01', 600000 + g, 'EUR', 'active', 'Asset ' || g, 1
    from generate_series(1, ${ASSETS}) g join company c on c.code = 'ONE'`);
  await db.execute(sql`
    insert into asset (document_id, company_id, class_id, in_service, rules, updated_by, updated_at)
    select d.id, d.company_id, k.id,
      date '2024-01-01' + (d.id % 700)::int, k.rules, 1, now()
    from document d cross join asset_class k where d.kind = 'asset'`);
  await db.execute(sql`
    insert into asset_place (asset_id, "from", dimensions, made_by, made_at)
    select document_id, in_service, jsonb_build_object('costCentre', 'V' || 1 + document_id % 200),
      1, now() from asset`);
  await db.execute(sql`
    insert into asset_entry (company_id, book_id, account_id, asset_id, part, movement, date,
      counts_from, amount, made_by, made_at)
    select a.company_id, 0, x.id, a.document_id, 'cost', 'taken over', a.in_service, a.in_service,
      d.amount, 1, now()
    from asset a join document d on d.id = a.document_id join account x on x.number = '1075'`);
  await db.execute(sql`analyze`);
}
