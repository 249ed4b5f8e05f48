import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Rate } from "../rates";
import type { Period } from "../organisation";
import { minor } from "../shared";
import {
  balanceChanges,
  expandEntry,
  Masters,
  preparePostings,
  readQuantity,
  quantityText,
  type Account,
  type CompanyPair,
  type Dimension,
  type EntryLine,
  type JournalEntry,
  type PostingContext,
} from "./index";

const account = (
  id: number,
  number: string,
  type: Account["type"],
  control: Account["control"] = null,
): Account => ({
  id,
  number,
  name: number,
  type,
  control,
  monetary: true,
  headingId: 1,
  blocked: false,
  usedBy: null,
  rules: {},
});
const companies = [
  { id: 1, code: "ONE", name: "One", currency: "EUR", country: "IE" },
  { id: 2, code: "TWO", name: "Two", currency: "GBP", country: "GB" },
  { id: 3, code: "TRI", name: "Tri", currency: "ISK", country: "IS" },
];
const pairs: CompanyPair[] = [
  {
    first: "ONE",
    second: "TWO",
    firstDueFrom: "1340",
    firstDueTo: "2150",
    secondDueFrom: "1341",
    secondDueTo: "2151",
    type: "group",
  },
  {
    first: "ONE",
    second: "TRI",
    firstDueFrom: "1340",
    firstDueTo: "2150",
    secondDueFrom: "1341",
    secondDueTo: "2151",
    type: "group",
  },
];
const type = (id: number, code: string) => ({
  id,
  code,
  name: code,
  area: "ledger" as const,
  series: "journal",
  prefix: "",
  manual: true,
  reversal: "swap" as const,
  controls: [],
  naming: "",
  reverses: false,
  autoReverse: false,
  books: [],
  approval: "rules" as const,
});
const world = (dimension: Partial<Dimension> = {}): Masters =>
  new Masters(
    companies,
    [{ id: 1, code: "IFRS", name: "IFRS", main: true, ended: false }],
    [
      account(1, "1110", "asset"),
      account(2, "1340", "asset", "intercompany"),
      account(3, "1341", "asset", "intercompany"),
      account(4, "2150", "liability", "intercompany"),
      account(5, "2151", "liability", "intercompany"),
      account(6, "4000", "income"),
      account(7, "5000", "expense"),
      account(8, "8575", "expense"),
      account(9, "9010", "units"),
      account(10, "1490", "asset"),
    ],
    [],
    [type(1, "general"), type(2, "group")],
    [
      {
        id: 1,
        slot: 1,
        code: "fund",
        name: "Fund",
        balancing: "no",
        balancingAccount: null,
        ...dimension,
      },
    ],
    ["A", "B", "C"].map((code, i) => ({
      id: i + 1,
      dimensionId: 1,
      code,
      name: code,
      parentId: null,
      activeFrom: null,
      activeTo: null,
      blocked: false,
      responsibleId: null,
      proposes: {},
    })),
    pairs,
    { rounding: "8575" },
  );
const years = companies.map((c) => ({
  id: c.id,
  companyId: c.id,
  name: "2026",
  description: "",
  start: "2026-01-01",
  end: "2026-12-31",
}));
const periods = companies.map((c): Period => ({
  yearId: c.id,
  yearName: "2026",
  companyId: c.id,
  no: 10,
  name: "Oct",
  start: "2026-10-01",
  end: "2026-10-31",
  adjustment: false,
  states: { 1: { ledger: "open" } },
}));
const context = (masters: Masters): PostingContext => ({
  masters,
  years,
  periods,
  yearEnds: [],
  reconciled: [],
  partners: new Set(["S-1"]),
  mayPost: () => true,
  mayPostWhileClosing: () => true,
});
const rates: Rate[] = [
  { kind: "spot", base: "EUR", quote: "GBP", date: "2026-10-01", rate: "0.87" },
  { kind: "spot", base: "EUR", quote: "ISK", date: "2026-10-01", rate: "150" },
];
const line = (
  accountNumber: string,
  side: "debit" | "credit",
  amount: bigint,
  more: Partial<EntryLine> = {},
): EntryLine => ({
  account: accountNumber,
  dimensions: {},
  description: "",
  side,
  amount: minor(amount),
  ...more,
});
const entry = (lines: EntryLine[], over: Partial<JournalEntry> = {}): JournalEntry => ({
  company: "ONE",
  type: "general",
  book: null,
  date: "2026-10-05",
  description: "Test",
  currency: "EUR",
  rateKind: "spot",
  lines,
  ...over,
});
const run = (e: JournalEntry, masters = world()) => {
  const { drafts, problems } = expandEntry(e, { masters, rates });
  const prepared =
    problems.length === 0
      ? preparePostings(
          drafts.map((d) => d.draft),
          context(masters),
        )
      : null;
  return {
    drafts,
    problems,
    prepared: prepared?.ok ? prepared.value : [],
    refused: prepared && !prepared.ok ? prepared.problems : [],
  };
};
const shown = (
  lines: readonly {
    account: { number: string } | string;
    side: string;
    amount: bigint;
    foreignAmount?: bigint | undefined;
  }[],
) =>
  lines.map(
    (l) => `${typeof l.account === "string" ? l.account : l.account.number} ${l.side} ${l.amount}`,
  );

