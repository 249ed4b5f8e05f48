import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Area } from "../access";
import type { Period, PeriodState } from "../organisation";
import { minor } from "../shared";
import {
  balanceChanges,
  carryForward,
  codingFromKey,
  codingKey,
  journalInput,
  Masters,
  preparePostings,
  readJournal,
  mergeProblems,
  type Account,
  type DimensionValue,
  type JournalDraft,
  type JournalType,
  type PostingContext,
} from "./index";

const account = (
  id: number,
  number: string,
  type: Account["type"],
  more: Partial<Account> = {},
): Account => ({
  id,
  number,
  name: `Account ${number}`,
  type,
  control: null,
  monetary: true,
  headingId: 1,
  blocked: false,
  usedBy: null,
  rules: {},
  ...more,
});
const value = (id: number, code: string, more: Partial<DimensionValue> = {}): DimensionValue => ({
  id,
  dimensionId: 1,
  code,
  name: code,
  parentId: null,
  activeFrom: null,
  activeTo: null,
  blocked: false,
  responsibleId: null,
  proposes: {},
  ...more,
});
const type = (
  id: number,
  code: string,
  area: Area,
  controls: JournalType["controls"] = [],
): JournalType => ({
  id,
  code,
  name: code,
  area,
  series: "journal",
  prefix: "",
  manual: code === "general",
  reversal: "swap",
  controls,
  naming: "",
  reverses: false,
  autoReverse: false,
  books: [],
  approval: "rules" as const,
});
const masters = new Masters(
  [
    { id: 1, code: "ABC", name: "Abc", currency: "EUR", country: "IE" },
    { id: 2, code: "YEN", name: "Yen", currency: "JPY", country: "JP" },
  ],
  [
    { id: 1, code: "IFRS", name: "IFRS", main: true, ended: false },
    { id: 2, code: "TAX", name: "Tax", main: false, ended: false },
  ],
  [
    account(1, "1000", "asset"),
    account(2, "2000", "liability", { control: "payables" }),
    account(3, "3210", "equity"),
    account(4, "4000", "income"),
    account(5, "5000", "expense", { rules: { 1: "required" } }),
    account(6, "5900", "expense", { blocked: true }),
    account(7, "9000", "units"),
    account(8, "1050", "asset", { control: "asset", rules: { 1: "forbidden" } }),
  ],
  [],
  [
    type(1, "general", "ledger"),
    type(2, "purchase", "payables", ["payables"]),
    type(3, "asset", "assets", ["asset"]),
    type(4, "year-end", "ledger"),
  ],
  [
    {
      id: 1,
      slot: 1,
      code: "costCentre",
      name: "Cost centre",
      balancing: "no",
      balancingAccount: null,
    },
  ],
  [value(1, "N"), value(2, "OLD", { activeTo: "2025-12-31" }), value(3, "SUM", { blocked: true })],
);
const years = [1, 2].flatMap((companyId) =>
  [2025, 2026].map((y, i) => ({
    id: companyId * 10 + i,
    companyId,
    name: String(y),
    description: "",
    start: `${y}-01-01`,
    end: `${y}-12-31`,
  })),
);
const states = (ledger: PeriodState, payables: PeriodState = "open"): Period["states"] => ({
  1: { ledger, payables, assets: "open" },
  2: { ledger: "open", payables: "open", assets: "open" },
});
const period = (
  yearId: number,
  yearName: string,
  companyId: number,
  no: number,
  s: Period["states"],
  adjustment = false,
): Period => ({
  yearId,
  yearName,
  companyId,
  no,
  name: `M${no}`,
  start: adjustment ? `${yearName}-12-31` : `${yearName}-${String(no).padStart(2, "0")}-01`,
  end: adjustment ? `${yearName}-12-31` : `${yearName}-${String(no).padStart(2, "0")}-28`,
  adjustment,
  states: s,
});
const context = (over: Partial<PostingContext> = {}): PostingContext => ({
  masters,
  years,
  yearEnds: [],
  reconciled: [],
  partners: new Set(["S-1"]),
  mayPost: () => true,
  mayPostWhileClosing: () => false,
  periods: [
    period(10, "2025", 1, 12, states("open")),
    period(10, "2025", 1, 13, states("open"), true),
    period(11, "2026", 1, 1, states("open")),
    period(11, "2026", 1, 2, states("closing")),
    period(11, "2026", 1, 3, states("closed")),
    period(11, "2026", 1, 4, states("open", "closed")),
    period(11, "2026", 1, 5, states("not-yet")),
    period(21, "2026", 2, 1, states("open")),
  ],
  ...over,
});
const draft = (over: Partial<JournalDraft> = {}, amount = 100n): JournalDraft => ({
  company: "ABC",
  type: "general",
  book: null,
  date: "2026-01-15",
  description: "Test",
  ...over,
  lines: over.lines ?? [
    { account: "1000", dimensions: {}, description: "", side: "debit", amount: minor(amount) },
    { account: "4000", dimensions: {}, description: "", side: "credit", amount: minor(amount) },
  ],
});
const line = (account: string, side: "debit" | "credit", amount: bigint, costCentre = "") => ({
  account,
  side,
  amount: minor(amount),
  description: "",
  dimensions: costCentre ? { costCentre } : ({} as Record<string, string>),
});
const found = (d: JournalDraft, c = context()) => {
  const r = preparePostings([d], c);
  return r.ok ? [] : r.problems.map((p) => `${p.line ?? ""}${p.line ? ":" : ""}${p.code}`);
};

