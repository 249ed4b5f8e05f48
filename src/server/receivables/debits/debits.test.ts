import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { describeFound } from "@/core/shared";
import { writeStatusReport } from "@/core/banks/statements/writeStatusReport";
import { NO_KEYS } from "@/core/banks/statements";
import { bankDay, file, IBAN, statement } from "../../../../tests/bankDay";
import { soldTo } from "../../../../tests/soldTo";
import { faultsOfDebitFile } from "../../../../tests/strictBankFile";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, callerOf, codes, must } from "../../../../tests/world";
import {
  getPaymentFile,
  getReceipt,
  getStatementLine,
  importStatements,
  saveBankAccount,
} from "../../banks";
import { rows } from "../../db";
import { mandatesTable } from "../../files";
import { saveCompany } from "../../organisation";
import { savePartner } from "../../partners";
import { loadRates } from "../../rates";
import {
  changeRun,
  discardRun,
  getRun,
  listRunItems,
  postRun,
  proposeRun,
  reverseRun,
} from "../../runs";
import { saveTaxCode } from "../../taxes";
import { makePromise } from "../desk";
import { sendLetters } from "../letters";
import { undoReceipt } from "../receipts";
import {
  debitsOfRun,
  endMandate,
  listMandates,
  loadMandates,
  makeDebitFile,
  saveMandate,
} from "./index";

const w = world();
const day = bankDay(w);
const clerk = () => callerOf(w.database, "receivables");
const invoice = (...of: Parameters<typeof soldTo> extends [unknown, ...infer R] ? R : never) =>
  soldTo(w.database, ...of);
const OTHER = "DE75512108001245126199";
const MANDATE = {
  company: "ALP",
  signed: "2026-01-10",
  scheme: "core",
  kind: "recurrent",
  iban: OTHER,
  notice: 5,
};
const mandate = async (partner: string, more: object = {}) =>
  saveMandate(await clerk(), { ...MANDATE, partner, reference: `M-${partner}`, ...more });
const propose = async (more: object = {}) =>
  proposeRun(await clerk(), {
    kind: "direct-debit",
    params: { company: "ALP", bank: "MAIN", date: "2026-10-22", upTo: "2026-11-30", ...more },
  });
const items = async (run: number) =>
  must(await listRunItems(await clerk(), { company: "ALP", run: String(run), limit: 100 })).rows;
const debits = async (run: number) => must(await debitsOfRun(await clerk(), { run })).debits;
const post = async (run: number) => must(await postRun(await clerk(), { key: String(run) }));
const send = async (run: number) => must(await makeDebitFile(await clerk(), { run }));
const leftOf = (item: number) => day.left(item);
/** The books go on to a day. */
const goOn = (date: string) =>
  w.database.db.execute(
    sql`update setting set value = to_jsonb(${date}::text) where key = 'working-date'`,
  );

beforeAll(async () => {
  const root = await day.root();
  must(await saveBankAccount(root, { ...BANK_OF_ALPHA, iban: IBAN }));
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
  const customer = { customer: true, country: "IE", currency: "EUR" };
  for (const [code, more] of [
    ["BERTH", { email: "berth@example.org", language: "de" }],
    ["CLUB", {}],
    ["QUAY", { headOffice: "CLUB" }],
    ["LATE", {}],
    ["ONCE", {}],
  ] as const)
    must(await savePartner(root, { ...customer, code, name: `The ${code}`, ...more }));
});

