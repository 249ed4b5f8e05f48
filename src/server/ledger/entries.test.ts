import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { journalInput, type JournalInput, type JournalLineInput } from "@/core/ledger";
import type { Result } from "@/core/shared";
import { callerOf, months, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows } from "../db";
import "../closing";
import { askRate, loadRates, rateLimits, saveRateLimit } from "../rates";
import { saveDimension, saveJournalType, savePair, switchPeriods } from "../organisation";
import { postRun, proposeRun, reverseRun } from "../runs";
import {
  addAttachment,
  addRemark,
  callsForMe,
  getAttachment,
  papersOf,
  removeAttachment,
} from "../documents";
import {
  approveDocument,
  returnDocument,
  saveApprovalRule,
  saveStandIn,
  waitingForMe,
  withdrawDocument,
} from "../approvals";
import {
  createJournal,
  getBatch,
  getJournal,
  listJournals,
  listShortcuts,
  moveToBatch,
  pairBalances,
  deleteBatch,
  deleteDraft,
  postBatch,
  postDraft,
  postStoredDraft,
  reverseBatch,
  reverseJournal,
  saveBatch,
  saveDraft,
  saveShortcut,
  saveTemplate,
  submitBatch,
  submitDraft,
  submitStoredDraft,
  listTemplates,
  trialBalance,
  type PostedView,
} from "./index";
import { verify } from "../verify";

const w = world();
const line = (
  account: string,
  costCentre: string,
  debit: string,
  credit: string,
  more: Partial<JournalLineInput> = {},
): Partial<JournalLineInput> => ({
  account,
  dimensions: costCentre ? { costCentre } : {},
  debit,
  credit,
  ...more,
});
const entry = (lines: Partial<JournalLineInput>[], over: Partial<JournalInput> = {}) => ({
  ...journalInput({
    company: "ALP",
    type: "general",
    date: "2026-10-05",
    description: "Entry",
    ...over,
    lines,
  }),
  post: true,
});
const posted = async (key: number | string): Promise<PostedView> =>
  must(await getJournal(await callerOf(w.database, "root"), { key: String(key) })) as PostedView;
const codes = (r: Result<unknown>) => (r.ok ? [] : r.problems.map((p) => p.code));
const clean = async () =>
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
const closing = async (company: string, account: string) =>
  must(
    await trialBalance(await callerOf(w.database, "root"), { company, period: "2026-10" }),
  ).rows.find((r) => r.account === account)!.closing;

beforeAll(async () => {
  const root = await callerOf(w.database, "root");
  must(
    await loadRates(root, {
      take: true,
      rows: [
        { kind: "spot", base: "EUR", quote: "ISK", date: "2026-10-01", rate: "150" },
        { kind: "spot", base: "EUR", quote: "GBP", date: "2026-10-01", rate: "0.87" },
      ],
    }),
  );
});