describe("preparePostings", () => {
  test.each<[string, JournalDraft, string[]]>([
    ["a good journal", draft(), []],
    ["no such company", draft({ company: "NO" }), ["COMPANY_UNKNOWN"]],
    ["no such type", draft({ type: "no" }), ["TYPE_UNKNOWN"]],
    ["no such book", draft({ book: "NO" }), ["BOOK_UNKNOWN"]],
    [
      "an unknown account",
      draft({ lines: [line("7777", "debit", 5n), line("4000", "credit", 5n)] }),
      ["1:ACCOUNT_UNKNOWN"],
    ],
    [
      "a blocked account",
      draft({ lines: [line("5900", "debit", 5n), line("4000", "credit", 5n)] }),
      ["1:ACCOUNT_BLOCKED"],
    ],
    [
      "money on a units account",
      draft({ lines: [line("9000", "debit", 5n), line("4000", "credit", 5n)] }),
      ["1:MONEY_ON_UNITS", "1:QUANTITY_MISSING", "UNBALANCED"],
    ],
    [
      "a control account by a type that may not",
      draft({ lines: [line("1000", "debit", 5n), line("2000", "credit", 5n)] }),
      ["2:CONTROL_ACCOUNT"],
    ],
    [
      "and by one that may",
      draft({ type: "purchase", lines: [line("1000", "debit", 5n), line("2000", "credit", 5n)] }),
      [],
    ],
    [
      "what is owed, in one book only",
      draft({
        type: "purchase",
        book: "TAX",
        lines: [line("1000", "debit", 5n), line("2000", "credit", 5n)],
      }),
      ["2:CONTROL_IN_ONE_BOOK"],
    ],
    [
      "a valuation in one book",
      draft({
        type: "asset",
        book: "TAX",
        lines: [line("1000", "debit", 5n), line("1050", "credit", 5n)],
      }),
      [],
    ],
    [
      "a missing dimension",
      draft({ lines: [line("5000", "debit", 5n), line("4000", "credit", 5n)] }),
      ["1:DIMENSION_REQUIRED"],
    ],
    [
      "a forbidden dimension",
      draft({ type: "asset", lines: [line("1050", "debit", 5n, "N"), line("4000", "credit", 5n)] }),
      ["1:DIMENSION_FORBIDDEN"],
    ],
    [
      "an unknown value",
      draft({ lines: [line("5000", "debit", 5n, "X"), line("4000", "credit", 5n)] }),
      ["1:VALUE_UNKNOWN"],
    ],
    [
      "a value past its time",
      draft({ lines: [line("5000", "debit", 5n, "OLD"), line("4000", "credit", 5n)] }),
      ["1:VALUE_NOT_ACTIVE"],
    ],
    [
      "a value that only sums",
      draft({ lines: [line("5000", "debit", 5n, "SUM"), line("4000", "credit", 5n)] }),
      ["1:VALUE_BLOCKED"],
    ],
    [
      "zero",
      draft({ lines: [line("1000", "debit", 0n), line("4000", "credit", 0n)] }),
      ["1:NO_AMOUNT", "2:NO_AMOUNT"],
    ],
    [
      "a cent apart",
      draft({ lines: [line("1000", "debit", 100n), line("4000", "credit", 99n)] }),
      ["UNBALANCED"],
    ],
    ["a closing period", draft({ date: "2026-02-01" }), ["PERIOD_CLOSING"]],
    ["a closed period", draft({ date: "2026-03-01" }), ["PERIOD_CLOSED"]],
    ["closed in one book, posted to the other", draft({ date: "2026-03-01", book: "TAX" }), []],
    [
      "an area that is closed",
      draft({
        date: "2026-04-01",
        type: "purchase",
        lines: [line("1000", "debit", 5n), line("2000", "credit", 5n)],
      }),
      ["PERIOD_AREA"],
    ],
    ["a period not yet open", draft({ date: "2026-05-01" }), ["PERIOD_NOT_OPENED"]],
    ["no period at all", draft({ date: "2031-05-01" }), ["PERIOD_MISSING"]],
    ["no such day", draft({ date: "2026-02-31" }), ["DATE_INVALID"]],
    ["the adjustment period, chosen", draft({ date: "2025-12-31", period: "2025-13" }), []],
    [
      "the adjustment period on another day",
      draft({ date: "2025-12-01", period: "2025-13" }),
      ["PERIOD_DATE"],
    ],
    ["a currency that is none", draft({ currency: "XYZ" }), ["CURRENCY_UNKNOWN"]],
    ["no currency", draft({ currency: "ABC" }), ["CURRENCY_UNKNOWN"]],
    ["too long a text", draft({ description: "x".repeat(201) }), ["TEXT_TOO_LONG"]],
    ["no description", draft({ description: "  " }), ["REQUIRED"]],
  ])("%s", (_name, d, expected) => expect(found(d)).toEqual(expected));

  test("who may post while closing does; who may not post at all does not", () => {
    expect(
      found(draft({ date: "2026-02-01" }), context({ mayPostWhileClosing: () => true })),
    ).toEqual([]);
    expect(found(draft(), context({ mayPost: () => false }))).toEqual(["FORBIDDEN"]);
  });
  test("a reversal reaches what was blocked since; problems of many drafts carry their place", () => {
    expect(
      found(
        draft({
          reverses: 7,
          lines: [line("5900", "debit", 5n, "OLD"), line("4000", "credit", 5n)],
        }),
      ),
    ).toEqual([]);
    const many = preparePostings([draft(), draft({ type: "no" })], context());
    expect(many.ok ? [] : many.problems).toMatchObject([{ code: "TYPE_UNKNOWN", journal: 1 }]);
  });
});

