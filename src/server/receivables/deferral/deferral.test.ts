import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { saleInput } from "@/core/receivables";
import { world } from "../../../../tests/useWorld";
import { callerOf, codes, must } from "../../../../tests/world";
import { closeBoard } from "../../closing";
import { rows } from "../../db";
import { savePair } from "../../organisation";
import { loadRates } from "../../rates";
import { listRunItems, postRun, proposeRun, reverseRun } from "../../runs";
import { saveTaxCode } from "../../taxes";
import { verify } from "../../verify";
import { savePartner } from "../../partners";
import { cancelSale, createSale, listDeferrals, saveReceivablesSettings } from "../index";

const w = world();
const clerk = () => callerOf(w.database, "receivables");
const sell = async (line: object, more: object = {}, who = clerk) =>
  createSale(await who(), {
    ...saleInput({
      company: "ALP",
      customer: "FARE",
      date: "2026-08-20",
      lines: [
        {
          account: "4130",
          dimensions: { costCentre: "HARB" },
          net: "120.00",
          taxCode: "NO",
          ...line,
        },
      ],
      ...more,
    }),
    post: true,
  });
const propose = async (upTo: string) =>
  proposeRun(await clerk(), { kind: "deferred-revenue", params: { company: "ALP", upTo } });
const release = async (upTo: string) => {
  const run = must(await propose(upTo));
  must(await postRun(await clerk(), { key: String(run.id) }));
  return run;
};
const amounts = async (run: { id: number }) =>
  must(
    await listRunItems(await clerk(), { company: "ALP", run: String(run.id), limit: 50 }),
  ).rows.map((i) => i.amount);
const left = async (on: string) => {
  const { rows: all, account } = must(await listDeferrals(await clerk(), { company: "ALP", on }));
  const sum = all.reduce((t, r) => t + r.amount - r.released, 0n);
  // The list is what the ledger has on the account.
  expect(account?.balance).toBe(sum);
  return sum;
};
const booked = (account: string) =>
  rows<{ date: string; amount: bigint }>(
    w.database.db,
    sql`select j.date, sum(case l.side when 'C' then l.amount else -l.amount end)::bigint as amount
      from journal_line l join journal j on j.id = l.journal_id
        join account a on a.id = l.account_id and a.number = ${account}
        join company c on c.id = j.company_id and c.code = 'ALP'
      group by j.date having sum(case l.side when 'C' then l.amount else -l.amount end) <> 0
      order by j.date`,
  );
/** What the close of a month says of it. */
const atClose = async (period: string) => {
  const input = { company: "ALP", book: "IFRS", period };
  const { checks } = must(await closeBoard(await callerOf(w.database, "root"), input));
  return checks.find((c) => c.code === "deferred")!;
};
const YEAR = { earnedFrom: "1 Aug 2026", earnedTo: "31 Jul 2027" };
const settings = async (more: object) =>
  saveReceivablesSettings(await callerOf(w.database, "root"), { creditRule: "warn", ...more });

beforeAll(async () => {
  const root = await callerOf(w.database, "root");
  must(
    await saveTaxCode(root, {
      direction: "sale",
      owedAccount: "2210",
      returnLine: "S1",
      code: "NO",
      name: "None",
      kind: "none",
      rates: [{ from: "2020-01-01", percent: "0" }],
    }),
  );
  must(
    await savePartner(root, { code: "FARE", name: "Daily Fares", customer: true, country: "IE" }),
  );
});

test("without an account for it nothing is deferred; the account is a liability", async () => {
  const refused = await sell(YEAR);
  expect(refused.ok ? [] : refused.problems.map((p) => p.field)).toEqual(["earnedFrom"]);
  expect(codes(await settings({ deferralAccount: "1310" }))).toContain("CONTROL_ACCOUNT");
  expect(codes(await settings({ deferralAccount: "4130" }))).toEqual(["INVALID"]);
  must(await settings({ deferralAccount: "2420" }));
});