describe("entries", () => {
  test("in ISK: kept with its rate, reversed in full, and the chain covers both", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const before = await closing("ALP", "6420");
    const made = must(
      await createJournal(
        accountant,
        entry(
          [
            line("6420", "VESS", "1001", ""),
            line("6420", "VESS", "1001", ""),
            line("6420", "VESS", "1001", ""),
            line("2410", "", "", "3003"),
          ],
          { currency: "ISK" },
        ),
      ),
    );
    const view = await posted(made.id);
    expect([view.foreignCurrency, view.total]).toEqual(["ISK", 2002n]);
    expect(view.lines.map((l) => [l.account, l.amount, l.foreignAmount, l.rate])).toEqual([
      ["6420", 667n, 1001n, "0.00666666666667"],
      ["6420", 667n, 1001n, "0.00666666666667"],
      ["6420", 667n, 1001n, "0.00666666666667"],
      ["2410", 2002n, 3003n, "0.00666666666667"],
      ["8575", 1n, 0n, null],
    ]);
    must(await reverseJournal(accountant, { key: made.number! }));
    expect(await closing("ALP", "6420")).toBe(before);
    await clean();
    expect(
      codes(
        await createJournal(
          accountant,
          entry([line("6420", "VESS", "1.5", ""), line("2410", "", "", "1.5")], {
            currency: "ISK",
          }),
        ),
      ),
    ).toEqual(["AMOUNT_DECIMALS", "AMOUNT_DECIMALS"]);
  });

  test("between companies: refused until the pair is set up, posted in both, agreeing in the currency of the transaction, reversed together; nothing anywhere if one is closed", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const root = await callerOf(w.database, "root");
    const shared = () =>
      entry([
        line("6210", "VESS", "60.00", ""),
        line("6210", "HARB", "40.00", "", { company: "BET" }),
        line("2410", "", "", "100.00"),
      ]);
    expect(codes(await createJournal(accountant, shared()))).toEqual(["PAIR_MISSING"]);
    must(
      await savePair(root, {
        first: "BET",
        second: "ALP",
        firstDueFrom: "1340",
        firstDueTo: "2150",
        secondDueFrom: "1340",
        secondDueTo: "2150",
      }),
    );
    const made = must(await createJournal(accountant, shared()));
    const view = await posted(made.id);
    expect(view.linked.map((l) => l.company)).toEqual(["BET"]);
    const other = await posted(view.linked[0]!.id);
    expect(
      other.lines.map((l) => [l.account, l.side, l.amount, l.foreignAmount, l.counterparty]),
    ).toEqual([
      ["6210", "debit", 3480n, 4000n, null],
      ["2150", "credit", 3480n, 4000n, "ALP"],
    ]);
    expect(
      must(await pairBalances(root, { company: "ALP", period: "2026-10" })).map((b) => [
        b.currency,
        b.first.foreign,
        b.second.foreign,
        b.difference,
      ]),
    ).toEqual([["EUR", 4000n, -4000n, 0n]]);
    // The balances know which company they concern: what a consolidation takes out.
    expect(
      await rows(
        w.database.db,
        sql`select c.code, k.code as other, sum(b.debit - b.credit)::int as net
          from coding_balance b join company c on c.id = b.company_id
          join company k on k.id = b.counterparty_id group by 1, 2 order by 1`,
      ),
    ).toEqual([
      { code: "ALP", other: "BET", net: 4000 },
      { code: "BET", other: "ALP", net: -3480 },
    ]);
    // From either side, reversing undoes both.
    must(await reverseJournal(accountant, { key: other.number }));
    expect([(await posted(made.id)).status, (await posted(other.id)).status]).toEqual([
      "reversed",
      "reversed",
    ]);
    expect(
      must(await pairBalances(root, { company: "ALP", period: "2026-10" }))[0]!.first.foreign,
    ).toBe(0n);
    must(
      await switchPeriods(root, {
        company: "BET",
        book: "all",
        area: "all",
        periods: [...months("2025", 1, 13), ...months("2026", 1, 10)],
        to: "closed",
      }),
    );
    const [count] = await rows<{ n: number }>(
      w.database.db,
      sql`select count(*)::int as n from journal`,
    );
    expect(codes(await createJournal(accountant, shared()))).toEqual(["PERIOD_CLOSED"]);
    expect(
      (await rows<{ n: number }>(w.database.db, sql`select count(*)::int as n from journal`))[0]!.n,
    ).toBe(count!.n);
    must(
      await switchPeriods(root, {
        company: "BET",
        book: "all",
        area: "all",
        periods: ["2026-10"],
        to: "open",
        reason: "more to come",
      }),
    );
    await clean();
  });

  test("units beside money and alone, reversed; money on units is refused by the database too", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const alone = must(
      await createJournal(accountant, entry([line("9010", "", "", "", { quantity: "41,250" })])),
    );
    expect((await posted(alone.id)).lines.map((l) => [l.units, l.quantity, l.amount])).toEqual([
      [true, 41_250_000n, 41_250_000n],
    ]);
    must(
      await createJournal(
        accountant,
        entry([
          line("1100", "", "500.00", ""),
          line("4010", "VESS", "", "500.00", { quantity: "25" }),
          line("9010", "", "", "", { quantity: "25" }),
        ]),
      ),
    );
    must(await reverseJournal(accountant, { key: String(alone.id) }));
    await clean();
    expect(
      codes(
        await createJournal(
          accountant,
          entry([line("9010", "", "5.00", ""), line("2410", "", "", "5.00")]),
        ),
      ),
    ).toContain("MONEY_ON_UNITS");
  });

  test("a dimension that balances by itself gets its lines, and the statement of each value stays in balance", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await saveDimension(root, {
        code: "costCentre",
        name: "Cost centre",
        balancing: "add",
        balancingAccount: "1450",
      }),
    );
    const made = must(
      await createJournal(
        root,
        entry([line("6310", "HARB", "7.00", ""), line("6420", "VESS", "", "7.00")]),
      ),
    );
    expect(
      (await posted(made.id)).lines
        .slice(2)
        .map((l) => [l.account, l.dimensions.costCentre, l.side, l.amount]),
    ).toEqual([
      ["1450", "HARB", "credit", 700n],
      ["1450", "VESS", "debit", 700n],
    ]);
    must(await saveDimension(root, { code: "costCentre", name: "Cost centre", balancing: "no" }));
    await clean();
  });

  test("a manual line on a partner's control account needs partner, reference and due date", async () => {
    const accountant = await callerOf(w.database, "accountant");
    expect(
      codes(
        await createJournal(
          accountant,
          entry([line("6310", "HARB", "9.00", ""), line("2140", "", "", "9.00")]),
        ),
      ),
    ).toEqual(["REFERENCE_REQUIRED", "PARTNER_REQUIRED", "DUE_DATE_REQUIRED"]);
    const made = must(
      await createJournal(
        accountant,
        entry(
          [
            line("6310", "HARB", "9.00", ""),
            line("2140", "", "", "9.00", { partner: "Tarn Rope & Chain", dueDate: "5 Nov 2026" }),
          ],
          { reference: "PI-1" },
        ),
      ),
    );
    expect((await posted(made.id)).lines[1]).toMatchObject({
      partner: "Tarn Rope & Chain",
      dueDate: "2026-11-05",
    });
  });
});