describe("a bank account that is reconciled", () => {
  const held = {
    companyId: 1,
    account: "6310",
    currency: "EUR",
    until: "2025-12-11",
    bank: "MAIN",
  };
  const passes = (over: Partial<typeof held>, date: string) =>
    preparePostings([draft({ date })], context({ reconciled: [{ ...held, ...over }] })).ok;
  test("holds its account up to that day, in its company and currency, also against reversals", () => {
    const [first] = draft({}).lines;
    const at = { account: first!.account };
    expect(passes(at, "2025-12-11")).toBe(false);
    expect(passes(at, "2025-12-12")).toBe(true);
    expect(passes({ ...at, companyId: 2 }, "2025-12-11")).toBe(true);
    expect(passes({ ...at, currency: "USD" }, "2025-12-11")).toBe(true);
  });
});

describe("balance changes and carry forward", () => {
  test("turnover of the period by side; openings of later years for the balance sheet only, and they add up to zero but for the result", () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.constantFrom("1000", "3210", "4000"), fc.bigInt({ min: 1n, max: 10n ** 9n })),
          { minLength: 1, maxLength: 12 },
        ),
        (items) => {
          const total = items.reduce((t, [, a]) => t + a, 0n);
          const prepared = preparePostings(
            [
              draft({
                date: "2025-12-10",
                lines: [
                  ...items.map(([a, n]) => line(a, "debit", n)),
                  line("1000", "credit", total),
                ],
              }),
            ],
            context(),
          );
          if (!prepared.ok) throw new Error();
          const { accounts, codings } = balanceChanges(prepared.value, years);
          const own = accounts.filter((c) => c.periodNo === 12);
          expect(own.reduce((t, c) => t + c.debit - c.credit, 0n)).toBe(0n);
          expect(codings.reduce((t, c) => t + c.debit, 0n)).toBe(total);
          const openings = accounts.filter((c) => c.periodNo === 0);
          expect(new Set(openings.map((c) => c.yearId))).toEqual(new Set([11]));
          const result = items.filter(([a]) => a === "4000").reduce((t, [, n]) => t + n, 0n);
          expect(openings.reduce((t, c) => t + c.debit - c.credit, 0n)).toBe(-result);
        },
      ),
    );
  });
  test("a result that arrives in a closed year is carried on in each book that is closed, and closing journals are not", () => {
    const end = (bookId: number) => ({
      companyId: 1,
      yearId: 10,
      bookId,
      retainedEarnings: "3210",
      byDimension: false,
      run: { id: 9, number: "R" },
    });
    const c = context({ yearEnds: [end(1), end(2)] });
    const prepared = preparePostings(
      [
        draft({ date: "2025-12-10" }),
        draft({ date: "2025-12-11", book: "TAX" }),
        draft({ date: "2026-01-11" }),
        draft({ date: "2025-12-12", closing: true, book: "IFRS" }),
      ],
      c,
    );
    if (!prepared.ok) throw new Error();
    const companions = carryForward(prepared.value, c);
    expect(companions.map((x) => [x.book, x.date, x.closing])).toEqual([
      ["IFRS", "2025-12-10", true],
      ["TAX", "2025-12-10", true],
      ["TAX", "2025-12-11", true],
    ]);
    expect(companions[0]!.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["4000", "debit", 100n],
      ["3210", "credit", 100n],
    ]);
    expect(preparePostings(companions, c).ok).toBe(true);
  });
  test("a coding has one key, whatever the order of its values", () => {
    expect(
      codingKey([
        { slot: 2, valueId: 7 },
        { slot: 1, valueId: 3 },
      ]),
    ).toBe("1:3,2:7");
    expect(codingFromKey("1:3,2:7")).toEqual([
      { slot: 1, valueId: 3 },
      { slot: 2, valueId: 7 },
    ]);
    expect(codingFromKey("")).toEqual([]);
  });
});