describe("mandates", () => {
  test("are of customers, one at a time, and stay as they were signed once they were used", async () => {
    expect(codes(await mandate("NOBODY"))).toEqual(["PARTNER_UNKNOWN"]);
    const wrong = await mandate("BERTH", { iban: "DE75512108001245126198", signed: "2026-10-16" });
    expect(wrong.ok ? [] : wrong.problems.map((p) => p.field).sort()).toEqual(["iban", "signed"]);
    const { id } = must(await mandate("BERTH"));
    expect(codes(await mandate("BERTH", { reference: "M-2" }))).toEqual(["INVALID"]);
    expect(codes(await mandate("CLUB", { reference: "M-BERTH" }))).toEqual(["INVALID"]);
    // Never used: what was entered wrong is mended.
    must(await mandate("BERTH", { id, signed: "2026-02-10" }));
    expect(must(await listMandates(await clerk(), { company: "ALP" }))).toMatchObject([
      { id, signed: "2026-02-10", uses: 0, against: "" },
    ]);
    const stranger = await callerOf(w.database, "admin");
    const entered = { ...MANDATE, partner: "CLUB", reference: "X" };
    expect(codes(await saveMandate(stranger, entered))).toEqual(["FORBIDDEN"]);
  });

  test("a company without a creditor identifier debits nobody; nor on a day without banks, or by another currency", async () => {
    const problem = async (more: object) => {
      const made = await propose(more);
      return made.ok ? "" : JSON.stringify(made.problems);
    };
    expect(await problem({})).toContain("creditor identifier");
    const company = { code: "ALP", name: "Alpha Ferries", currency: "EUR", country: "IE" };
    const wrong = await saveCompany(await day.root(), {
      ...company,
      creditorId: "DE98 ZZZ0 9999 9999 98",
    });
    expect(codes(wrong)).toEqual(["INVALID"]);
    must(await saveCompany(await day.root(), { ...company, creditorId: "DE98 ZZZ0 9999 9999 99" }));
    expect(await problem({ date: "2026-10-24" })).toContain("a Saturday");
    expect(await problem({ date: "2026-10-15" })).toContain("14 Oct 2026");
    expect(await problem({})).toContain("is due by");
  });
});