describe("due reversals", () => {
  test("a run previews and posts them on their day; undone by reversing the run, they are due again", async () => {
    const root = await callerOf(w.database, "root");
    const made = must(
      await createJournal(
        root,
        entry([line("6310", "HARB", "30.00", ""), line("2410", "", "", "30.00")], {
          type: "accrual",
          date: "2026-09-30",
          reverseOn: "2026-10-01",
        }),
      ),
    );
    const run = must(
      await proposeRun(root, { kind: "reversals", params: { company: "ALP", upTo: "2026-10-31" } }),
    );
    must(await postRun(root, { key: run.number }));
    const view = await posted(made.id);
    expect(view.reversedBy).not.toBeNull();
    const reversal = await posted(view.reversedBy!.id);
    // Accruals are undone by negative amounts on the same sides, so that turnover stays right.
    expect([reversal.date, reversal.lines.map((l) => [l.side, l.amount])]).toEqual([
      "2026-10-01",
      [
        ["debit", -3000n],
        ["credit", -3000n],
      ],
    ]);
    expect(
      codes(
        await proposeRun(root, {
          kind: "reversals",
          params: { company: "ALP", upTo: "2026-10-31" },
        }),
      ),
    ).toEqual(["NOT_FOUND"]);
    // Undone, the journal stands again and is due again.
    const undone = must(await reverseRun(root, { key: run.number, reason: "too early" }));
    const again = await posted(undone.journals[0]!);
    expect([again.lines.map((l) => [l.side, l.amount]), again.reverseOn]).toEqual([
      [
        ["debit", 3000n],
        ["credit", 3000n],
      ],
      "2026-10-01",
    ]);
    const second = must(
      await proposeRun(root, { kind: "reversals", params: { company: "ALP", upTo: "2026-10-31" } }),
    );
    must(await postRun(root, { key: second.number }));
    expect((await posted(again.id)).reversedBy).not.toBeNull();
    await clean();
  });

  test("a type that says so is reversed by itself when the period opens", async () => {
    const root = await callerOf(w.database, "root");
    must(
      await saveJournalType(root, {
        code: "swift",
        name: "Swift accrual",
        reverses: true,
        autoReverse: true,
      }),
    );
    const made = must(
      await createJournal(
        root,
        entry([line("6310", "HARB", "4.00", ""), line("2410", "", "", "4.00")], {
          type: "swift",
          date: "2026-10-31",
          reverseOn: "2026-11-01",
        }),
      ),
    );
    expect((await posted(made.id)).reversedBy).toBeNull();
    must(
      await switchPeriods(root, {
        company: "ALP",
        book: "all",
        area: "all",
        periods: ["2026-11"],
        to: "open",
      }),
    );
    const view = await posted(made.id);
    expect((await posted(view.reversedBy!.id)).date).toBe("2026-11-01");
    await clean();
  });
});

