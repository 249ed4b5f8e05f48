import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import {
  Masters,
  proposeYearEnd,
  reversalDate,
  reversalDateTogether,
  reversalOf,
  type Account,
} from "./index";
import type { Period } from "../organisation";

const account = (id: number, number: string, type: Account["type"]): Account => ({
  id,
  number,
  name: number,
  type,
  control: null,
  monetary: false,
  headingId: 1,
  blocked: false,
  usedBy: null,
  rules: {},
});
const masters = new Masters(
  [],
  [{ id: 1, code: "IFRS", name: "IFRS", main: true, ended: false }],
  [
    account(1, "4000", "income"),
    account(2, "5000", "expense"),
    account(3, "5100", "expense"),
    account(4, "3210", "equity"),
    account(5, "1110", "asset"),
  ],
  [],
  [],
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
  [
    {
      id: 7,
      dimensionId: 1,
      code: "N",
      name: "North",
      parentId: null,
      activeFrom: null,
      activeTo: null,
      blocked: false,
      responsibleId: null,
      proposes: {},
    },
  ],
);
const year = {
  id: 1,
  companyId: 1,
  name: "2025",
  description: "",
  start: "2025-01-01",
  end: "2025-12-31",
};
const period = (
  no: number,
  start: string,
  end: string,
  adjustment = false,
  state: "open" | "closed" = "open",
): Period => ({
  yearId: 1,
  yearName: "2025",
  companyId: 1,
  no,
  name: `P${no}`,
  start,
  end,
  adjustment,
  states: { 1: { ledger: state } },
});
const periods = [
  period(12, "2025-12-01", "2025-12-31"),
  period(13, "2025-12-31", "2025-12-31", true),
];
const company = { id: 1, code: "ABC", name: "ABC", currency: "EUR", country: "IE" };

describe("closing entries (textbook example: revenue 98,500 and expenses of 61,200 and 22,300 leave a profit of 15,000 in retained earnings)", () => {
  const balances = [
    { accountId: 1, coding: "", net: -9_850_000n },
    { accountId: 2, coding: "1:7", net: 6_120_000n },
    { accountId: 3, coding: "", net: 2_230_000n },
    { accountId: 5, coding: "", net: 1_500_000n },
  ];
  test("result accounts are emptied, retained earnings takes the difference, in the year's last period", () => {
    const result = proposeYearEnd(
      {
        company,
        year,
        periods,
        book: "IFRS",
        balances,
        retainedEarnings: "3210",
        byDimension: false,
      },
      masters,
    );
    if (!result.ok) throw new Error();
    expect(result.value.result).toBe(1_500_000n);
    expect(result.value.draft).toMatchObject({
      period: "2025-13",
      date: "2025-12-31",
      closing: true,
    });
    expect(result.value.draft.lines.map((l) => [l.account, l.side, l.amount])).toEqual([
      ["4000", "debit", 9_850_000n],
      ["5000", "credit", 6_120_000n],
      ["5100", "credit", 2_230_000n],
      ["3210", "credit", 1_500_000n],
    ]);
  });
  test("by dimension, each coding keeps its own retained earnings", () => {
    const result = proposeYearEnd(
      {
        company,
        year,
        periods,
        book: "IFRS",
        balances,
        retainedEarnings: "3210",
        byDimension: true,
      },
      masters,
    );
    expect(
      result.ok &&
        result.value.draft.lines
          .filter((l) => l.account === "3210")
          .map((l) => [l.dimensions.costCentre ?? "", l.side, l.amount]),
    ).toEqual([
      ["", "credit", 7_620_000n],
      ["N", "debit", 6_120_000n],
    ]);
  });
  test("a loss is a debit; nothing to carry, or no equity account, is said", () => {
    const loss = proposeYearEnd(
      {
        company,
        year,
        periods,
        book: "IFRS",
        balances: [{ accountId: 2, coding: "", net: 500n }],
        retainedEarnings: "3210",
        byDimension: false,
      },
      masters,
    );
    expect(loss.ok && loss.value.draft.lines.at(-1)).toMatchObject({
      account: "3210",
      side: "debit",
      amount: 500n,
    });
    expect(
      proposeYearEnd(
        {
          company,
          year,
          periods,
          book: "IFRS",
          balances: [],
          retainedEarnings: "3210",
          byDimension: false,
        },
        masters,
      ),
    ).toMatchObject({ ok: false, problems: [{ code: "YEAR_END_NOTHING" }] });
    expect(
      proposeYearEnd(
        {
          company,
          year,
          periods,
          book: "IFRS",
          balances,
          retainedEarnings: "1110",
          byDimension: false,
        },
        masters,
      ),
    ).toMatchObject({ ok: false, problems: [{ code: "ACCOUNT_UNKNOWN" }] });
  });
});

describe("reversal", () => {
  const months = [
    period(1, "2025-01-01", "2025-01-31", false, "closed"),
    period(2, "2025-02-01", "2025-02-28", false, "closed"),
    period(3, "2025-03-01", "2025-03-31"),
  ];
  test("lies on the original date while its period is open, else on the first open day after it, else nowhere", () => {
    expect(reversalDate({ date: "2025-03-09", period: months[2]! }, months, [1])).toEqual({
      date: "2025-03-09",
    });
    expect(reversalDate({ date: "2025-01-09", period: months[0]! }, months, [1])).toEqual({
      date: "2025-03-01",
    });
    expect(
      reversalDate({ date: "2025-01-09", period: months[0]! }, months.slice(0, 2), [1]),
    ).toBeNull();
    expect(reversalDate({ date: "2025-12-31", period: periods[1]! }, periods, [1])).toEqual({
      date: "2025-12-31",
      period: "2025-13",
    });
  });
  test("journals that were posted together are undone on one day: the first that is open in all of their companies", () => {
    const of = (open: number[]): Period[] =>
      months.map((m, i) =>
        period(m.no, m.start, m.end, false, open.includes(i) ? undefined : "closed"),
      );
    const journal = (open: number[]) => {
      const own = of(open);
      return { date: "2025-01-20", period: own[0]!, periods: own, bookIds: [1] };
    };
    expect(reversalDateTogether([journal([0]), journal([0])])).toEqual({ date: "2025-01-20" });
    expect(reversalDateTogether([journal([0, 1]), journal([1])])).toEqual({ date: "2025-02-01" });
    // One has February, the other only March.
    expect(reversalDateTogether([journal([1, 2]), journal([0, 2])])).toEqual({
      date: "2025-03-01",
    });
    expect(reversalDateTogether([journal([0]), journal([1])])).toBeNull();
  });
  test("swaps sides, or keeps them with negative amounts so that turnover stays right", () => {
    const posted = {
      id: 1,
      number: "ABC-25-00001",
      company: "ABC",
      type: "general",
      book: null,
      date: "2025-03-09",
      period: months[2]!,
      description: "x",
      reference: "",
      dueAgain: null,
      closing: false,
      currency: null,
      lines: [
        {
          account: "5000",
          dimensions: {},
          description: "",
          side: "debit" as const,
          amount: minor(5n),
          currency: "EUR",
          foreignAmount: minor(5n),
          rate: null,
          counterparty: null,
          quantity: null,
          units: false,
          partner: null,
          dueDate: null,
        },
      ],
    };
    expect(reversalOf(posted, "2025-03-09", undefined, "swap").lines[0]).toMatchObject({
      side: "credit",
      amount: 5n,
    });
    expect(reversalOf(posted, "2025-03-09", undefined, "negative").lines[0]).toMatchObject({
      side: "debit",
      amount: -5n,
    });
  });
});
