import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, codes, must, STANDARD_TAX } from "../../../../tests/world";
import { rows } from "../../db";
import { reverseJournal } from "../../ledger";
import { saveShares } from "../../purchasing";
import { loadRates } from "../../rates";
import { reverseRun } from "../../runs";
import { declareTaxes, saveTaxCode, taxSummary } from "../../taxes";
import { bookCash, saveBankAccount, saveLineRule, saveMovementKind } from "../index";

const w = world();
const { treasury, root, lineOf, takeIn, decide, post, faults } = bankDay(w);
const DOLLARS = "DE75512108001245126199";

const TAX_SALE = {
  code: "OUT",
  name: "Output",
  direction: "sale",
  kind: "standard",
  owedAccount: "2210",
  returnLine: "S1",
  rates: [{ from: "2020-01-01", percent: "23" }],
};
const FEES = { account: "7450", dimensions: { costCentre: "HARB" } };
/** What stands in October's return, by line of it: base and tax. */
const october = async () =>
  Object.fromEntries(
    must(
      await taxSummary(await root(), { company: "ALP", from: "2026-10-01", to: "2026-10-31" }),
    ).totals.map((t) => [t.returnLine, [t.base, t.tax]]),
  );
/** What a line is posted as: account, cost centre, and the amount in euros, a debit positive. */
const posted = async (amount: bigint) =>
  (
    await rows<{ account: string; centre: string | null; amount: bigint }>(
      w.database.db,
      sql`select a.number as account, v.code as centre,
          l.amount * case l.side when 'D' then 1 else -1 end as amount
        from statement_line s join journal_line l on l.journal_id = s.journal_id
          join account a on a.id = l.account_id left join coding c on c.id = l.coding_id
          left join dimension_value v on v.id = any(c.value_ids)
        where s.amount = ${amount} order by l.line_no`,
    )
  ).map((l) => [l.account, l.centre ?? "", l.amount] as const);

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "USD",
      account: "1112",
      currency: "USD",
      iban: DOLLARS,
    }),
  );
  must(await saveTaxCode(await root(), STANDARD_TAX));
  must(await saveTaxCode(await root(), TAX_SALE));
  must(
    await saveShares(await root(), {
      code: "HALVES",
      name: "Halves",
      targets: ["HARB", "VESS"].map((costCentre) => ({ dimensions: { costCentre }, weight: "50" })),
    }),
  );
  must(
    await saveShares(await root(), {
      code: "FIXED",
      name: "Fixed",
      way: "fixed amounts",
      targets: [{ weight: "500.00" }, { dimensions: { costCentre: "VESS" } }],
    }),
  );
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "USD", quote: "EUR", date: "2026-10-05", rate: "0.9137" }],
    }),
  );
  await takeIn(
    statement("1", 0n, [
      { amount: -12_300n, text: "card terminal" },
      { amount: 24_601n, text: "vending" },
      { amount: -101n, text: "rent of safe" },
      { amount: -12_301n, text: "terminal" },
    ]),
  );
});

test("a coding says tax and shares; both are posted, stand in the return, and are taken back with the run", async () => {
  await decide((await lineOf(-12_300n)).id, { coding: { ...FEES, tax: "s" } }).then(must);
  await decide((await lineOf(24_601n)).id, {
    coding: { account: "4010", dimensions: { costCentre: "HARB" }, tax: "OUT" },
  }).then(must);
  await decide((await lineOf(-101n)).id, {
    coding: { account: "7450", dimensions: {}, shares: "HALVES" },
  }).then(must);
  const run = await post();
  expect(await posted(-12_300n)).toEqual([
    ["1110", "", -12_300n],
    ["7450", "HARB", 10_000n],
    ["1410", "", 2_300n],
  ]);
  expect(await posted(24_601n)).toEqual([
    ["1110", "", 24_601n],
    ["4010", "HARB", -20_001n],
    ["2210", "", -4_600n],
  ]);
  expect((await posted(-101n)).slice(1).map(([, centre, amount]) => [centre, amount])).toEqual([
    ["HARB", 51n],
    ["VESS", 50n],
  ]);
  expect(await october()).toEqual({ "60": [10_000n, 2_300n], S1: [20_001n, 4_600n] });
  expect(await faults()).toEqual([]);
  must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
  expect(await october()).toEqual({ "60": [0n, 0n], S1: [0n, 0n] });
  expect(await faults()).toEqual([]);
  await post();
  expect(await october()).toEqual({ "60": [10_000n, 2_300n], S1: [20_001n, 4_600n] });
  expect(await faults()).toEqual([]);
});