describe("batches", () => {
  test("five papers under a control total: refused while they differ, posted all or none, reversed as one; a waiver needs the right and a reason", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const root = await callerOf(w.database, "root");
    const { id } = must(
      await saveBatch(accountant, {
        content: {
          company: "ALP",
          period: "2026-10",
          description: "Harbour works",
          controls: [{ currency: "EUR", amount: "1,500.00" }],
        },
      }),
    );
    // Two people at its control totals: the second is told, and nothing of the first is lost.
    const content = { company: "ALP", period: "2026-10", description: "Harbour works" };
    const controls = [{ currency: "EUR", amount: "1,500.00" }];
    must(await saveBatch(root, { id, version: 1, content: { ...content, controls } }));
    expect(codes(await saveBatch(accountant, { id, version: 1, content }))).toEqual(["STALE"]);
    expect(codes(await deleteBatch(accountant, { id, version: 1 }))).toEqual(["STALE"]);
    const drafts: number[] = [];
    for (const amount of ["100.00", "200.00", "300.00", "400.00", "490.00"])
      drafts.push(
        must(
          await saveDraft(accountant, {
            content: entry([line("6310", "HARB", amount, ""), line("2410", "", "", amount)]),
            batch: id,
          }),
        ).id,
      );
    const open = must(await getBatch(accountant, { id }));
    expect([open.name, open.items.length, open.lines]).toEqual([
      "Oct 2026, batch 1",
      5,
      [{ currency: "EUR", control: 150000n, entered: 149000n, difference: -1000n }],
    ]);
    expect(codes(await postBatch(accountant, { id }))).toEqual(["CONTROL_TOTAL"]);
    expect(codes(await postBatch(accountant, { id, waive: "the papers are wrong" }))).toEqual([
      "FORBIDDEN",
    ]);
    expect(codes(await postBatch(root, { id, waive: "so" }))).toEqual(["REASON_REQUIRED"]);
    expect(codes(await postStoredDraft(accountant, { id: drafts[0] }))).toEqual(["IN_USE"]);
    // The fifth is corrected, and a sixth with a fault in it stops them all.
    must(
      await saveDraft(accountant, {
        id: drafts[4],
        version: 1,
        content: entry([line("6310", "HARB", "500.00", ""), line("2410", "", "", "500.00")]),
      }),
    );
    const bad = must(
      await saveDraft(accountant, {
        content: entry([line("6310", "", "0.00", ""), line("2410", "", "", "0.00")]),
        batch: id,
      }),
    ).id;
    expect(codes(await postBatch(accountant, { id }))).toContain("DIMENSION_REQUIRED");
    expect(must(await getBatch(accountant, { id })).items.every((i) => i.status === "draft")).toBe(
      true,
    );
    must(await moveToBatch(accountant, { journal: bad, batch: null }));
    expect(must(await postBatch(accountant, { id })).journals).toHaveLength(5);
    expect(codes(await postBatch(accountant, { id }))).toEqual(["BATCH_POSTED"]);
    expect(must(await getBatch(accountant, { id }))).toMatchObject({
      status: "posted",
      lines: [{ entered: 150000n, difference: 0n }],
    });
    must(await reverseBatch(accountant, { id, reason: "entered in the wrong month" }));
    expect(
      must(await getBatch(accountant, { id })).items.every((i) => i.status === "reversed"),
    ).toBe(true);
    await clean();
  });
});

