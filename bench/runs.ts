import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { openDatabase, rows } from "../src/server/db";
import { workOnAll } from "../src/server/jobs";
import {
  discardRun,
  getRun,
  listRunItems,
  postRun,
  proposeRun,
  reverseRun,
} from "../src/server/runs";
import { must } from "../tests/must";
import { makeThings, replaceKind, syntheticRun } from "../tests/syntheticRun";
import { prepare } from "./ledger";
import { compare, median, type Bar } from "./measure";

const ITEMS = 150_000;
const AT_ONCE = 5000;
const ROUNDS = 3;

/**
 * A run of 150,000 items, computed and posted part by part as its jobs do: its preview held against
 * the bare reading of the rows, a page of it against a plain page, posting against the bare writing
 * of what it leaves.
 */
export async function measureRuns(say: (line: string) => void): Promise<Bar[]> {
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-runs-"));
  const database = await openDatabase({ folder });
  const { db } = database;
  const restore = replaceKind("accrual", syntheticRun(AT_ONCE));
  try {
    const caller = await prepare(database);
    await makeThings(db, ITEMS);
    const [year] = await rows<{ id: number }>(
      db,
      sql`select y.id from fiscal_year y join company c on c.id = y.company_id
        where c.code = 'ONE' and y.name = '2026'`,
    );
    const params = { company: "ONE", yearId: year!.id, account: "B2", counter: "B1" };
    const read = () => db.execute(sql`select id, amount from thing order by id`);
    await db.execute(
      sql`create table thing_written (run_id bigint, no int, amount bigint, primary key (run_id, no))`,
    );
    let written = 0;
    const write = async () => {
      written++;
      for (let at = 0; at < ITEMS; at += AT_ONCE)
        await db.execute(
          sql`insert into thing_written select ${written}, id, amount from thing
            where id > ${at} and id <= ${at + AT_ONCE}`,
        );
    };
    const times = { preview: [], read: [], post: [], write: [] } as Record<string, number[]>;
    const timed = async (name: keyof typeof times, work: () => Promise<unknown>) => {
      const start = process.hrtime.bigint();
      await work();
      times[name]!.push(Number(process.hrtime.bigint() - start) / 1e6);
    };
    let page: { work: number; against: number } | undefined;
    for (let round = 0; round <= ROUNDS; round++) {
      let run = 0;
      await timed("preview", async () => {
        run = must(await proposeRun(caller, { kind: "accrual", params })).id;
        await workOnAll(database);
      });
      const key = String(run);
      const { items } = must(await getRun(caller, { key }));
      if (items.in !== ITEMS) throw new Error("not every thing became an item");
      await timed("read", read);
      if (round === ROUNDS) {
        await db.execute(sql`analyze run_item`);
        const first = must(await listRunItems(caller, { run: key, limit: 50 }));
        page = await compare(
          async () => must(await listRunItems(caller, { run: key, limit: 50, after: first.next })),
          () => db.execute(sql`select * from thing where id > 5000 order by id limit 50`),
          40,
        );
        must(await discardRun(caller, { key }));
        break;
      }
      await timed("post", async () => {
        must(await postRun(caller, { key }));
        await workOnAll(database);
      });
      if (must(await getRun(caller, { key })).status !== "posted") throw new Error("not posted");
      await timed("write", write);
      must(await reverseRun(caller, { key, reason: "for the next round" }));
    }
    const bar = (
      work: string,
      against: string,
      most: number,
      workMs: number,
      againstMs: number,
    ) => {
      say(`  ${work}: ${workMs.toFixed(1)} ms, against ${againstMs.toFixed(1)} ms`);
      const measured = workMs / againstMs;
      return { work, against, kind: "atMost", bar: most, measured, workMs, againstMs } as Bar;
    };
    // The first round warms both up.
    const middle = (name: keyof typeof times) => median(times[name]!.slice(1));
    return [
      bar(
        "preview of a run of 150,000 items",
        "reading its rows",
        5,
        middle("preview"),
        middle("read"),
      ),
      bar("a page of its items", "a plain page of 50 rows", 10, page!.work, page!.against),
      bar("posting it", "writing its rows", 4, middle("post"), middle("write")),
    ];
  } finally {
    restore();
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
