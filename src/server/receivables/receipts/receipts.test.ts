import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { soldTo } from "../../../../tests/soldTo";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { getReceipt, getStatementLine, reversePayment, saveBankAccount } from "../../banks";
import { rows } from "../../db";
import { getJournal } from "../../ledger";
import { holdItem, restateItem, saveWriteOffLimit, undoAllocation } from "../../openItems";
import { savePartner, savePaymentTolerance, saveTerms } from "../../partners";
import { makePayment } from "../../payables";
import { loadRates } from "../../rates";
import { saveTaxCode, taxSummary } from "../../taxes";
import { getSale } from "../saleViews";
import { loadReceipts, proposeReceipt, recordReceipt, undoReceipt } from "./index";

const w = world();
const day = bankDay(w);
const clerk = () => callerOf(w.database, "receivables");
const invoice = (...of: Parameters<typeof soldTo> extends [unknown, ...infer R] ? R : never) =>
  soldTo(w.database, ...of);
const HEAD = { company: "ALP", bank: "MAIN", date: "2026-10-06", reason: "" };
const record = async (more: object) => recordReceipt(await clerk(), { ...HEAD, ...more });
const propose = async (more: object) =>
  must(await proposeReceipt(await clerk(), { ...HEAD, ...more }));
const journalOf = async (id: number) => {
  const { journals } = must(await getReceipt(await clerk(), { id }));
  const view = must(await getJournal(await day.root(), { key: String(journals[0]!.id) }));
  return view.kind === "posted"
    ? view.lines.map((l) => `${l.account} ${l.side} ${l.amount} ${l.partner ?? ""}`.trim()).sort()
    : [];
};