describe("a run of direct debits", () => {
  test("debits what is due less credits and discounts; is told, sent, booked by the bank as one, and one of it comes back", async () => {
    must(await mandate("CLUB", { scheme: "b2b" }));
    must(await mandate("LATE", { notice: 10 }));
    const berth = await invoice("BERTH", "2026-10-01", "300.00");
    const promised = await invoice("BERTH", "2026-10-02", "80.00");
    const own = await invoice("CLUB", "2026-10-01", "100.00");
    const branch = await invoice("QUAY", "2026-10-01", "50.00");
    const late = await invoice("LATE", "2026-10-01", "70.00");
    must(
      await makePromise(await clerk(), {
        company: "ALP",
        partner: "BERTH",
        due: "2026-10-30",
        how: "call",
        by: "",
        items: [{ id: promised.item, amount: "30.00" }],
      }),
    );
    const run = must(await propose());
    const shown = await items(run.id);
    expect(shown.map((i) => [i.label, i.amount, i.leftOut ?? ""])).toEqual([
      [berth.number, 30_000n, ""],
      [promised.number, 5_000n, ""],
      [own.number, 10_000n, ""],
      [`${branch.number}, The QUAY`, 5_000n, ""],
      [late.number, 7_000n, "it is told 10 days before: from 25 Oct 2026 on"],
    ]);
    expect(await debits(run.id)).toMatchObject([
      { customer: "BERTH", amount: 35_000n, sequence: "FRST", receipt: null },
      { customer: "CLUB", amount: 15_000n, scheme: "b2b", items: 2 },
    ]);
    // A second run has to do without what the first has.
    expect(codes(await propose({ customers: ["BERTH"] }))).toEqual([]);
    const [second] = (
      await rows<{ id: number }>(
        w.database.db,
        sql`select max(id)::int as id from run where kind = 'direct-debit'`,
      )
    ).map((r) => r.id);
    expect((await items(second!)).map((i) => i.leftOut)).toEqual([
      `${run.number} has taken it already`,
      `${run.number} has taken it already`,
    ]);
    expect(codes(await postRun(await clerk(), { key: String(second) }))).toEqual([
      "RUN_STANDS_IN_WAY",
    ]);
    await post(run.id);
    const made = await debits(run.id);
    expect(made.map((d) => d.receipt?.status)).toEqual(["posted", "posted"]);
    expect(await leftOf(berth.item)).toBe(0n);
    expect(await leftOf(promised.item)).toBe(3_000n);
    expect(await leftOf(branch.item)).toBe(0n);
    expect(await day.faults()).toEqual([]);

    // Told: letters wait with the run, and go out in the customer's language.
    must(await sendLetters(await clerk(), { run: String(run.id) }));
    const sent = await send(run.id);
    const { content } = must(await getPaymentFile(await clerk(), { id: sent.id }));
    expect(faultsOfDebitFile(content)).toEqual([]);
    expect(content).toContain("<ReqdColltnDt>2026-10-22</ReqdColltnDt>");
    expect(content.match(/<SeqTp>FRST/g)).toHaveLength(2);
    expect(codes(await makeDebitFile(await clerk(), { run: run.id }))).toEqual(["IN_USE"]);
    expect(
      codes(await reverseRun(await clerk(), { key: String(run.id), reason: "Wrong day" })),
    ).toEqual(["RUN_STANDS_IN_WAY"]);

    await goOn("2026-10-27");
    // The bank books each block as one; each is the money of its debits.
    const blocks = [...content.matchAll(/<PmtInfId>([^<]+)</g)].map(([, id]) => id!);
    await day.takeIn(
      statement(
        "1",
        0n,
        [
          { amount: 35_000n, keys: { ...NO_KEYS, endToEnd: blocks[1]! } },
          { amount: 15_000n, keys: { ...NO_KEYS, endToEnd: blocks[0]! } },
        ],
        { from: "2026-10-21", to: "2026-10-22" },
      ),
    );
    for (const amount of [35_000n, 15_000n])
      expect((await day.lineOf(amount)).state).toBe("certain");
    await day.post();
    expect((await debits(run.id)).map((d) => d.receipt?.status)).toEqual(["cleared", "cleared"]);
    expect(await day.faults()).toEqual([]);

    // Five days later one comes back: what it had settled is open again, the other stays.
    const back = made[0]!.receipt!;
    await day.takeIn(
      statement(
        "2",
        50_000n,
        [
          {
            amount: -35_000n,
            code: "PMNT-IDDT-UPDD",
            returnReason: "AM04",
            keys: { ...NO_KEYS, endToEnd: back.number },
          },
        ],
        { from: "2026-10-22", to: "2026-10-27" },
      ),
    );
    const line = must(
      await getStatementLine(await day.treasury(), { id: (await day.lineOf(-35_000n)).id }),
    );
    expect(line.state).toBe("certain");
    expect(line.candidates[0]!.reasons.map((r) => r.says).join()).toContain("takes a direct debit");
    await day.post();
    expect((await debits(run.id)).map((d) => [d.receipt?.status, d.receipt?.reason])).toEqual([
      ["rejected", "Returned by the bank: AM04, there was not enough money"],
      ["cleared", ""],
    ]);
    expect(await leftOf(berth.item)).toBe(30_000n);
    expect(await leftOf(promised.item)).toBe(8_000n);
    expect(await leftOf(own.item)).toBe(0n);
    expect(await day.faults()).toEqual([]);
    const [used] = must(await listMandates(await clerk(), { company: "ALP", partner: "BERTH" }));
    expect(used).toMatchObject({ uses: 1, lastUsed: "2026-10-22" });
    expect(codes(await mandate("BERTH", { id: used!.id, iban: IBAN }))).toEqual(["IN_USE"]);
    const end = { id: used!.id, on: "2026-10-15", why: "Revoked" };
    must(await endMandate(await clerk(), end));
    expect(codes(await endMandate(await clerk(), end))).toEqual(["IN_USE"]);
    await goOn("2026-10-15");
  });

  test("is taken back as a whole before it is sent; what the bank refuses of a file is open again", async () => {
    must(await mandate("ONCE", { kind: "one-off" }));
    const once = await invoice("ONCE", "2026-10-03", "40.00");
    const only = { customers: ["ONCE"] };
    const first = must(await propose(only));
    await post(first.id);
    must(await reverseRun(await clerk(), { key: String(first.id), reason: "Wrong day" }));
    expect(await leftOf(once.item)).toBe(4_000n);
    const letters = await rows(
      w.database.db,
      sql`select 1 from customer_letter where run_id = ${first.id}`,
    );
    expect(letters).toEqual([]);

    // Undone before it went out, it was no use of the mandate.
    const second = must(await propose(only));
    expect(await debits(second.id)).toMatchObject([{ sequence: "OOFF" }]);
    must(
      await changeRun(await clerk(), {
        key: String(second.id),
        dropped: [`item|${once.item}`],
      }),
    );
    expect(await debits(second.id)).toEqual([]);
    must(
      await changeRun(await clerk(), {
        key: String(second.id),
        dropped: [],
      }),
    );
    await post(second.id);
    const { name } = await send(second.id);
    const [debit] = await debits(second.id);
    const report = writeStatusReport("2026-10-15T10:00:00Z", {
      message: "SR1",
      original: name.replace(".xml", ""),
      refused: [{ endToEnd: debit!.receipt!.number, reason: "AC04" }],
    });
    must(await importStatements(await day.treasury(), file("report.xml", report)));
    expect(await debits(second.id)).toMatchObject([
      {
        receipt: {
          status: "rejected",
          reason: "Rejected by the bank: AC04, the account is closed",
        },
      },
    ]);
    expect(await leftOf(once.item)).toBe(4_000n);
    expect(await day.faults()).toEqual([]);
    // It was presented: a mandate for one direct debit is used up by it.
    const third = must(await propose(only));
    expect((await items(third.id)).map((i) => i.leftOut)).toEqual([
      "its mandate was for one direct debit, on 22 Oct 2026",
    ]);
  });

  test("no file debits by a mandate that has ended meanwhile: its direct debit is undone first", async () => {
    const gone = { code: "GONE", name: "The GONE", customer: true, country: "IE" };
    must(await savePartner(await day.root(), gone));
    const { id } = must(await mandate("GONE"));
    const { item } = await invoice("GONE", "2026-10-05", "25.00");
    const run = must(await propose({ customers: ["GONE"] }));
    await post(run.id);
    must(await endMandate(await clerk(), { id, on: "2026-10-20", why: "Revoked" }));
    expect(codes(await makeDebitFile(await clerk(), { run: run.id }))).toEqual(["INVALID"]);
    const receipt = (await debits(run.id))[0]!.receipt!;
    must(await undoReceipt(await day.root(), { id: receipt.id, reason: "Mandate revoked" }));
    expect(await leftOf(item)).toBe(2_500n);
    expect(codes(await makeDebitFile(await clerk(), { run: run.id }))).toEqual(["IN_USE"]);
    expect(await day.faults()).toEqual([]);
  });

  test("a branch with a mandate of its own pays by that, whether its head office is debited or not", async () => {
    must(await mandate("QUAY"));
    await invoice("CLUB", "2026-10-06", "11.00");
    await invoice("QUAY", "2026-10-06", "12.00");
    const both = must(await propose({ customers: ["CLUB", "QUAY"] }));
    expect(await debits(both.id)).toMatchObject([
      { customer: "CLUB", amount: 1_100n },
      { customer: "QUAY", amount: 1_200n },
    ]);
    must(await discardRun(await clerk(), { key: String(both.id) }));
    const head = must(await propose({ customers: ["CLUB"] }));
    expect((await items(head.id)).map((i) => i.amount)).toEqual([1_100n]);
    must(await discardRun(await clerk(), { key: String(head.id) }));
  });

  test("of a company that keeps its books in pounds: in euro, with the difference of the rates realised", async () => {
    const root = await day.root();
    const euro = { code: "BETEUR", name: "Euro", account: "1115", currency: "EUR" };
    must(await saveBankAccount(root, { ...BANK_OF_ALPHA, ...euro, company: "BET", iban: OTHER }));
    const creditorId = "DE98ZZZ09999999999";
    const beta = { code: "BET", name: "Beta", currency: "GBP", country: "GB", creditorId };
    must(await saveCompany(root, beta));
    must(
      await loadRates(root, {
        take: true,
        rows: [
          { base: "EUR", quote: "GBP", date: "2026-10-01", rate: "0.80" },
          { base: "EUR", quote: "GBP", date: "2026-10-22", rate: "0.85" },
        ],
      }),
    );
    must(await mandate("BERTH", { company: "BET", reference: "B-1" }));
    const of = { company: "BET", currency: "EUR" };
    const { item } = await invoice("BERTH", "2026-10-01", "200.00", of);
    const run = must(await propose({ company: "BET", bank: "BETEUR" }));
    expect(await debits(run.id)).toMatchObject([{ customer: "BERTH", amount: 20_000n }]);
    await post(run.id);
    expect(await leftOf(item)).toBe(0n);
    const gains = await rows<{ amount: bigint }>(
      w.database.db,
      sql`select l.amount from journal_line l join journal j on j.id = l.journal_id
          join direct_debit x on x.run_id = ${run.id} join receipt r on r.document_id = x.receipt_id
            and r.journal_id = j.id join account a on a.id = l.account_id and a.type = 'income'`,
    );
    // 200.00 at 0.85 less 200.00 at 0.80.
    expect(gains).toEqual([{ amount: 1_000n }]);
    expect(await day.faults()).toEqual([]);
  });

  test("one that was sent and that the bank says nothing of is refused by hand, with a reason", async () => {
    const { item } = await invoice("CLUB", "2026-10-05", "60.00");
    const run = must(await propose({ customers: ["CLUB"] }));
    expect(await debits(run.id)).toMatchObject([{ sequence: "RCUR", amount: 7_100n }]);
    await post(run.id);
    await send(run.id);
    const receipt = (await debits(run.id))[0]!.receipt!;
    const stranger = await callerOf(w.database, "admin");
    expect(codes(await undoReceipt(stranger, { id: receipt.id }))).toEqual(["FORBIDDEN"]);
    must(await undoReceipt(await day.root(), { id: receipt.id, reason: "Recalled at the bank" }));
    expect(must(await getReceipt(await clerk(), { id: receipt.id })).status).toBe("rejected");
    expect(await leftOf(item)).toBe(6_000n);
    expect(codes(await undoReceipt(await day.root(), { id: receipt.id, reason: "Again" }))).toEqual(
      ["IN_USE"],
    );
    expect(await day.faults()).toEqual([]);
    expect(must(await getRun(await clerk(), { key: String(run.id) })).status).toBe("posted");
  });
});