test("a tax or shares that there are not, and values that a part does not take, are refused where they are typed", async () => {
  const { id } = await lineOf(-12_301n);
  const refused = async (coding: object) => {
    const result = await decide(id, { coding });
    return result.ok ? [] : result.problems.map((p) => `${p.code} ${p.field}`);
  };
  expect(await refused({ ...FEES, tax: "X" })).toEqual(["TAX_UNKNOWN tax"]);
  expect(await refused({ ...FEES, shares: "X" })).toEqual(["NOT_FOUND shares"]);
  expect(await refused({ account: "7450", dimensions: { costCentre: "X" } })).toHaveLength(1);
  expect(await refused({ account: "1410", dimensions: {} })).toEqual(["CONTROL_ACCOUNT account"]);
});

test("a kind has a tax, a rule's coding too; what its tax comes to in another currency leaves no difference", async () => {
  const kind = {
    code: "TERM",
    name: "Terminals",
    side: "out",
    codes: ["NMSC-TERM"],
    ...FEES,
  };
  const save = async (more: object) =>
    codes(await saveMovementKind(await root(), { ...kind, ...more }));
  expect(await save({ taxCode: "X" })).toEqual(["TAX_UNKNOWN"]);
  expect(await save({ taxCode: "S", account: "", dimensions: {} })).toEqual(["INVALID"]);
  expect(await save({ taxCode: "S" })).toEqual([]);
  const rule = {
    company: "ALP",
    name: "Wharf",
    place: 1,
    text: "wharfage",
    outcome: "coding",
    ...FEES,
    inUse: true,
  };
  expect(codes(await saveLineRule(await treasury(), { ...rule, tax: "X" }))).toEqual([
    "TAX_UNKNOWN",
  ]);
  const fixed = { ...rule, name: "Fixed", place: 2, inUse: false, shares: "FIXED" };
  must(await saveLineRule(await treasury(), fixed));
  must(await saveLineRule(await treasury(), { ...rule, tax: "S", shares: "HALVES" }));
  const before = (await october())["60"]!;
  const taken = await takeIn(
    statement(
      "1",
      0n,
      [
        { amount: -3_337n, code: "NMSC-TERM" },
        { amount: -777n, text: "wharfage" },
      ],
      { account: DOLLARS, currency: "USD" },
    ),
  );
  expect(taken.certain).toBe(2);
  await post();
  // 2713 and 624 dollars; 632, split by halves, and 145.
  expect(await posted(-3_337n)).toEqual([
    ["1112", "", -3_049n],
    ["7450", "HARB", 2_479n],
    ["1410", "", 570n],
  ]);
  expect((await posted(-777n)).map((l) => l[0])).toEqual(["1112", "7450", "7450", "1410"]);
  const [base, tax] = (await october())["60"]!;
  expect([base! - before[0]!, tax! - before[1]!]).toEqual([2_479n + 577n, 570n + 132n]);
  expect(await faults()).toEqual([]);
});

test("a cash book takes a tax, and a journal that is reversed by hand takes it back", async () => {
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "BOX",
      account: "1115",
      kind: "cash",
      iban: "",
    }),
  );
  const before = await october();
  const book = async (more: object) =>
    must(
      await bookCash(await treasury(), {
        company: "ALP",
        bank: "BOX",
        date: "2026-10-06",
        text: "Ice",
        is: "coding",
        ...more,
      }),
    );
  await book({ side: "in", amount: "50.00", account: "4010", dimensions: { costCentre: "HARB" } });
  const { journal } = await book({ side: "out", amount: "12.30", ...FEES, tax: "S" });
  expect((await october())["60"]).toEqual([before["60"]![0]! + 1_000n, before["60"]![1]! + 230n]);
  must(await reverseJournal(await root(), { key: journal }));
  expect(await october()).toEqual(before);
  expect(await faults()).toEqual([]);
});

test("a tax of a month that is declared is reported in the next one", async () => {
  must(
    await declareTaxes(await root(), {
      company: "ALP",
      from: "2026-09-01",
      to: "2026-09-30",
      reference: "September",
    }),
  );
  const before = await october();
  const september = { from: "2026-09-29", to: "2026-09-30" };
  await takeIn(statement("0", 24_600n, [{ amount: -24_600n }], september));
  must(await decide((await lineOf(-24_600n)).id, { coding: { ...FEES, tax: "S" } }));
  await post();
  const [base, tax] = (await october())["60"]!;
  expect([base! - before["60"]![0]!, tax! - before["60"]![1]!]).toEqual([20_000n, 4_600n]);
  expect(await faults()).toEqual([]);
});
