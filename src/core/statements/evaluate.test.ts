import fc from "fast-check";
import { describe, expect, test } from "vitest";
import type { Account, AccountType } from "../ledger";
import { isResult } from "../ledger";
import {
  catchAccounts,
  evaluate,
  leavesOf,
  resolveColumns,
  starterOutlines,
  type EvaluatedColumn,
  type Turnover,
} from "./index";
import { starterChart } from "../ledger";
import { ferryChart } from "../../demo/ferryChart";
import { ferryOutlines } from "../../demo/ferryOutlines";

const accountsOf = (chart: ReturnType<typeof starterChart>): Account[] =>
  chart.accounts.map((a, i) => ({
    ...a,
    id: i + 1,
    headingId: 1,
    blocked: false,
    usedBy: null,
    rules: {},
  }));
const accounts = accountsOf(ferryChart());
const id = (number: string) => accounts.find((a) => a.number === number)!.id;
const [income, position] = ferryOutlines() as [
  ReturnType<typeof ferryOutlines>[number],
  ReturnType<typeof ferryOutlines>[number],
];
const turn = (number: string, net: bigint, periodNo = 1, yearId = 1): Turnover => ({
  yearId,
  periodNo,
  accountId: id(number),
  debit: net > 0n ? net : 0n,
  credit: net < 0n ? -net : 0n,
});
const span = (key: string, from: number, to: number, yearId = 1): EvaluatedColumn => ({
  key,
  label: key,
  span: { yearId, from, to },
  of: null,
});
const figure = (
  outline: typeof income,
  columns: EvaluatedColumn[],
  turnover: Turnover[],
  code: string,
) => evaluate(outline, columns, accounts, turnover).lines.find((l) => l.code === code)!.values;

describe("the statements that come with the chart", () => {
  test("catch every account once", () => {
    for (const [outlines, all] of [
      [ferryOutlines(), accounts],
      [starterOutlines(), accountsOf(starterChart())],
    ] as const)
      for (const outline of outlines) {
        const { uncaught, caughtTwice } = catchAccounts(outline, all);
        expect([
          outline.code,
          uncaught.map((a) => a.number),
          caughtTwice.map((a) => a.number),
        ]).toEqual([outline.code, [], []]);
      }
  });
  test("an account outside every range, or inside two, is reported", () => {
    const stray: Account = {
      ...accounts[0]!,
      id: 999,
      number: "4990",
      type: "income" as AccountType,
    };
    expect(catchAccounts(income, [stray]).uncaught).toEqual([stray]);
    const double = { ...income, lines: [...income.lines, { ...income.lines[0]!, code: "again" }] };
    expect(catchAccounts(double, accounts).caughtTwice.map((a) => a.number)).toContain("4010");
  });
});

describe("evaluate", () => {
  test("income shows positive, expense negative; a subtotal is the sum of its lines (IAS 1, statement of profit or loss by nature)", () => {
    const columns = [span("this", 1, 1)];
    const rows = [turn("4010", -1000n), turn("5010", 300n), turn("7010", 200n), turn("8010", 100n)];
    expect(
      ["fares", "fuel", "gross-profit", "ebitda", "operating-profit", "result"].map(
        (c) => figure(income, columns, rows, c)[0],
      ),
    ).toEqual([1000n, -300n, 700n, 500n, 400n, 400n]);
  });
  test("the balance sheet balances for any postings that balance, over years, before and after the year end", () => {
    const line = fc.record({
      number: fc.constantFrom(
        "1110",
        "1310",
        "2140",
        "2610",
        "3010",
        "3210",
        "4010",
        "5210",
        "7450",
        "8910",
      ),
      amount: fc.bigInt({ min: -1000n, max: 1000n }),
      periodNo: fc.integer({ min: 1, max: 12 }),
      yearId: fc.constantFrom(1, 2),
    });
    fc.assert(
      fc.property(fc.array(line, { maxLength: 40 }), (lines) => {
        const rows: Turnover[] = lines.flatMap((l) => [
          turn(l.number, l.amount, l.periodNo, l.yearId),
          turn("1110", -l.amount, l.periodNo, l.yearId),
        ]);
        // What year 2 opens with: the balance-sheet accounts of year 1, results not yet carried.
        for (const r of rows.filter((x) => x.yearId === 1))
          if (!isResult(accounts.find((a) => a.id === r.accountId)!.type))
            rows.push({ ...r, yearId: 2, periodNo: 0, debit: r.debit - r.credit, credit: 0n });
        for (const columns of [[span("a", 0, 12, 1)], [span("b", 0, 7, 2)]]) {
          const figures = evaluate(position, columns, accounts, rows);
          const value = (code: string) => figures.lines.find((l) => l.code === code)!.values[0];
          expect(value("total-assets")).toBe(value("total-equity-and-liabilities"));
        }
      }),
    );
  });
  test("a total that contains itself ends, and its leaves are named once", () => {
    const looped = {
      ...income,
      lines: [{ ...income.lines.at(-1)!, of: ["result", "fares"] }, income.lines[0]!],
    };
    expect(evaluate(looped, [span("a", 1, 1)], accounts, [turn("4010", -1n)]).lines).toHaveLength(
      2,
    );
    expect(leavesOf(income, "revenue").map((l) => l.code)).toEqual([
      "fares",
      "freight",
      "terminal",
      "yard",
      "other-sales",
    ]);
  });
});

test("columns: this period, last period across the year, year to date, the same of the prior year", () => {
  const years = [2025, 2026].map((y, i) => ({
    id: i + 1,
    companyId: 1,
    name: String(y),
    description: "",
    start: `${y}-01-01`,
    end: `${y}-12-31`,
  }));
  const periods = years.flatMap((y) =>
    [1, 2, 12].map((no) => ({
      yearId: y.id,
      yearName: y.name,
      companyId: 1,
      no,
      name: `M${no}`,
      start: `${y.name}-${String(no).padStart(2, "0")}-01`,
      end: `${y.name}-${String(no).padStart(2, "0")}-28`,
      adjustment: false,
      states: {},
    })),
  );
  const at = periods.find((p) => p.yearId === 2 && p.no === 1)!;
  const columns = resolveColumns(income.layout, "income", at, years, periods);
  expect(columns.map((c) => c.span)).toEqual([
    { yearId: 2, from: 1, to: 1 },
    { yearId: 1, from: 12, to: 12 },
    null,
    { yearId: 2, from: 1, to: 1 },
    { yearId: 1, from: 1, to: 1 },
    null,
  ]);
  const first = periods[0]!;
  expect(
    resolveColumns(income.layout, "income", first, years, periods).map((c) => c.span !== null),
  ).toEqual([true, false, false, true, false, false]);
  expect(resolveColumns(position.layout, "position", at, years, periods)[0]!.span).toEqual({
    yearId: 2,
    from: 0,
    to: 1,
  });
});
