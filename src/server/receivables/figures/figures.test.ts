import { beforeAll, expect, test } from "vitest";
import { saleInput } from "@/core/receivables";
import { callerOf, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { ageing, allocateItems, openItems } from "../../openItems";
import { savePartner } from "../../partners";
import { saveTaxCode } from "../../taxes";
import { createSale } from "../index";
import { collectingFigures } from "./index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const root = () => callerOf(w.database, "root");

async function paper(
  customer: string,
  date: string,
  net: string,
  kind: "invoice" | "credit note" = "invoice",
): Promise<string> {
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, net, taxCode: "NO" };
  const { number } = must(
    await createSale(await clerk(), {
      ...saleInput({ company: "ALP", kind, customer, date, lines: [line] }),
      post: true,
    }),
  );
  return number!;
}
const figures = async (on: string) =>
  must(await collectingFigures(await clerk(), { company: "ALP", on }));

beforeAll(async () => {
  must(
    await saveTaxCode(await root(), {
      code: "NO",
      name: "None",
      direction: "sale",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  for (const [code, collector] of [
    ["FEN", "receivables"],
    ["SAB", ""],
  ] as const)
    must(
      await savePartner(await root(), {
        code,
        name: `${code} & Co`,
        customer: true,
        country: "DE",
        collector,
      }),
    );
});

test("days to pay by both ways, lateness, collectors and the largest: all of them of the control account's balance", async () => {
  const july = await paper("FEN", "2026-07-10", "900.00");
  await paper("FEN", "2026-08-10", "600.00");
  await paper("SAB", "2026-09-10", "300.00");
  await paper("SAB", "2026-10-01", "100.00");
  // Settled 40 days late by a credit note, as money would do it.
  const note = await paper("FEN", "2026-09-18", "900.00", "credit note");
  const on = { company: "ALP", area: "receivables", on: "2026-10-15" } as const;
  const items = must(await openItems(await clerk(), { ...on, partner: "FEN" }));
  const item = (of: string) => items.find((i) => i.reference === of)!.id;
  must(
    await allocateItems(await clerk(), {
      date: "2026-09-18",
      pairs: [{ first: item(july), second: item(note) }],
    }),
  );
  const found = await figures("2026-10-15");
  expect(found.open).toBe(100_000n);
  const last = found.months.slice(-4).map((m) => [m.month, m.sales, m.open, m.daysLate]);
  expect(last).toEqual([
    ["2026-07", 90_000n, 90_000n, null],
    ["2026-08", 60_000n, 150_000n, null],
    ["2026-09", -60_000n, 90_000n, 40],
    ["2026-10", 10_000n, 100_000n, null],
  ]);
  const [, august, , october] = found.months.slice(-4);
  // August: 1,500.00 open of 1,500.00 sold in June to August, 92 days; counted back 31 and 31 of July.
  expect([august!.dso, august!.countBack]).toEqual([920n, 620n]);
  // October: 1,000.00 open; 15 days take 100.00, September's 30 nothing, August's 31 take 600.00, and
  // of July a third of its 31.
  expect(october!.countBack).toBe(150n + 300n + 310n + 103n);
  expect(found.collectors).toEqual([
    {
      collector: expect.stringMatching(/./) as string,
      customers: 1,
      open: 60_000n,
      overdue: 60_000n,
      collected: 90_000n,
      promises: 0,
      kept: 0,
    },
    {
      collector: "",
      customers: 1,
      open: 40_000n,
      overdue: 30_000n,
      collected: 0n,
      promises: 0,
      kept: 0,
    },
  ]);
  expect(found.largest.map((l) => [l.code, l.open])).toEqual([
    ["FEN", 60_000n],
    ["SAB", 40_000n],
  ]);
  for (const day of ["2026-07-31", "2026-09-17", "2026-09-18", "2026-10-15"])
    expect((await figures(day)).open).toBe(
      must(await ageing(await clerk(), { ...on, on: day })).control,
    );
});

test("at a year's edge, and in a company that sells nothing, the months are there", async () => {
  const months = (await figures("2026-01-01")).months;
  expect([months.length, months[0]!.month, months.at(-1)!.month]).toEqual([
    12,
    "2025-02",
    "2026-01",
  ]);
  expect(months.at(-1)).toMatchObject({ ends: "2026-01-01", sales: 0n, open: 0n, dso: null });
  const other = must(await collectingFigures(await root(), { company: "BET", on: "2026-10-15" }));
  expect(other).toMatchObject({ open: 0n, collectors: [], largest: [] });
  expect(other.months.at(-1)).toMatchObject({ dso: null, countBack: 0n, daysLate: null });
});