test("mandates go out as a table and come in again; a row that does not fit takes in none", async () => {
  const listed = async () => must(await listMandates(await clerk(), { company: "ALP" }));
  const load = async (rows: Record<string, string>[]) =>
    loadMandates(await clerk(), { company: "ALP", rows, take: true });
  must(await savePartner(await day.root(), { code: "TAB", name: "The TAB", customer: true }));
  const before = await listed();
  const { headers, rows: written } = mandatesTable(before);
  const again = written.map(({ cells }) =>
    Object.fromEntries(headers.map((h, i) => [h, String(cells[i])])),
  );
  expect(must(await load(again))).toEqual({ added: 0, changed: 0, same: before.length });
  const row = { customer: "TAB", reference: "M-TAB", signed: "10.1.2026", iban: OTHER, notice: "" };
  const used = before.find((m) => m.uses > 0)!;
  const refused = await load([
    row,
    { ...row, reference: "M-TAB-2" },
    { ...row, customer: "NOBODY", reference: "M-N" },
    { ...row, customer: used.partner, reference: used.reference, iban: IBAN },
    { ...row, customer: "TAB", reference: "M-X", signed: "soon", notice: "a" },
  ]);
  expect(refused.ok ? [] : refused.problems.map(describeFound)).toEqual([
    "Row 3: Customer TAB stands there twice.",
    expect.stringMatching(/^Row 4: .*NOBODY/),
    expect.stringMatching(/^Row 5: .*stays as it was signed/),
    expect.stringMatching(/^Row 6, signed: /),
    expect.stringMatching(/^Row 6, notice: Days are a whole number/),
  ]);
  expect(must(await load([row]))).toEqual({ added: 1, changed: 0, same: 0 });
  expect(must(await load([{ ...row, notice: "20" }]))).toEqual({ added: 0, changed: 1, same: 0 });
  // What the table has no column for stays.
  const day11 = { reference: "M-TAB", signed: "11.1.2026" };
  expect(must(await load([day11]))).toEqual({ added: 0, changed: 1, same: 0 });
  expect((await listed()).find((m) => m.partner === "TAB")).toMatchObject({
    signed: "2026-01-11",
    notice: 20,
    kind: "recurrent",
    iban: OTHER,
  });
});