describe("saved codings, templates, rates", () => {
  test("a shortcut of one's own goes before everybody's; a template comes back without its amounts", async () => {
    const accountant = await callerOf(w.database, "accountant");
    must(
      await saveShortcut(accountant, {
        company: "ALP",
        name: "pier",
        account: "6310",
        dimensions: { costCentre: "HARB" },
        shared: true,
      }),
    );
    must(
      await saveShortcut(accountant, {
        company: "ALP",
        name: "pier",
        account: "6320",
        dimensions: { costCentre: "VESS" },
      }),
    );
    expect(
      must(await listShortcuts(accountant, { company: "ALP" })).map((s) => [
        s.name,
        s.account,
        s.own,
      ]),
    ).toEqual([["pier", "6320", true]]);
    expect(
      must(await listShortcuts(await callerOf(w.database, "root"), { company: "ALP" })).map((s) => [
        s.name,
        s.account,
        s.own,
      ]),
    ).toEqual([["pier", "6310", false]]);
    expect(
      codes(await saveShortcut(accountant, { company: "ALP", name: "pier", account: "0000" })),
    ).toEqual(["ACCOUNT_UNKNOWN"]);
    must(
      await saveTemplate(accountant, {
        name: "Quay",
        amounts: false,
        content: entry([line("6310", "HARB", "10.00", "")]),
      }),
    );
    expect(
      must(await listTemplates(accountant, { company: "ALP" }))[0]!.content.lines[0],
    ).toMatchObject({ account: "6310", debit: "" });
  });
  test("rates from a file are taken whole or not at all, with the row and the fault", async () => {
    const root = await callerOf(w.database, "root");
    const bad = await loadRates(root, {
      take: true,
      rows: [
        { base: "EUR", quote: "USD", date: "2026-10-01", rate: "1.1" },
        { kind: "noon", base: "EUR", quote: "EUR", date: "2026-13-01", rate: "x" },
      ],
    });
    expect(bad.ok ? [] : bad.problems.map((p) => (p.code === "INVALID" ? p.what : p.code))).toEqual(
      [
        "Row 3: “noon” is no kind of rate; write spot, average or closing",
        "Row 3: base and quote are the same currency",
        "Row 3: “2026-13-01” is no date; write 2026-10-31",
        "Row 3: “x” is no rate",
      ],
    );
    expect(codes(await askRate(root, { from: "EUR", to: "USD", date: "2026-10-31" }))).toEqual([
      "RATE_MISSING",
    ]);
    const across = { from: "GBP", to: "ISK" };
    expect(must(await askRate(root, { ...across, date: "2026-10-08" })).how).toBe(
      "spot across EUR: inverse of EUR/GBP × EUR/ISK, last known on 1 Oct 2026",
    );
    // Older than seven days, until somebody says that the pairs may be.
    const late = { ...across, date: "2026-10-09" };
    const age = async (answer: Promise<Parameters<typeof codes>[0]>) => codes(await answer);
    expect(await age(askRate(root, late))).toEqual(["RATE_OLD"]);
    must(await saveRateLimit(root, { base: "GBP", quote: "EUR", days: 30 }));
    expect(await age(askRate(root, late))).toEqual(["RATE_OLD"]);
    must(await saveRateLimit(root, { base: "EUR", quote: "ISK", days: 8 }));
    expect(await age(askRate(root, late))).toEqual([]);
    expect(await age(askRate(root, { ...across, date: "2026-10-10" }))).toEqual(["RATE_OLD"]);
    must(await saveRateLimit(root, { base: "EUR", quote: "ISK", days: null }));
    expect(await age(askRate(root, late))).toEqual(["RATE_OLD"]);
    must(await saveRateLimit(root, { base: "GBP", quote: "EUR", days: null }));
    // A typed rate serves.
    const pounds = {
      ...entry([line("6310", "HARB", "3.00", ""), line("2410", "", "", "3.00")]),
      currency: "GBP",
      date: "2026-10-14",
    };
    expect(await age(createJournal(root, { ...pounds, post: true }))).toEqual(["RATE_OLD"]);
    expect(await age(createJournal(root, { ...pounds, rate: "1.15", post: true }))).toEqual([]);
    // Unless the group wants a listed one in any case: then neither a rate nor amounts are taken.
    must(await saveRateLimit(root, { days: 7, typed: "refused" }));
    const refused = createJournal(root, { ...pounds, rate: "1.15", post: true });
    expect(await age(refused)).toEqual(["RATE_OLD"]);
    must(await saveRateLimit(root, { days: 365 }));
    expect(await age(createJournal(root, { ...pounds, rate: "1.15", post: true }))).toEqual([]);
    expect(must(await rateLimits(root))).toEqual({ days: 365, typed: "refused", pairs: [] });
    must(await saveRateLimit(root, { days: 365, typed: "taken" }));
    // A month's average serves for a month.
    must(
      await loadRates(root, {
        take: true,
        rows: [{ kind: "average", base: "EUR", quote: "GBP", date: "2026-08-31", rate: "0.9" }],
      }),
    );
    const average = { kind: "average", from: "GBP", to: "EUR" };
    expect(await age(askRate(root, { ...average, date: "2026-10-01" }))).toEqual([]);
    expect(await age(askRate(root, { ...average, date: "2026-10-02" }))).toEqual(["RATE_OLD"]);
  });
});

