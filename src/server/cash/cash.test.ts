import { beforeAll, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { BANK_OF_ALPHA, callerOf, codes, journal, must, runAs } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { saveBankAccount } from "../banks";
import { createJournal, postDrafts } from "../ledger";
import { savePartner } from "../partners";
import { makePayment } from "../payables";
import { loadRates } from "../rates";
import { cashFlows, cashPosition, saveMonthlyPayment } from "./index";

const w = world();
const root = () => callerOf(w.database, "root");
const treasury = () => callerOf(w.database, "treasury");
/** The world's day: a Thursday. */
const TODAY = "2026-10-15";

interface Line {
  account: string;
  debit?: string;
  credit?: string;
  partner?: string;
  dueDate?: string;
}
const posted = async (date: string, lines: Line[], company = "ALP") =>
  must(
    await createJournal(await root(), {
      company,
      type: "general",
      date,
      description: "Berth",
      reference: `R-${date}-${lines[0]!.debit ?? lines[0]!.credit}`,
      post: true,
      lines: lines.map((l) => ({
        debit: "",
        credit: "",
        dimensions: l.account === "4010" ? { costCentre: "HARB" } : {},
        ...l,
      })),
    }),
  );
const sold = (amount: string, dueDate: string, date = "2026-10-01", company = "ALP") =>
  posted(
    date,
    [
      { account: "1310", partner: "OST", dueDate, debit: amount },
      { account: "4010", credit: amount },
    ],
    company,
  );

beforeAll(async () => {
  must(
    await savePartner(await root(), {
      code: "OST",
      name: "Ostry Council",
      customer: true,
      supplier: true,
      country: "IE",
    }),
  );
  must(await saveBankAccount(await root(), BANK_OF_ALPHA));
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "BETA",
      company: "BET",
      currency: "GBP",
    }),
  );
  const paidIn = async (amount: bigint, date: string, company = "ALP") => {
    const line = (account: string, side: "debit" | "credit") => ({
      account,
      dimensions: {},
      description: "",
      side,
      amount: minor(amount),
    });
    const lines = [line("1110", "debit"), line("2410", "credit")];
    const draft = journal({ type: "bank", company, date, lines });
    must(await runAs(await root(), (c) => postDrafts(c, [draft])));
  };
  await paidIn(100_000n, "2026-10-05");
  await paidIn(7_700n, "2026-10-30");
  await paidIn(50_000n, "2026-10-05", "BET");
  await sold("300.00", "2026-10-20");
  await sold("40.00", "2026-10-20", "2026-10-01", "BET");
  await posted("2026-10-02", [
    { account: "2110", partner: "OST", dueDate: "2026-10-24", credit: "1,150.00" },
    { account: "4010", debit: "1,150.00" },
  ]);
  must(
    await makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-14",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "100.00" }],
    }),
  );
});

const position = async (more: object = {}) =>
  must(await cashPosition(await treasury(), { company: "ALP", by: "day", ...more }));
const at = (p: Awaited<ReturnType<typeof position>>, day: string) =>
  p.steps.find((s) => s.to === day)!;

test("what is held is the ledger's, as of today; what is expected falls on bank days, and a shortage is told", async () => {
  const p = await position();
  expect([p.today, p.total]).toEqual([TODAY, 100_000n]);
  // The payment of yesterday has left; no statement has it yet.
  expect(at(p, "2026-10-16")).toMatchObject({ out: -10_000n, closing: 90_000n });
  expect(at(p, "2026-10-20")).toMatchObject({ in: 30_000n, closing: 120_000n });
  // Due on a Saturday.
  expect(at(p, "2026-10-24").out).toBe(0n);
  expect(at(p, "2026-10-26")).toMatchObject({ out: -115_000n, closing: 5_000n, low: -25_000n });
  expect(p.shortage).toEqual({ expected: null, possible: "2026-10-26" });
});

test("what a day is made of adds up to it, and says why", async () => {
  const of = must(
    await cashFlows(await treasury(), { company: "ALP", by: "day", to: "2026-10-20" }),
  );
  expect(of).toMatchObject({ count: 1, sum: 30_000n });
  expect(of.flows[0]).toMatchObject({
    source: "receivables",
    partnerName: "Ostry Council",
    late: "2026-11-03",
  });
  expect(
    codes(await cashFlows(await treasury(), { company: "ALP", by: "day", to: "2027-01-01" })),
  ).toEqual(["NOT_FOUND"]);
});

test("of all companies in one currency; what has no rate is in no sum, and is named", async () => {
  const without = await position({ all: true });
  expect([without.total, without.missing]).toEqual([100_000n, ["GBP"]]);
  expect(without.accounts.find((a) => a.code === "BETA")).toMatchObject({
    balance: 50_000n,
    inOne: null,
  });
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "GBP", quote: "EUR", date: TODAY, rate: "1.2" }],
    }),
  );
  const p = await position({ all: true });
  expect([p.total, p.missing]).toEqual([160_000n, []]);
  expect(at(p, "2026-10-20").in).toBe(34_800n);
});

test("what stands on the accounts of taxes is known to come, by the end of the next month", async () => {
  const taxed = journal({
    type: "purchase",
    date: "2026-10-06",
    lines: (
      [
        ["1410", "debit"],
        ["2410", "credit"],
      ] as const
    ).map(([account, side]) => ({
      account,
      dimensions: {},
      description: "",
      side,
      amount: minor(2_300n),
    })),
  });
  must(await runAs(await root(), (c) => postDrafts(c, [taxed])));
  const { flows } = must(
    await cashFlows(await treasury(), { company: "ALP", by: "week", to: "2026-12-06" }),
  );
  expect(flows.filter((f) => f.source === "taxes")).toMatchObject([
    { account: "1410", amount: 2_300n, usual: "2026-11-30", early: "2026-10-16" },
  ]);
});

test("pay is expected on its day as it stands on its account, and in the months after as much as last month", async () => {
  const say = async (account: string, day: number, more: object = {}) =>
    codes(await saveMonthlyPayment(await root(), { account, day, ...more }));
  expect(codes(await saveMonthlyPayment(await treasury(), { account: "2310", day: 28 }))).toEqual([
    "FORBIDDEN",
  ]);
  expect([await say("6310", 28), await say("2140", 28), await say("2310", 32)]).toEqual([
    ["INVALID"],
    ["INVALID"],
    ["INVALID"],
  ]);
  expect(await say("2310", 31)).toEqual([]);
  const pay = (date: string, amount: string) =>
    posted(date, [
      { account: "1320", debit: amount },
      { account: "2310", credit: amount },
    ]);
  await pay("2026-09-30", "700.00");
  await pay("2026-10-10", "50.00");
  const expected = async (to: string) =>
    must(await cashFlows(await treasury(), { company: "ALP", by: "week", to })).flows.flatMap(
      (f) => (f.source === "monthly" ? [[f.usual, f.amount]] : []),
    );
  // The last of October is a Saturday: it moves on the next bank day.
  expect(await expected("2026-11-08")).toEqual([["2026-11-02", -75_000n]]);
  expect(await expected("2026-12-06")).toEqual([["2026-11-30", -70_000n]]);
  expect(await say("2310", 31, { ended: true })).toEqual([]);
  expect(await expected("2026-12-06")).toEqual([]);
});
