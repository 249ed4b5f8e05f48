import { runPages } from "@/core/runs";
import { sql } from "drizzle-orm";
import { afterEach, beforeAll, beforeEach, describe, expect, test } from "vitest";
import { callerOf, codes, must } from "../../../tests/world";
import { makeThings, replaceKind, syntheticRun, type Moments } from "../../../tests/syntheticRun";
import { world } from "../../../tests/useWorld";
import type { Caller } from "../access";
import { rows, type Db } from "../db";
import { forgetWorkers, listJobs, stopJob, workOnAll, workOnNext } from "../jobs";
import { verify } from "../verify";
import {
  changeRun,
  discardRun,
  getRun,
  getRunItem,
  listRunGroups,
  listRunItems,
  postRun,
  proposeRun,
  reverseRun,
} from "./index";

const w = world();
const COUNT = 5000;
let root: Caller;
let params: object;
/** What happens at certain moments of the run under test. */
let moments: Moments;
let restore: () => void;

beforeAll(async () => {
  root = await callerOf(w.database, "root");
  await makeThings(w.database.db, COUNT);
  const [year] = await rows<{ id: number }>(
    w.database.db,
    sql`select y.id from fiscal_year y join company c on c.id = y.company_id
      where c.code = 'ALP' and y.name = '2026'`,
  );
  params = {
    yearId: year!.id,
    account: "6310",
    counter: "2410",
    dimensions: { costCentre: "HARB" },
  };
});
beforeEach(() => {
  moments = {};
  const kind = syntheticRun(1000, {
    part: async (after, tx) => moments.part?.(after, tx),
    write: async (from, tx) => moments.write?.(from, tx),
  });
  restore = replaceKind("accrual", kind);
});
afterEach(() => restore());

const propose = async () => must(await proposeRun(root, { kind: "accrual", params }));
const view = async (id: number) => must(await getRun(root, { key: String(id) }));
const items = async (id: number, more: object = {}) =>
  must(await listRunItems(root, { run: String(id), ...more }));
const one = async <T>(query: ReturnType<typeof sql>): Promise<T> =>
  (await rows<T>(w.database.db, query))[0]!;
const entries = (id: number) =>
  one<{ count: number; sum: bigint | null }>(
    sql`select count(*)::int as count, sum(amount)::bigint as sum from thing_entry
      where run_id = ${id}`,
  );
const job = async (run: number) =>
  must(await listJobs(root)).find((j) => j.page === `${runPages("accrual")}/${run}`)!;
/** A preview of all things, computed by its job. */
const preview = async () => {
  const run = await propose();
  await workOnAll(w.database);
  return run;
};
const dropped = async (id: number) => {
  must(await discardRun(root, { key: String(id) }));
};