test("a draft of dollars that is posted in euro stands in euro in the register; drafts are in no total", async () => {
  const accountant = await callerOf(w.database, "accountant");
  const lines = [line("6310", "HARB", "100.00", ""), line("2410", "", "", "100.00")];
  const content = { ...entry(lines), description: "Turned into euro" };
  const kept = must(await saveDraft(accountant, { content: { ...content, currency: "USD" } }));
  const listed = async () =>
    must(await listJournals(accountant, { company: "ALP", text: "turned into euro" }));
  expect(await listed()).toMatchObject({
    totals: [],
    rows: [{ amount: 10_000n, currency: "USD" }],
  });
  must(await postDraft(accountant, { id: kept.id, version: kept.version, content }));
  expect(await listed()).toMatchObject({
    totals: [{ currency: "EUR", sums: { amount: 10_000n } }],
    rows: [{ amount: 10_000n, currency: "EUR" }],
  });
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});

describe("papers and remarks", () => {
  test("hang on a draft and stay when it is posted; only what they claim to be is taken; nobody without the right reads them", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const root = await callerOf(w.database, "root");
    const draft = must(
      await saveDraft(accountant, {
        content: entry([line("6310", "HARB", "3.00", ""), line("2410", "", "", "3.00")]),
      }),
    );
    const pdf = Buffer.from("%PDF-1.7 a paper");
    const paper = must(
      await addAttachment(accountant, {
        id: draft.id,
        name: "C:\\papers\\quay.pdf",
        content: pdf.toString("base64"),
      }),
    );
    expect(
      codes(
        await addAttachment(accountant, {
          id: draft.id,
          name: "quay.pdf",
          content: Buffer.from("MZ").toString("base64"),
        }),
      ),
    ).toEqual(["INVALID"]);
    expect(
      codes(
        await addAttachment(accountant, {
          id: draft.id,
          name: "big.txt",
          content: Buffer.alloc(9_000_000, "a").toString("base64"),
        }),
      ),
    ).toEqual(["INVALID"]);
    expect(codes(await addRemark(accountant, { id: draft.id, text: "look, @nobody" }))).toEqual([
      "NOT_FOUND",
    ]);
    must(await addRemark(accountant, { id: draft.id, text: "please look, @root" }));
    expect(must(await callsForMe(root)).map((c) => [c.page, c.text])).toEqual([
      [`/ledger/journals/${draft.id}`, "please look, @root"],
    ]);
    must(await postStoredDraft(accountant, { id: draft.id }));
    const papers = must(await papersOf(root, { id: draft.id }));
    expect([
      papers.attachments.map((a) => a.name),
      papers.remarks.length,
      papers.history.map((h) => h.action),
    ]).toEqual([["quay.pdf"], 1, ["posted", "commented", "paper added", "drafted"]]);
    expect(must(await getAttachment(root, { id: paper.id })).content.equals(pdf)).toBe(true);
    expect(codes(await removeAttachment(accountant, { id: paper.id }))).toEqual(["IN_USE"]);
    expect(
      codes(await getAttachment(await callerOf(w.database, "budget"), { id: paper.id })),
    ).toEqual(["FORBIDDEN"]);
  });
});

