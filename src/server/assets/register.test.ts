import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import type { DraftLine } from "@/core/ledger";
import { minor } from "@/core/shared";
import { world } from "../../../tests/useWorld";
import { CRANES, FIVE_YEARS } from "../../../tests/thingsOfAssets";
import { callerOf, codes, journal, must, runAs } from "../../../tests/world";
import { rows } from "../db";
import { postDrafts } from "../ledger";
import { postRun, proposeRun } from "../runs";
import { verify } from "../verify";
import {
  changeEstimate,
  getAsset,
  listAssets,
  listIntake,
  moveAsset,
  saveAssetClass,
  takeOverAssets,
} from "./index";

const w = world();
const clerk = () => callerOf(w.database, "assets");
const line = (account: string, side: "debit" | "credit", amount: bigint): DraftLine => ({
  account,
  dimensions: account === "8030" ? { costCentre: "HARB" } : {},
  description: "",
  side,
  amount: minor(amount),
});
const TABLE = [
  {
    Number: "CR-1",
    Description: "Large crane",
    Class: "crane",
    InService: "1 Sep 2021",
    Life: "10 years",
    Cost: "100,000.00",
    Accumulated: "50,000.00",
    "Accumulated.TAX": "55,000.00",
    costCentre: "HARB",
  },
  {
    Number: "CR-2",
    Description: "Its motor",
    Class: "CRANE",
    InService: "2021-09-01",
    Life: "120",
    Main: "CR-1",
    Cost: "20000",
    Accumulated: "10000",
    costCentre: "VESS",
  },
];
const take = async (more: object[] = TABLE, how: object = { take: true }) =>
  takeOverAssets(await clerk(), { company: "ALP", date: "2026-08-31", rows: more, ...how });
const asset = async (key: string, on = "2026-09-30") =>
  must(await getAsset(await clerk(), { key, on }));
const charge = async (period: string) => {
  const run = must(
    await proposeRun(await clerk(), { kind: "depreciation", params: { company: "ALP", period } }),
  );
  must(await postRun(await clerk(), { key: String(run.id) }));
};
const faultless = async () =>
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);

beforeAll(async () => {
  must(await saveAssetClass(await clerk(), CRANES));
  must(
    await runAs(await callerOf(w.database, "root"), (context) =>
      postDrafts(context, [
        journal({
          type: "opening",
          date: "2026-08-31",
          lines: [
            line("1075", "debit", 12_000_000n),
            line("1076", "credit", 6_000_000n),
            line("3210", "credit", 6_000_000n),
          ],
        }),
        journal({
          type: "asset",
          book: "TAX",
          date: "2026-08-31",
          lines: [line("8030", "debit", 500_000n), line("1076", "credit", 500_000n)],
        }),
      ]),
    ),
  );
});

test("a table says by row and column what is wrong, takes no more than the accounts hold, and nothing while it is only looked at", async () => {
  const faults = async (more: object, at = 1) => {
    const table = TABLE.map((r, i) => (i === at ? { ...r, ...more } : r));
    const result = await take(table);
    return result.ok ? [] : result.problems.map((p) => ("what" in p ? p.what : p.code));
  };
  expect(await faults({ Class: "BOAT" })).toEqual(["Row 3: class: There is no class BOAT"]);
  expect(await faults({ InService: "31 Feb 2021" })).toEqual([
    "Row 3: inservice: “31 Feb 2021” is not a date that exists",
  ]);
  expect(await faults({ InService: "2026-09-01" })).toHaveLength(1);
  expect(await faults({ Accumulated: "20,000.01" })).toEqual([
    "Row 3: accumulated: more is charged than it costs",
  ]);
  expect(await faults({ Main: "CR-9" })).toHaveLength(1);
  expect(await faults({ Number: "CR-1" })).toEqual(["Row 3: number: CR-1 is there twice"]);
  expect(await faults({ costCentre: "" })).toEqual([
    "Row 3: costCentre: class CRANE wants it of each asset",
  ]);
  expect((await faults({ Cost: "20,000.01" }))[0]).toMatch(
    /^1075 Machinery and cranes holds 120,000.00 EUR without an asset by 31 Aug 2026; the table has 120,000.01 EUR/,
  );
  expect(must(await take(TABLE, { take: false }))).toMatchObject({ added: 2 });
  expect(must(await listIntake(await clerk(), { company: "ALP" })).lines).toHaveLength(3);
});

test("what is taken over stands in each book, leaves nothing waiting, and is charged on from there", async () => {
  must(await take());
  expect(must(await listIntake(await clerk(), { company: "ALP" })).lines).toEqual([]);
  await faultless();
  const found = must(
    await listAssets(await clerk(), { company: "ALP", on: "2026-08-31", book: "TAX" }),
  );
  expect(found.rows.map((r) => [r.number, r.cost, r.accumulated])).toEqual([
    ["CR-2", 2_000_000n, 1_000_000n],
    ["CR-1", 10_000_000n, 5_500_000n],
  ]);
  expect((await asset("CR-2")).main?.number).toBe("CR-1");
  expect((await asset("CR-1")).parts.map((p) => p.number)).toEqual(["CR-2"]);
  expect(codes(await take())).toContain("INVALID");
});

test("moved within a month its charge is shared by days; another estimate goes forward; neither before what is charged", async () => {
  const { id, version } = await asset("CR-1");
  const move = (from: string, costCentre: string, v = version) =>
    clerk().then((c) => moveAsset(c, { id, version: v, from, dimensions: { costCentre } }));
  expect(codes(await move("2026-09-16", "NOWHERE"))).toEqual(["VALUE_UNKNOWN"]);
  must(await move("2026-09-16", "ADM"));
  expect(codes(await move("2026-09-17", "ADM"))).toEqual(["IN_USE"]);
  await charge("2026-09");
  // 50,000.00 over 60 months is 833.33: half of September each.
  const shared = await rows<{ centre: string; amount: bigint }>(
    w.database.db,
    sql`select v.code as centre, sum(l.amount)::bigint as amount from journal_line l
        join account a on a.id = l.account_id and a.number = '8030'
        join coding k on k.id = l.coding_id join dimension_value v on v.id = any(k.value_ids)
      where l.date = '2026-09-30' and l.book_id = 0 group by 1 order by 1`,
  );
  expect(shared.map((s) => [s.centre, s.amount])).toEqual([
    ["ADM", 41_666n],
    ["HARB", 41_667n],
    ["VESS", 16_667n],
  ]);
  expect(codes(await move("2026-09-20", "VESS", version + 1))).toEqual(["INVALID"]);
  const estimate = async (from: string, more: object = {}) =>
    changeEstimate(await clerk(), {
      id,
      version: version + 1,
      from,
      rule: { ...FIVE_YEARS, life: "15 years" },
      reason: "A new foundation",
      ...more,
    });
  expect(codes(await estimate("2026-09-01"))).toEqual(["INVALID"]);
  expect(codes(await estimate("2026-10-01", { reason: "" }))).toEqual(["REASON_REQUIRED"]);
  must(await estimate("2026-10-01"));
  const [ofAll] = (await asset("CR-1")).books;
  // 49,166.67 are left over 119 of 180 months.
  expect(ofAll!.plan[0]).toMatchObject({ month: "2026-10", charge: 41_317n });
  await faultless();
});