describe("between companies", () => {
  test("a berth fee paid by one and used by two: each balances, the accounts due from and due to face each other, each line names its counterparty", () => {
    const { prepared } = run(
      entry([
        line("5000", "debit", 6_000n),
        line("5000", "debit", 4_000n, { company: "TWO" }),
        line("1110", "credit", 10_000n),
      ]),
    );
    expect(prepared.map((p) => [p.company.code, p.type.code])).toEqual([
      ["ONE", "general"],
      ["TWO", "group"],
    ]);
    expect(shown(prepared[0]!.lines)).toEqual([
      "5000 debit 6000",
      "1110 credit 10000",
      "1340 debit 4000",
    ]);
    // 40.00 EUR at 0.87 are 34.80 GBP; both sides keep the 40.00 EUR that the agreement of the pair
    // compares.
    expect(shown(prepared[1]!.lines)).toEqual(["5000 debit 3480", "2151 credit 3480"]);
    expect(
      prepared[1]!.lines.map((l) => [
        l.currency,
        l.foreignAmount,
        l.rate,
        l.counterparty?.code ?? null,
      ]),
    ).toEqual([
      ["EUR", 4_000n, "0.87", null],
      ["EUR", 4_000n, "0.87", "ONE"],
    ]);
    expect(prepared[0]!.lines[2]!.counterparty?.code).toBe("TWO");
  });
  test("a pair that is not set up is refused by name, and what is wrong with the lines is said all the same", () => {
    const { problems } = run(
      entry([line("5000", "debit", 5n, { company: "TRI" }), line("1110", "credit", 5n)], {
        company: "TWO",
        currency: "GBP",
      }),
    );
    expect(problems).toContainEqual({
      code: "PAIR_MISSING",
      company: "Two",
      other: "Tri",
      line: 1,
      field: "company",
    });
  });
});

describe("foreign currency", () => {
  test("an entry in ISK, a currency without decimals: functional amounts beside it, what rounding leaves on its account", () => {
    const { prepared } = run(
      entry(
        [
          line("5000", "debit", 1_001n),
          line("5000", "debit", 1_001n),
          line("5000", "debit", 1_001n),
          line("1110", "credit", 3_003n),
        ],
        { currency: "ISK" },
      ),
    );
    // 1,001 ISK / 150 = 6.6733 EUR each, 20.02 together: three times 6.67 is a cent short.
    expect(shown(prepared[0]!.lines)).toEqual([
      "5000 debit 667",
      "5000 debit 667",
      "5000 debit 667",
      "1110 credit 2002",
      "8575 debit 1",
    ]);
    expect(prepared[0]!.lines.at(-1)).toMatchObject({
      foreignAmount: 0n,
      added: "rounding",
      currency: "ISK",
    });
  });
  test("a rate as typed rules, and so does a functional amount as typed", () => {
    expect(
      shown(
        run(
          entry([line("5000", "debit", 3_000n), line("1110", "credit", 3_000n)], {
            currency: "ISK",
            rate: "0.007",
          }),
        ).prepared[0]!.lines,
      ),
    ).toEqual(["5000 debit 2100", "1110 credit 2100"]);
    const typed = run(
      entry(
        [
          line("5000", "debit", 3_000n, { functional: minor(2_015n) }),
          line("1110", "credit", 3_000n, { functional: minor(2_015n) }),
        ],
        { currency: "ISK" },
      ),
    );
    expect(typed.prepared[0]!.lines.map((l) => [l.amount, l.rate])).toEqual([
      [2_015n, "0.00671666666667"],
      [2_015n, "0.00671666666667"],
    ]);
  });
  test("without a rate it is refused, and so is what does not balance in its currency", () => {
    expect(
      run(entry([line("5000", "debit", 1n), line("1110", "credit", 1n)], { currency: "JPY" }))
        .problems,
    ).toMatchObject([{ code: "RATE_MISSING", from: "JPY", to: "EUR" }]);
    expect(
      run(
        entry([line("5000", "debit", 15_000n), line("1110", "credit", 14_000n)], {
          currency: "ISK",
        }),
      ).refused.map((p) => p.code),
    ).toEqual(["UNBALANCED", "FOREIGN_UNBALANCED"]);
  });
});