describe("approval", () => {
  test("what falls under a rule cannot be posted another way; the preparer cannot approve it, a stand-in of the approver can", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const controller = await callerOf(w.database, "controller");
    const root = await callerOf(w.database, "root");
    must(
      await saveApprovalRule(root, {
        type: "general",
        minimum: "50,000.00",
        currency: "EUR",
        role: "controller",
      }),
    );
    const content = (amount: string) =>
      entry([line("6310", "HARB", amount, ""), line("2410", "", "", amount)]);
    expect(codes(await createJournal(accountant, content("50,000.00")))).toEqual([
      "APPROVAL_NEEDED",
    ]);
    must(await createJournal(accountant, content("49,999.99")));
    // The same in another currency, by its rate.
    expect(
      codes(await createJournal(accountant, { ...content("7500000"), currency: "ISK" })),
    ).toEqual(["APPROVAL_NEEDED"]);
    const draft = must(await saveDraft(controller, { content: content("60,000.00") }));
    expect(codes(await postStoredDraft(controller, { id: draft.id }))).toEqual(["APPROVAL_NEEDED"]);
    must(
      await submitDraft(controller, { id: draft.id, version: 1, content: content("60,000.00") }),
    );
    expect(
      codes(await saveDraft(controller, { id: draft.id, version: 2, content: content("1.00") })),
    ).toEqual(["IN_USE"]);
    expect(codes(await approveDocument(controller, { id: draft.id }))).toEqual(["FORBIDDEN"]);
    expect(codes(await approveDocument(accountant, { id: draft.id }))).toEqual(["FORBIDDEN"]);
    expect(codes(await returnDocument(root, { id: draft.id, reason: "no" }))).toEqual([
      "REASON_REQUIRED",
    ]);
    must(await returnDocument(root, { id: draft.id, reason: "the amount is wrong" }));
    must(
      await submitDraft(controller, { id: draft.id, version: 2, content: content("55,000.00") }),
    );
    must(await saveStandIn(root, { standIn: "accountant", from: "2026-10-01", to: "2026-10-31" }));
    expect(must(await waitingForMe(accountant)).map((x) => x.id)).toEqual([draft.id]);
    const done = must(await approveDocument(accountant, { id: draft.id }));
    const view = await posted(done.id);
    expect([view.preparedBy, view.postedBy, view.total]).toEqual([
      "Person controller",
      "Person accountant",
      5_500_000n,
    ]);
    const other = must(await saveDraft(accountant, { content: content("70,000.00") }));
    must(
      await submitDraft(accountant, { id: other.id, version: 1, content: content("70,000.00") }),
    );
    must(await withdrawDocument(accountant, { id: other.id }));
    expect(must(await getJournal(accountant, { key: String(other.id) })).status).toBe("draft");
  });

  test("what a draft of an earlier version lacks does not stand in its way when it is sent as it is kept", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const content = entry([
      line("6310", "HARB", "60,000.00", ""),
      line("2410", "", "", "60,000.00"),
    ]);
    const { id } = must(await saveDraft(accountant, { content }));
    await w.database.db.execute(
      sql`update journal_draft set content = content - array['reference', 'rate', 'inverse', 'reverseOn']
        where document_id = ${id}`,
    );
    must(await submitStoredDraft(accountant, { id }));
    const waiting = must(await getJournal(accountant, { key: String(id) }));
    expect(waiting).toMatchObject({ status: "waiting" });
    must(await withdrawDocument(accountant, { id }));
    must(await deleteDraft(accountant, { id, version: 1 }));
  });

  test("a batch with a journal under a rule waits as a whole: its journals stand still, and approving posts them together", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const controller = await callerOf(w.database, "controller");
    const content = (amount: string) =>
      entry([line("6310", "HARB", amount, ""), line("2410", "", "", amount)]);
    const { id } = must(
      await saveBatch(accountant, {
        content: {
          company: "ALP",
          period: "2026-10",
          controls: [{ currency: "EUR", amount: "60,100.00" }],
        },
      }),
    );
    const small = must(await saveDraft(accountant, { content: content("100.00"), batch: id }));
    expect(codes(await submitBatch(accountant, { id }))).toEqual(["CONTROL_TOTAL"]);
    must(await saveDraft(accountant, { content: content("60,000.00"), batch: id }));
    expect(must(await getBatch(accountant, { id })).approval).toContain("approved by a controller");
    expect(codes(await postBatch(accountant, { id }))).toEqual(["APPROVAL_NEEDED"]);
    must(await submitBatch(accountant, { id }));
    expect(codes(await postBatch(controller, { id }))).toEqual(["IN_USE"]);
    expect(
      codes(await saveDraft(accountant, { id: small.id, version: 1, content: content("1.00") })),
    ).toEqual(["IN_USE"]);
    expect(codes(await moveToBatch(accountant, { journal: small.id }))).toEqual(["IN_USE"]);
    expect(codes(await approveDocument(accountant, { id }))).toEqual(["FORBIDDEN"]);
    must(await returnDocument(controller, { id, reason: "one paper is missing" }));
    must(
      await saveDraft(accountant, {
        id: small.id,
        version: 1,
        content: { ...content("100.00"), description: "With its paper" },
      }),
    );
    must(await submitBatch(accountant, { id }));
    must(await approveDocument(controller, { id }));
    expect(must(await getBatch(accountant, { id }))).toMatchObject({
      status: "posted",
      items: [{ status: "posted", title: "With its paper" }, { status: "posted" }],
    });
    await clean();
  });

  test("the list is narrowed by account, amount and preparer, and says where a journal came from", async () => {
    const root = await callerOf(w.database, "root");
    const found = async (more: object) =>
      must(await listJournals(root, { company: "ALP", ...more })).rows;
    expect(
      (await found({ account: "6310", amountFrom: "60,000", amountTo: "60,000" })).map((j) => [
        j.amount,
        j.origin,
      ]),
    ).toEqual([[6_000_000n, "Oct 2026, batch 2"]]);
    expect(await found({ account: "9010", amountFrom: "60,000" })).toEqual([]);
    expect(
      (await found({ preparer: "controller" })).every((j) => j.preparedBy === "Person controller"),
    ).toBe(true);
    expect(codes(await listJournals(root, { company: "ALP", amountFrom: "much" }))).toEqual([
      "AMOUNT_NOT_NUMBER",
    ]);
  });
});
