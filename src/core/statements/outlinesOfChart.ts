import type { Account, Heading } from "../ledger";
import { heading, incomeLayout, positionLayout, total } from "./outlineLines";
import type { Outline, OutlineLine } from "./types";

interface Group {
  code: string;
  label: string;
  /** The top heading that it stands under. */
  top: Heading;
  accounts: Account[];
}

/** Headings as deep as this have a line of their own; what is deeper counts in theirs. */
const DEPTH = 2;

/** The headings above an account, the top one first. */
function pathOf(account: Account, headings: ReadonlyMap<number, Heading>): Heading[] {
  const path: Heading[] = [];
  for (
    let at = headings.get(account.headingId);
    at && !path.includes(at);
    at = at.parentId === null ? undefined : headings.get(at.parentId)
  )
    path.unshift(at);
  return path;
}

const padded = (number: string): string => number.padEnd(20, "0");

/** Accounts by the heading of their line, in the order of their numbers. */
function groupsOf(
  accounts: readonly Account[],
  headings: ReadonlyMap<number, Heading>,
  prefix: string,
): Group[] {
  const groups = new Map<string, Group>();
  for (const account of accounts) {
    const path = pathOf(account, headings);
    const at = path[Math.min(DEPTH, path.length) - 1];
    if (!at) continue;
    const code = `${prefix}-${at.code.toLowerCase().replace(/[^a-z0-9]+/g, "-")}`;
    const group = groups.get(code) ?? { code, label: at.name, top: path[0]!, accounts: [] };
    group.accounts.push(account);
    groups.set(code, group);
  }
  return [...groups.values()];
}

type Ranges = ReadonlyMap<string, { from: string; to: string }[]>;

/** The ranges of each line of a statement; one ends where another line's account follows. */
function rangesOf(groups: readonly Group[]): Ranges {
  const lineOf = new Map(groups.flatMap((g) => g.accounts.map((a) => [a.number, g.code] as const)));
  const order = [...lineOf.keys()].sort((a, b) => (padded(a) < padded(b) ? -1 : 1));
  const ranges = new Map<string, { from: string; to: string }[]>(groups.map((g) => [g.code, []]));
  let last = "";
  for (const number of order) {
    const code = lineOf.get(number)!;
    const own = ranges.get(code)!;
    if (code === last) own.at(-1)!.to = number;
    else own.push({ from: number, to: number });
    last = code;
  }
  return ranges;
}

const lineOf = (group: Group, ranges: Ranges, positive: "debit" | "credit"): OutlineLine => ({
  code: group.code,
  label: group.label,
  level: 1,
  kind: "accounts",
  positive,
  ranges: ranges.get(group.code)!,
});

/** The lines with a total for each top heading that has several. */
function withTotals(groups: readonly Group[], ranges: Ranges): OutlineLine[] {
  return [...new Set(groups.map((g) => g.top))].flatMap((top) => {
    const own = groups.filter((g) => g.top === top).map((g) => lineOf(g, ranges, "credit"));
    const codes = own.map((l) => l.code);
    return own.length > 1 ? [...own, total(`total-${codes[0]}`, top.name, codes)] : own;
  });
}

/**
 * An income statement and a balance sheet made of a chart's own headings: a line for each heading
 * of the second level with the accounts below it, a total for each of the first. Every account that
 * a statement is about stands in one line; where numbers are of several lengths and begin alike,
 * ranges may meet, which the page of outlines says.
 */
export function outlinesOfChart(
  headings: readonly Heading[],
  accounts: readonly Account[],
): Outline[] {
  const byId = new Map(headings.map((h) => [h.id, h]));
  const sorted = [...accounts].sort((a, b) => (padded(a.number) < padded(b.number) ? -1 : 1));
  const of = (...types: string[]) => sorted.filter((a) => types.includes(a.type));
  const codesOf = (groups: readonly Group[]) => groups.map((g) => g.code);
  const income = groupsOf(of("income", "expense"), byId, "r");
  const assets = groupsOf(of("asset"), byId, "a");
  const equity = groupsOf(of("equity"), byId, "e");
  const liabilities = groupsOf(of("liability"), byId, "l");
  const ranges = rangesOf(income);
  const position = rangesOf([...assets, ...equity, ...liabilities]);
  return [
    {
      code: "income-statement",
      version: 1,
      name: "Income statement",
      kind: "income",
      lines: [
        ...withTotals(income, ranges),
        total("result", "Result for the period", codesOf(income), "credit", "double"),
      ],
      layout: incomeLayout,
    },
    {
      code: "balance-sheet",
      version: 1,
      name: "Balance sheet",
      kind: "position",
      lines: [
        heading("assets", "Assets"),
        ...assets.map((g) => lineOf(g, position, "debit")),
        total("total-assets", "Total assets", codesOf(assets), "debit", "double"),
        heading("equity-and-liabilities", "Equity and liabilities"),
        ...equity.map((g) => lineOf(g, position, "credit")),
        {
          code: "uncarried",
          label: "Results of earlier years, year end not posted",
          level: 1,
          kind: "uncarried",
          positive: "credit",
        },
        {
          code: "result",
          label: "Result of the year",
          level: 1,
          kind: "result",
          positive: "credit",
        },
        total("equity", "Equity", [...codesOf(equity), "uncarried", "result"]),
        ...liabilities.map((g) => lineOf(g, position, "credit")),
        total("liabilities", "Liabilities", codesOf(liabilities)),
        total(
          "total-equity-and-liabilities",
          "Total equity and liabilities",
          ["equity", "liabilities"],
          "credit",
          "double",
        ),
      ],
      layout: positionLayout,
    },
  ];
}