beforeAll(async () => {
  const root = await day.root();
  must(await saveBankAccount(root, { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveBankAccount(root, {
      ...BANK_OF_ALPHA,
      code: "DOLLAR",
      name: "Dollars",
      account: "1115",
      currency: "USD",
      iban: "",
      number: "77441",
      country: "US",
      routing: "021000021",
    }),
  );
  const tax = { direction: "sale", owedAccount: "2210", returnLine: "S1" };
  const rates = (percent: string) => ({ rates: [{ from: "2020-01-01", percent }] });
  must(
    await saveTaxCode(root, { ...tax, code: "OUT", name: "VAT", kind: "standard", ...rates("23") }),
  );
  must(await saveTaxCode(root, { ...tax, code: "NO", name: "None", kind: "none", ...rates("0") }));
  must(
    await saveTerms(await clerk(), {
      code: "2-10-30",
      name: "2 % within 10 days",
      terms: {
        instalments: [{ percent: "100", days: 30 }],
        discounts: [{ percent: "2", days: 10 }],
      },
    }),
  );
  const customer = { customer: true, country: "IE", currency: "EUR" };
  must(await savePartner(root, { ...customer, code: "TOURS", name: "Sable Tours" }));
  must(
    await savePartner(root, {
      ...customer,
      code: "BRANCH",
      name: "Sable Tours Coast",
      headOffice: "TOURS",
    }),
  );
  must(
    await savePartner(root, { ...customer, code: "EARLY", name: "Early Bird", terms: "2-10-30" }),
  );
  must(await saveWriteOffLimit(root, { person: "receivables", company: "ALP", limit: "10.00" }));
});

test("a head office pays for its branch, short by an amount in dispute, and the rest of its money stays on account", async () => {
  const own = await invoice("TOURS", "2026-10-01", "300.00");
  const branch = await invoice("BRANCH", "2026-10-02", "500.00");
  const { items, proposed } = await propose({
    partner: "TOURS",
    amount: "420.00",
    text: branch.number,
  });
  expect(items.map((i) => i.reference)).toEqual([own.number, branch.number]);
  expect(proposed).toMatchObject({
    by: "numbers",
    takes: [{ item: branch.item, amount: 42_000n }],
  });
  const made = must(
    await record({
      partner: "TOURS",
      amount: "760.00",
      takes: [
        { item: own.item },
        { item: branch.item, pays: "420.00", short: "disputed", dispute: "price" },
      ],
    }),
  );
  expect(await journalOf(made.id)).toEqual([
    "1120 debit 76000 TOURS",
    "1310 credit 30000 TOURS",
    "1310 credit 4000 TOURS",
    "1310 credit 42000 BRANCH",
  ]);
  expect(await day.left(branch.item)).toBe(8_000n);
  const [dispute] = await rows<{ amount: bigint; reason: string }>(
    w.database.db,
    sql`select amount, reason from dispute where item_id = ${branch.item}`,
  );
  expect(dispute).toEqual({ amount: 8_000n, reason: "price" });
  // The bank's line is known by the number of the receipt, and clears its money.
  await day.takeIn(statement("1", 0n, [{ amount: 76_000n, text: `transfer ${made.number}` }]));
  const line = must(
    await getStatementLine(await day.treasury(), { id: (await day.lineOf(76_000n)).id }),
  );
  expect(line.state).toBe("certain");
  await day.post();
  expect(must(await getReceipt(await clerk(), { id: made.id })).line).toMatchObject({
    statement: "1",
  });
  expect(codes(await undoReceipt(await clerk(), { id: made.id, reason: "by mistake" }))).toEqual([
    "IN_USE",
  ]);
  expect(await day.faults()).toEqual([]);
});

test("a bank's line is decided for the branches of one head office, and not for strangers", async () => {
  const branch = await invoice("BRANCH", "2026-10-02", "11.00");
  const own = await invoice("TOURS", "2026-10-02", "22.00");
  const other = await invoice("EARLY", "2026-10-02", "33.00");
  await day.takeIn(statement("2", 76_000n, [{ amount: 3_300n, text: "coast and all" }]));
  const { id } = await day.lineOf(3_300n);
  const strangers = await day.decide(id, {
    takes: [{ item: branch.item }, { item: other.item, amount: "22.00" }],
  });
  expect(codes(strangers)).toEqual(["INVALID"]);
  must(await day.decide(id, { takes: [{ item: branch.item }, { item: own.item }] }));
  await day.post();
  const { journal } = must(await getStatementLine(await day.treasury(), { id }));
  const view = must(await getJournal(await day.root(), { key: String(journal!.id) }));
  expect(
    view.kind === "posted" ? view.lines.map((l) => `${l.amount} ${l.partner ?? ""}`).sort() : [],
  ).toEqual(["1100 BRANCH", "2200 TOURS", "3300 "]);
  expect(await day.faults()).toEqual([]);
});

test("a discount after its date is as the customer's group has it: asked about, allowed, or left open", async () => {
  const { number, item } = await invoice("EARLY", "2026-09-20", "1000.00", { taxCode: "OUT" });
  // 2 % of 1,230.00 until 30 September; the money comes on 6 October.
  const asked = await propose({ partner: "EARLY", amount: "1205.40", text: number });
  expect(asked.items.find((i) => i.id === item)).toMatchObject({ discount: 2_460n, late: true });
  expect(asked.proposed.takes).toMatchObject([{ discount: 2_460n }]);
  const take = { item, pays: "1205.40", discount: "24.60" };
  const beyond = await record({ partner: "EARLY", amount: "1205.40", takes: [take] });
  expect(beyond.ok ? [] : beyond.problems[0]).toMatchObject({ field: "takes" });
  // The bank's line for it waits for a person.
  await day.takeIn(statement("3", 79_300n, [{ amount: 120_540n, text: number }]));
  const { id } = await day.lineOf(120_540n);
  expect(must(await getStatementLine(await day.treasury(), { id }))).toMatchObject({
    state: "to decide",
    but: "The discount is taken after its date",
  });
  const tolerance = { late: "allow", lateDays: 7, small: "0" };
  must(await savePaymentTolerance(await day.root(), { code: "", tolerance }));
  const october = async () => {
    const place = { company: "ALP", from: "2026-09-01", to: "2026-10-31" };
    const { rows: taxes } = must(await taxSummary(await day.root(), place));
    return taxes.flatMap((r) => (r.code === "OUT" ? [r.base, r.tax] : []));
  };
  const before = await october();
  const made = must(await record({ partner: "EARLY", amount: "1205.40", takes: [take] }));
  expect(await journalOf(made.id)).toEqual([
    "1120 debit 120540 EARLY",
    "1310 credit 123000 EARLY",
    "2210 debit 460",
    "8570 debit 2000",
  ]);
  expect(await october()).toEqual([before[0]! - 2_000n, before[1]! - 460n]);
  must(await undoReceipt(await clerk(), { id: made.id, reason: "another customer" }));
  expect(await october()).toEqual(before);
  expect(await day.left(item)).toBe(123_000n);
  must(
    await savePaymentTolerance(await day.root(), {
      code: "",
      tolerance: { ...tolerance, late: "leave open" },
    }),
  );
  expect(
    (await propose({ partner: "EARLY", amount: "1205.40", text: number })).proposed,
  ).toMatchObject({ takes: [{ amount: 120_540n, discount: 0n }] });
  expect(await day.faults()).toEqual([]);
});

test("dollars are paid short: the difference of rates is realised, a little is written off within the limit", async () => {
  const rates = [
    ["2026-10-02", "0.90"],
    ["2026-10-06", "0.92"],
  ].map(([date, rate]) => ({ base: "USD", quote: "EUR", date, rate }));
  must(await loadRates(await day.root(), { take: true, rows: rates }));
  const { item } = await invoice("TOURS", "2026-10-02", "1000.00", { currency: "USD" });
  const wrong = await record({ partner: "TOURS", amount: "992.00", takes: [{ item }] });
  expect(codes(wrong)).toEqual(["INVALID"]);
  const dollars = { bank: "DOLLAR", partner: "TOURS", amount: "992.00" };
  const take = { item, pays: "992.00", short: "written off" };
  const unsaid = await record({ ...dollars, takes: [take] });
  expect(unsaid.ok ? "" : unsaid.problems[0]!.field).toBe("reason");
  const made = must(await record({ ...dollars, takes: [take], reason: "charges of the bank" }));
  // Owed at 900.00; 992.00 come at 912.64, and 8.00 are given up at 7.36.
  expect(await journalOf(made.id)).toEqual([
    "1120 debit 91264 TOURS",
    "1310 credit 90000 TOURS",
    "8540 credit 2000",
    "8580 debit 736",
  ]);
  expect(await day.left(item)).toBe(0n);
  expect(await day.faults()).toEqual([]);
});

describe("an item paid in another currency than its own", () => {
  const restate = async (more: object) =>
    restateItem(await clerk(), { date: "2026-10-06", currency: "EUR", post: true, ...more });
  const said = (r: { ok: boolean; problems?: readonly { field?: string }[] }) =>
    r.problems?.map((p) => p.field ?? "");
  const restatedOf = async (item: number) =>
    (
      await rows<{ id: bigint; currency: string; left: bigint; functional: bigint; due: string }>(
        w.database.db,
        sql`select n.id, n.currency, n.left_amount as "left", n.left_functional as functional,
            n.due_date as due from open_item i join open_item n on n.reference = i.reference
            and n.kind = i.kind and n.id > i.id where i.id = ${item} order by n.id`,
      )
    ).map((n) => ({ ...n, id: Number(n.id) }));
  /** What the page of the item's invoice says. */
  const elsewhereOf = async (item: number) => {
    const [of] = await rows<{ id: bigint }>(
      w.database.db,
      sql`select document_id as id from open_item where id = ${item}`,
    );
    return must(await getSale(await clerk(), { id: Number(of!.id) })).elsewhere;
  };
  const undo = async (item: number) => {
    const [last] = await rows<{ id: bigint }>(
      w.database.db,
      sql`select a.id from allocation a join allocation_line l on l.allocation_id = a.id
        where l.item_id = ${item} and a.kind = 'restatement' order by a.id desc limit 1`,
    );
    return undoAllocation(await clerk(), { id: Number(last!.id) });
  };

  test("is owed in that one from the day on, at its rate or as agreed, and taken like any other", async () => {
    const { item } = await invoice("TOURS", "2026-10-02", "1000.00", { currency: "USD" });
    // Only asked: nothing is posted. 1,000 USD at 0.92, carried at 0.90.
    const asked = must(await restate({ id: item, post: false }));
    expect(asked).toMatchObject({ amount: 92_000n, difference: -2_000n, journal: null });
    expect(await restatedOf(item)).toEqual([]);
    // Of 400 USD it was agreed that they are 360 EUR; the rest follows at the day's rate.
    // Beyond one's limit of writing off (10.00) nobody agrees on less, nor on more.
    expect(said(await restate({ id: item, taken: "400", amount: "357.99" }))).toEqual(["amount"]);
    expect(said(await restate({ id: item, taken: "400", amount: "378.01" }))).toEqual(["amount"]);
    must(await restate({ id: item, taken: "400", amount: "360.00" }));
    must(await restate({ id: item }));
    const [agreed, rest] = await restatedOf(item);
    expect([agreed, rest]).toMatchObject([
      { currency: "EUR", left: 36_000n, functional: 36_000n },
      { currency: "EUR", left: 55_200n, functional: 55_200n },
    ]);
    expect(await day.left(item)).toBe(0n);
    const made = must(
      await record({
        partner: "TOURS",
        amount: "910.00",
        takes: [{ item: agreed!.id }, { item: rest!.id, pays: "550.00", short: "open" }],
      }),
    );
    expect(await day.left(rest!.id)).toBe(200n);
    expect(await elsewhereOf(item)).toEqual([{ currency: "EUR", left: 200n }]);
    expect(await day.faults()).toEqual([]);
    // What has been paid is not owed in dollars again before the money is given back.
    expect(codes(await undo(item))).toContain("ITEM_ALLOCATED");
    must(await undoReceipt(await clerk(), { id: made.id, reason: "came for another customer" }));
    must(await undo(item));
    expect(await day.left(item)).toBe(60_000n);
    expect(await elsewhereOf(item)).toEqual([{ currency: "EUR", left: 36_000n }]);
    expect(await day.faults()).toEqual([]);
  });

  test("what hurts is said at its place, and two people at once restate it once", async () => {
    const { item } = await invoice("TOURS", "2026-10-03", "500.00", { currency: "USD" });
    expect(said(await restate({ id: item, currency: "USD" }))).toEqual(["currency"]);
    expect(said(await restate({ id: item, currency: "JPY" }))).toEqual(["currency"]);
    expect(said(await restate({ id: item, currency: "XXQ" }))).toEqual(["currency"]);
    expect(said(await restate({ id: item, taken: "500.01" }))).toEqual(["taken"]);
    expect(said(await restate({ id: item, taken: "-1" }))).toEqual(["taken"]);
    expect(said(await restate({ id: item, amount: "much" }))).toEqual(["amount"]);
    expect(said(await restate({ id: item, amount: "0" }))).toEqual(["amount"]);
    expect(said(await restate({ id: item, date: "2026-10-02" }))).toEqual(["date"]);
    expect(codes(await restate({ id: item, date: "2027-03-01" }))).not.toEqual([]);
    must(await holdItem(await clerk(), { id: item, reason: "two boats were not there" }));
    expect(codes(await restate({ id: item }))).toEqual(["IN_USE"]);
    must(await holdItem(await clerk(), { id: item, reason: "" }));
    const both = await Promise.all([1, 2].map(() => restate({ id: item })));
    expect(both.map((b) => b.ok).sort()).toEqual([false, true]);
    expect(await restatedOf(item)).toHaveLength(1);
    expect(await day.faults()).toEqual([]);
  });
});

test("two people at once take an item once; what hurts is said at its place, and nothing is kept", async () => {
  const { item } = await invoice("TOURS", "2026-10-03", "40.00");
  const both = await Promise.all(
    [1, 2].map(() => record({ partner: "TOURS", amount: "40.00", takes: [{ item }] })),
  );
  expect(both.map((b) => b.ok).sort()).toEqual([false, true]);
  const late = await invoice("TOURS", "2026-10-09", "50.00");
  const fields = async (more: object) => {
    const made = await record({ partner: "TOURS", amount: "10.00", ...more });
    return made.ok ? [] : made.problems.map((p) => p.field);
  };
  const stranger = await invoice("EARLY", "2026-10-03", "60.00");
  expect(await fields({ takes: [{ item }] })).toEqual(["takes.0.pays"]);
  expect(await fields({ takes: [{ item: stranger.item }] })).toEqual(["takes.0.pays"]);
  expect(await fields({ takes: [{ item: late.item, pays: "10.00" }] })).toEqual(["date"]);
  expect(await fields({ amount: "ten" })).toEqual(["amount"]);
  expect(await fields({ amount: "-5" })).toEqual(["amount"]);
  expect(await fields({ partner: "NOBODY" })).toEqual(["partner"]);
  expect(await fields({ bank: "NONE" })).toEqual(["bank"]);
  expect(await fields({ date: "2027-05-06" })).toEqual(["date"]);
  const more = await invoice("TOURS", "2026-10-03", "70.00");
  expect(await fields({ amount: "60.00", takes: [{ item: more.item }] })).toEqual(["amount"]);
  expect(
    await fields({ amount: "60.00", takes: [{ item: more.item, pays: "60", discount: "11" }] }),
  ).toEqual(["takes.0.pays"]);
  expect(
    await fields({ amount: "60.00", takes: [{ item: more.item, pays: "60", short: "disputed" }] }),
  ).toEqual(["takes.0.dispute"]);
  // 11.00 are more than the clerk may give up.
  const over = { item: more.item, pays: "59.00", short: "written off" };
  expect(await fields({ amount: "59.00", takes: [over], reason: "never mind" })).toEqual(["takes"]);
  expect(await day.left(more.item)).toBe(7_000n);
});

test("a table of receipts is taken in as a whole, each row knowing what those before it take", async () => {
  const [first, second] = [
    await invoice("EARLY", "2026-09-01", "80.00"),
    await invoice("EARLY", "2026-09-02", "90.00"),
  ];
  // What other tests have left open is older than nothing here: it is named or of the very amount.
  const row = (amount: string, text: string) => ({
    customer: "EARLY",
    date: "7 Oct 2026",
    amount,
    text,
  });
  const table = {
    company: "ALP",
    bank: "MAIN",
    rows: [row("80.00", first.number), row("90.00", "")],
  };
  const load = async (more: object) => loadReceipts(await clerk(), { ...table, ...more });
  const seen = must(await load({}));
  expect(seen).toMatchObject({ added: 2, before: null });
  expect(seen.changes.map((c) => c.differences)).toEqual([
    [`pays ${first.number}`],
    [`pays ${second.number}`],
  ]);
  expect(await day.left(first.item)).toBe(8_000n);
  const wrong = await load({ take: true, rows: [...table.rows, row("ten", ""), row("-1", "")] });
  expect(wrong.ok ? [] : wrong.problems.map((p) => ("what" in p ? p.what : ""))).toMatchObject([
    expect.stringContaining("Row 4"),
    expect.stringContaining("Row 5"),
  ]);
  const stranger = await load({ rows: [{ ...row("1.00", ""), customer: "NOBODY", date: "soon" }] });
  expect(stranger.ok ? 0 : stranger.problems.length).toBe(2);
  must(await load({ take: true }));
  expect([await day.left(first.item), await day.left(second.item)]).toEqual([0n, 0n]);
  const again = must(await load({}));
  expect(again.before).toContain("1 more are there already");
  expect(codes(await load({ take: true }))).toEqual(["INVALID"]);
  must(await load({ take: true, confirmed: true }));
  expect(await day.faults()).toEqual([]);
});

test("what a customer has paid too much is paid back, once, and is the customer's again when that is undone", async () => {
  const { id } = must(await record({ partner: "TOURS", amount: "250.00" }));
  const [credit] = await rows<{ id: number }>(
    w.database.db,
    sql`select i.id::int as id from open_item i join receipt r on r.journal_id = i.journal_id
      where r.document_id = ${id} and i.area = 'receivables'`,
  );
  const payer = await callerOf(w.database, "payables");
  const pay = (more: object) =>
    makePayment(payer, {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-07",
      supplier: "TOURS",
      items: [{ id: credit!.id, ...more }],
    });
  expect(codes(await pay({ amount: "250.01" }))).toEqual(["ITEM_OVERALLOCATED"]);
  expect(codes(await pay({ amount: "240.00", discount: "10.00" }))).toEqual(["INVALID"]);
  const both = await Promise.all([pay({}), pay({})]);
  expect(both.map((b) => b.ok).sort()).toEqual([false, true]);
  expect(await day.left(credit!.id)).toBe(0n);
  const paid = both.flatMap((b) => (b.ok ? [b.value] : []))[0]!;
  expect(codes(await undoReceipt(await clerk(), { id, reason: "too early" }))).not.toEqual([]);
  must(await reversePayment(payer, { id: paid.id, reason: "wrong account", date: null }));
  expect(await day.left(credit!.id)).toBe(-25_000n);
  expect(await day.faults()).toEqual([]);
});

test("another company, its own currency and a foreign one, at the year's edge: numbers by year, items of its own, the rate of the day", async () => {
  const root = await day.root();
  const pounds = { ...BANK_OF_ALPHA, company: "BET", currency: "GBP", country: "GB" };
  const own = { code: "POUND", account: "1110", number: "11112222", routing: "203301", iban: "" };
  must(await saveBankAccount(root, { ...pounds, ...own, name: "Pounds" }));
  const euro = { code: "EURO", account: "1115", number: "33334444", routing: "203301", iban: "" };
  must(await saveBankAccount(root, { ...pounds, ...euro, name: "Euros", currency: "EUR" }));
  must(
    await loadRates(root, {
      take: true,
      rows: [
        { base: "EUR", quote: "GBP", date: "2025-12-31", rate: "0.80" },
        { base: "EUR", quote: "GBP", date: "2026-01-01", rate: "0.85" },
      ],
    }),
  );
  const home = await invoice("TOURS", "2025-12-30", "100.00", { company: "BET", currency: "GBP" });
  const away = await invoice("TOURS", "2025-12-31", "100.00", { company: "BET", currency: "EUR" });
  const of = { company: "BET", partner: "TOURS" };
  const seen = await propose({ ...of, bank: "POUND", date: "2025-12-31" });
  expect(seen.items.map((i) => i.id)).toEqual([home.item]);
  const last = must(
    await record({
      ...of,
      bank: "POUND",
      date: "2025-12-31",
      amount: "100.00",
      takes: [{ item: home.item }],
    }),
  );
  const first = must(
    await record({
      ...of,
      bank: "EURO",
      date: "2026-01-01",
      amount: "60.00",
      takes: [{ item: away.item, pays: "60.00" }],
    }),
  );
  expect([last.number, first.number]).toEqual(["BET-25-C00001", "BET-26-C00001"]);
  // 60.00 EUR are carried at 48.00 and come at 51.00.
  expect(await journalOf(first.id)).toEqual([
    "1120 debit 5100 TOURS",
    "1310 credit 4800 TOURS",
    "8540 credit 300",
  ]);
  const wrong = await record({ ...of, bank: "MAIN", amount: "1.00" });
  expect(wrong.ok ? "" : wrong.problems[0]!.field).toBe("bank");
  must(await undoReceipt(await clerk(), { id: first.id, reason: "of the year before" }));
  expect(await day.left(away.item)).toBe(10_000n);
  expect(await day.faults()).toEqual([]);
});