describe("dimensions that balance by themselves", () => {
  const lines = () => [
    line("5000", "debit", 70n, { dimensions: { fund: "A" } }),
    line("5000", "debit", 30n, { dimensions: { fund: "B" } }),
    line("1110", "credit", 100n, { dimensions: { fund: "C" } }),
  ];
  test("lines are added between the values on the set account", () => {
    const { prepared } = run(entry(lines()), world({ balancing: "add", balancingAccount: "1490" }));
    expect(
      prepared[0]!.lines.slice(3).map((l) => [l.account.number, l.coding, l.side, l.amount]),
    ).toEqual([
      ["1490", "1:1", "credit", 70n],
      ["1490", "1:2", "credit", 30n],
      ["1490", "1:3", "debit", 100n],
    ]);
  });
  test("or each value that does not balance is refused", () => {
    expect(run(entry(lines()), world({ balancing: "refuse" })).refused.map((p) => p.code)).toEqual([
      "VALUE_UNBALANCED",
      "VALUE_UNBALANCED",
      "VALUE_UNBALANCED",
    ]);
  });
});

test("units stand alone or beside money, need no counter entry, and leave the balance in money alone", () => {
  const alone = run(entry([line("9010", "debit", 0n, { quantity: 1_250_500n })]));
  expect(alone.prepared[0]!.lines).toMatchObject([
    { amount: 1_250_500n, currency: "XXX", quantity: 1_250_500n },
  ]);
  expect(alone.prepared[0]!.total).toBe(0n);
  const beside = run(
    entry([
      line("1110", "debit", 500n),
      line("4000", "credit", 500n, { quantity: 10_000n }),
      line("9010", "debit", 0n, { quantity: 10_000n }),
    ]),
  );
  expect(beside.prepared[0]!.total).toBe(500n);
  expect(["1,234.5", "-3", "0.0005", "x", "10.125"].map((t) => readQuantity(t))).toEqual([
    1_234_500n,
    -3_000n,
    null,
    null,
    10_125n,
  ]);
  expect([1_234_500n, -3_000n, 10_125n].map(quantityText)).toEqual(["1,234.5", "−3", "10.125"]);
});

test("whatever is entered: every journal that passes balances in each company, in its currency, and for each value; nothing is lost between them", () => {
  const money = fc.bigInt({ min: 1n, max: 10n ** 9n });
  const row = fc.record({
    account: fc.constantFrom("1110", "4000", "5000"),
    company: fc.constantFrom("ONE", "TWO", "TRI"),
    fund: fc.constantFrom("", "A", "B"),
    side: fc.constantFrom("debit" as const, "credit" as const),
    amount: money,
  });
  fc.assert(
    fc.property(
      fc.array(row, { minLength: 1, maxLength: 12 }),
      fc.constantFrom("EUR", "GBP", "ISK"),
      (rows, currency) => {
        const net = rows.reduce((t, r) => t + (r.side === "debit" ? r.amount : -r.amount), 0n);
        const lines = rows.map((r) =>
          line(r.account, r.side, r.amount, {
            company: r.company,
            dimensions: r.fund ? { fund: r.fund } : {},
          }),
        );
        if (net !== 0n)
          lines.push(line("1110", net > 0n ? "credit" : "debit", net > 0n ? net : -net));
        const masters = world({ balancing: "add", balancingAccount: "1490" });
        const { prepared, refused, problems } = run(entry(lines, { currency }), masters);
        expect(
          [...problems, ...refused].filter((p) => p.code !== "NO_LINES" && p.code !== "NO_AMOUNT"),
        ).toEqual([]);
        const signed = (l: { side: string }, n: bigint) => (l.side === "debit" ? n : -n);
        const due = new Map<string, bigint>();
        for (const p of prepared) {
          expect(p.lines.reduce((t, l) => t + signed(l, l.amount), 0n)).toBe(0n);
          expect(p.lines.reduce((t, l) => t + signed(l, l.foreignAmount), 0n)).toBe(0n);
          const funds = new Map<string, bigint>();
          for (const l of p.lines)
            funds.set(l.coding, (funds.get(l.coding) ?? 0n) + signed(l, l.amount));
          expect([...funds.values()].every((v) => v === 0n)).toBe(true);
          for (const l of p.lines)
            if (l.counterparty)
              due.set(
                [p.company.code, l.counterparty.code].sort().join(),
                (due.get([p.company.code, l.counterparty.code].sort().join()) ?? 0n) +
                  signed(l, l.foreignAmount),
              );
          expect(
            balanceChanges([p], years).accounts.reduce((t, c) => t + c.debit - c.credit, 0n),
          ).toBe(0n);
        }
        // What one side is owed in the currency of the transaction, the other owes.
        expect([...due.values()].every((v) => v === 0n)).toBe(true);
      },
    ),
  );
});