describe("readJournal", () => {
  const input = (
    lines: { account?: string; debit?: string; credit?: string }[],
    date = "31 Oct 2026",
  ) => journalInput({ company: "ABC", type: "general", date, description: "Test", lines });
  test("blank lines are passed over and keep the numbers of the others", () => {
    const reading = readJournal(
      input([{}, { account: "1000", debit: "1" }, {}, { account: "7777", credit: "1" }]),
      () => "EUR",
      "2026-11-05",
    );
    expect(reading.entry).toMatchObject({
      date: "2026-10-31",
      lines: [
        { account: "1000", amount: 100n },
        { account: "7777", side: "credit" },
      ],
    });
    expect(
      mergeProblems(reading, [{ code: "ACCOUNT_UNKNOWN", account: "7777", line: 2 }]),
    ).toMatchObject([{ line: 4 }]);
  });
  test("what cannot be read is said once, and not also as a difference", () => {
    const reading = readJournal(
      input(
        [
          { account: "1000", debit: "ten" },
          { account: "4000", credit: "1", debit: "1" },
        ],
        "soon",
      ),
      () => "EUR",
      "2026-11-05",
    );
    const problems = mergeProblems(reading, [
      { code: "UNBALANCED", debits: "0", credits: "1", difference: "1", book: null },
      { code: "NO_AMOUNT", line: 1 },
      { code: "DATE_INVALID", text: "", field: "date" },
    ]);
    expect(problems.map((p) => p.code)).toEqual([
      "DATE_INVALID",
      "AMOUNT_NOT_NUMBER",
      "BOTH_SIDES",
    ]);
  });
  test("amounts are read in the company's currency", () => {
    expect(
      readJournal(input([{ account: "1000", debit: "1000" }]), () => "JPY", "2026-11-05").entry
        .lines[0]!.amount,
    ).toBe(1000n);
    expect(
      readJournal(input([{ account: "1000", debit: "10.5" }]), () => "JPY", "2026-11-05").problems,
    ).toMatchObject([{ code: "AMOUNT_DECIMALS", decimals: 0 }]);
  });
});