describe("a run of thousands of items", () => {
  test("is computed by a job, looked at page by page, changed, posted by a job, and reversed", async () => {
    const run = await propose();
    expect(run.status).toBe("computing");
    expect(codes(await postRun(root, { key: run.number }))).toEqual(["RUN_STATE"]);
    await workOnAll(w.database);
    const made = await view(run.id);
    const total = (await one<{ sum: bigint }>(sql`select sum(amount)::bigint as sum from thing`))
      .sum;
    expect([made.status, made.items.in, made.drafts, made.groups, made.head.figures]).toEqual([
      "preview",
      COUNT,
      1,
      10,
      [{ label: "Together", amount: total }],
    ]);
    const page = await items(run.id, { limit: 3, sort: "-amount" });
    expect([page.rows.length, page.count, page.totals]).toEqual([
      3,
      COUNT,
      [{ currency: "EUR", sums: { amount: total } }],
    ]);
    const groups = must(await listRunGroups(root, { run: run.number }));
    expect(groups.rows.map((g) => g.items)).toEqual(Array(10).fill(COUNT / 10));
    const opened = must(await getRunItem(root, { run: run.number, no: 4711 }));
    expect([opened.key, opened.explanation.steps]).toEqual([
      "thing|4711",
      [{ label: "Counted", text: "once" }],
    ]);

    // Only the part with the item in hand is computed anew.
    const computed: string[] = [];
    moments.part = async (after) => void computed.push(after);
    must(
      await changeRun(root, {
        key: run.number,
        dropped: ["thing|4711"],
        amounts: { "amount|4712": "7000" },
      }),
    );
    expect(computed).toEqual(["4000"]);
    const changed = await view(run.id);
    const left = await items(run.id, { status: "dropped" });
    expect(left.rows.map((i) => i.key)).toEqual(["thing|4711"]);
    const amount = changed.head.figures[0]!.amount;
    expect(amount).toBe(total - (100n + BigInt(4711 % 7)) - (100n + BigInt(4712 % 7)) + 7000n);

    expect(must(await postRun(root, { key: run.number })).status).toBe("posting");
    expect(codes(await changeRun(root, { key: run.number }))).toEqual(["RUN_STATE"]);
    await workOnAll(w.database);
    const posted = await view(run.id);
    expect([posted.status, posted.journals.map((j) => j.total), posted.job]).toEqual([
      "posted",
      [amount],
      null,
    ]);
    expect(await entries(run.id)).toEqual({ count: COUNT - 1, sum: amount });
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
    must(await reverseRun(root, { key: run.number, reason: "all of it anew" }));
  });

  test("what another run has taken stands against it: its job says so, and nothing of it stays", async () => {
    const first = await preview();
    const second = await propose();
    await workOnAll(w.database);
    expect(await view(second.id)).toMatchObject({
      status: "discarded",
      items: { in: 0 },
      job: { state: "failed", note: expect.stringContaining(`${first.number} has taken this`) },
    });
    await dropped(first.id);
  });

  test("data that have moved are refused, by their part or as a whole; nothing of it stays", async () => {
    const run = await preview();
    const refused = async () => {
      must(await postRun(root, { key: run.number }));
      await workOnAll(w.database);
      expect(await view(run.id)).toMatchObject({
        status: "preview",
        journals: [],
        job: { state: "failed", note: expect.stringContaining("have changed since this preview") },
      });
      expect((await entries(run.id)).count).toBe(0);
    };
    await w.database.db.execute(sql`update thing set amount = amount + 1 where id = 4500`);
    await refused();
    // Asking once more makes nothing of it right.
    await refused();
    await w.database.db.execute(sql`update thing set amount = amount - 1 where id = 4500`);
    // Of a part that is written already.
    moments.write = async (from, tx) =>
      from === 4001 && tx.execute(sql`update thing set amount = amount + 1 where id = 1`);
    await refused();
    moments = {};
    await w.database.db.execute(sql`update thing set amount = amount - 1 where id = 1`);
    must(await postRun(root, { key: run.number }));
    await workOnAll(w.database);
    expect(await view(run.id)).toMatchObject({ status: "posted", job: null });
    must(await reverseRun(root, { key: run.number, reason: "for the next test" }));
  });

  test("stopped while it is computed or posted, it leaves nothing", async () => {
    const stop = (tx: Db) =>
      tx.execute(sql`update job set stop_asked = true where state = 'running'`);
    moments.part = async (after, tx) => after === "2000" && stop(tx);
    const run = await preview();
    expect(await view(run.id)).toMatchObject({ status: "discarded", items: { in: 0 } });
    expect(await job(run.id)).toMatchObject({ state: "stopped", done: 3000 });
    moments = {};
    const other = await preview();
    const waiting = await propose();
    must(await stopJob(root, { id: (await job(waiting.id)).id }));
    moments.write = async (from, tx) => from === 3001 && stop(tx);
    must(await postRun(root, { key: other.number }));
    await workOnAll(w.database);
    expect(await view(other.id)).toMatchObject({ status: "preview", journals: [] });
    expect((await entries(other.id)).count).toBe(0);
    expect((await view(waiting.id)).status).toBe("discarded");
    expect(codes(await stopJob(root, { id: (await job(other.id)).id }))).toEqual(["INVALID"]);
    await dropped(other.id);
  });

  test.each([
    [
      "was silent for long",
      () =>
        w.database.db.execute(
          sql`update job set heard_at = now() - interval '2 minutes' where state = 'running'`,
        ),
    ],
    ["is no more, and the books are opened anew", () => forgetWorkers(w.database)],
  ])(
    "whose worker %s goes on behind its last part; each part is computed once",
    async (_, found) => {
      const computed: string[] = [];
      // The thread is no more after the third part: another name stands in its place.
      moments.part = async (after, tx) => {
        computed.push(after);
        if (computed.length === 3)
          await tx.execute(sql`update job set worker = 'gone' where state = 'running'`);
      };
      const run = await preview();
      expect((await job(run.id)).state).toBe("running");
      // Nobody else takes it, nor one that it excludes, before it was silent for long.
      const behind = await propose();
      expect(await workOnNext(w.database, "other")).toBe(false);
      await found();
      await workOnAll(w.database);
      expect(computed.slice(0, 6)).toEqual(["", "1000", "2000", "3000", "4000", "5000"]);
      expect(await view(run.id)).toMatchObject({ status: "preview", items: { in: COUNT } });
      expect((await view(behind.id)).status).toBe("discarded");
      await dropped(run.id);
    },
  );

  test("whose machine stops between its last step and the note of it has been done, and stays", async () => {
    const run = await preview();
    const begunAgain = async () => {
      await w.database.db.execute(
        sql`update job set state = 'running', worker = 'gone', heard_at = now() - interval '2 minutes'
          where id = (select max(id) from job)`,
      );
      await workOnAll(w.database);
    };
    await begunAgain();
    expect(await view(run.id)).toMatchObject({
      status: "preview",
      items: { in: COUNT },
      job: null,
    });
    must(await postRun(root, { key: run.number }));
    await workOnAll(w.database);
    await begunAgain();
    const posted = await view(run.id);
    expect([posted.status, posted.journals.length, posted.job]).toEqual(["posted", 1, null]);
    expect((await entries(run.id)).count).toBe(COUNT);
    must(await reverseRun(root, { key: run.number, reason: "for the next test" }));
    await begunAgain();
    expect((await view(run.id)).status).toBe("reversed");
  });

  test("one that brings its thread down each time is given up", async () => {
    moments.part = (_after, tx) =>
      tx.execute(sql`update job set worker = 'gone', heard_at = now() - interval '2 minutes'
        where state = 'running'`);
    const run = await preview();
    expect(await job(run.id)).toMatchObject({
      state: "failed",
      note: expect.stringContaining("begun 3 times"),
    });
    expect((await view(run.id)).status).toBe("discarded");
  });

  test("posts only for whoever still may when it ends", async () => {
    const run = await preview();
    must(await postRun(await callerOf(w.database, "payables"), { key: run.number }));
    await w.database.db.execute(sql`update person set active = false where login = 'payables'`);
    await workOnAll(w.database);
    await w.database.db.execute(sql`update person set active = true where login = 'payables'`);
    expect(await view(run.id)).toMatchObject({
      status: "preview",
      job: { state: "failed", note: expect.stringContaining("no access any more") },
    });
    await dropped(run.id);
  });
});