test("a season ticket is earned a month at a time: caught up, taken back, credited and released to nil", async () => {
  const ticket = must(await sell(YEAR));
  expect(await left("2026-08-31")).toBe(12_000n);
  expect(await booked("4130")).toEqual([]);
  const august = await release("2026-08-31");
  expect(await amounts(august)).toEqual([1_000n]);
  // What is earned already cannot be taken back as if nobody had seen it.
  const cancel = { id: ticket.id, reason: "Entered twice" };
  expect(codes(await cancelSale(await callerOf(w.database, "root"), cancel))).toEqual(["IN_USE"]);
  expect(codes(await propose("2026-08-31"))).toEqual(["NOT_FOUND"]);
  // Two months at once.
  expect(await atClose("2026-08")).toMatchObject({ state: "holds" });
  expect(await atClose("2026-10")).toMatchObject({
    state: "warns",
    finding: "20.00 EUR of deferred revenue is earned and not released.",
  });
  const october = await release("2026-10-31");
  expect(await amounts(october)).toEqual([2_000n]);
  expect(await left("2026-10-31")).toBe(9_000n);
  // As it was on a day before.
  expect(await left("2026-09-30")).toBe(11_000n);
  must(
    await reverseRun(await callerOf(w.database, "root"), {
      key: String(october.id),
      reason: "Too early",
    }),
  );
  expect(await left("2026-10-31")).toBe(11_000n);
  await release("2026-10-31");
  // The credit note takes the rest and what was earned: together nothing is left.
  must(await sell(YEAR, { kind: "credit note", date: "2026-10-10", corrects: ticket.number }));
  expect(await left("2026-10-31")).toBe(-3_000n);
  expect(await amounts(await release("2026-10-31"))).toEqual([-3_000n]);
  expect(await left("2026-10-31")).toBe(0n);
  const revenue = await booked("4130");
  expect(revenue.reduce((t, r) => t + r.amount, 0n)).toBe(0n);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

test("in dollars, by days and beside a line that is earned at once: each cent of the day's rate is released", async () => {
  must(
    await loadRates(await callerOf(w.database, "root"), {
      take: true,
      rows: [{ base: "USD", quote: "EUR", date: "2026-09-01", rate: "0.9137" }],
    }),
  );
  must(await settings({ deferralAccount: "2420", deferralMethod: "days" }));
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, taxCode: "NO" };
  must(
    await sell(
      {},
      {
        date: "2026-09-01",
        currency: "USD",
        lines: [
          { ...line, net: "10.00" },
          { ...line, net: "333.33", earnedFrom: "11 Sep 2026", earnedTo: "25 Oct 2026" },
          { ...line, account: "2420", dimensions: {}, net: "1.00" },
        ],
      },
    ),
  );
  const byDays = async (on: string) =>
    must(await listDeferrals(await clerk(), { company: "ALP", on })).rows.filter(
      (r) => r.method === "days",
    );
  // 333.33 at 0.9137.
  expect((await byDays("2026-09-01")).map((r) => [r.line, r.amount])).toEqual([[2, 30_456n]]);
  // 20 of 45 days.
  expect(await amounts(await release("2026-09-30"))).toEqual([13_536n]);
  expect(await amounts(await release("2026-10-31"))).toEqual([16_920n]);
  expect(await byDays("2026-10-31")).toEqual([]);
});

test("across two fiscal years, behind a line that another company earns: each year has its months", async () => {
  const root = await callerOf(w.database, "root");
  must(await settings({ deferralAccount: "2420" }));
  must(
    await savePair(root, {
      first: "ALP",
      second: "BET",
      firstDueFrom: "1340",
      firstDueTo: "2150",
      secondDueFrom: "1340",
      secondDueTo: "2150",
    }),
  );
  must(
    await loadRates(root, {
      take: true,
      rows: [{ base: "EUR", quote: "GBP", date: "2025-11-03", rate: "0.80" }],
    }),
  );
  const line = { account: "4130", dimensions: { costCentre: "HARB" }, taxCode: "NO" };
  must(
    await sell(
      {},
      {
        date: "2025-11-03",
        lines: [
          { ...line, net: "10.00", company: "BET" },
          { ...line, net: "90.00", earnedFrom: "1 Nov 2025", earnedTo: "31 Jan 2026" },
        ],
      },
      () => Promise.resolve(root),
    ),
  );
  const own = async (upTo: string) => (await amounts(await release(upTo))).filter((a) => a > 0n);
  expect(await own("2025-12-31")).toEqual([6_000n]);
  expect(await own("2026-01-31")).toEqual([3_000n]);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

test("wrong days are said at their cells, a coding that takes nothing at its line", async () => {
  const faults = async (line: object) => {
    const made = await sell(line);
    return made.ok ? [] : made.problems.map((p) => `${p.line} ${p.field}`);
  };
  expect(await faults({ earnedFrom: "1 Aug 2026" })).toEqual(["1 earnedTo"]);
  expect(await faults({ ...YEAR, earnedTo: "31 Jul 2026" })).toEqual(["1 earnedTo"]);
  expect(await faults({ ...YEAR, account: "1310" })).toEqual(["1 account"]);
  expect(await faults({ ...YEAR, dimensions: { costCentre: "NOWHERE" } })).toHaveLength(1);
});
