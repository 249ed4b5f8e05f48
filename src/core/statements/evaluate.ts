import { periodName, type FiscalYear, type Period } from "../organisation";
import { isResult, type Account } from "../ledger";
import type { Column, ColumnLayout, Outline, OutlineLine } from "./types";

/** A stretch of one fiscal year. `from` 0 includes what the year opens with. */
export interface Span {
  yearId: number;
  from: number;
  to: number;
}

/**
 * Turnover of one account in one period (0: opening), in functional minor units. Debit positive in
 * `net`.
 */
export interface Turnover {
  yearId: number;
  periodNo: number;
  accountId: number;
  debit: bigint;
  credit: bigint;
}

export interface EvaluatedColumn {
  key: string;
  label: string;
  /** Null where the column has no data to show (no prior year, say), or is a difference. */
  span: Span | null;
  of: readonly [string, string] | null;
}

export interface EvaluatedLine extends OutlineLine {
  /**
   * By column, in functional minor units, signed as the line shows it. Null for headings and
   * columns without data.
   */
  values: (bigint | null)[];
}

export interface StatementFigures {
  columns: EvaluatedColumn[];
  lines: EvaluatedLine[];
  /**
   * Accounts with a type that belongs here and no line that catches them, and accounts that two
   * lines catch.
   */
  uncaught: Account[];
  caughtTwice: Account[];
}

/** The account types that a statement has to catch. */
export const typesOf = (outline: Pick<Outline, "kind">): ReadonlySet<string> =>
  new Set(outline.kind === "income" ? ["income", "expense"] : ["asset", "liability", "equity"]);

/**
 * Which line of an outline catches each account. Ranges compare as text, padded to equal length.
 */
export function catchAccounts(
  outline: Pick<Outline, "kind" | "lines">,
  accounts: readonly Account[],
): { lineOf: Map<number, string>; uncaught: Account[]; caughtTwice: Account[] } {
  const lineOf = new Map<number, string>();
  const uncaught: Account[] = [];
  const caughtTwice: Account[] = [];
  const types = typesOf(outline);
  for (const account of accounts) {
    if (!types.has(account.type)) continue;
    const catching = outline.lines.filter(
      (l) => l.kind === "accounts" && l.ranges?.some((r) => inRange(account.number, r)),
    );
    if (catching.length === 0) uncaught.push(account);
    if (catching.length > 1) caughtTwice.push(account);
    if (catching[0]) lineOf.set(account.id, catching[0].code);
  }
  return { lineOf, uncaught, caughtTwice };
}

function inRange(number: string, range: { from: string; to: string }): boolean {
  const width = Math.max(number.length, range.from.length, range.to.length);
  const pad = (text: string, fill: string) => text.padEnd(width, fill);
  return pad(number, "0") >= pad(range.from, "0") && pad(number, "0") <= pad(range.to, "9");
}

/**
 * The columns of a layout at a period: labels, and the stretch of the ledger that each shows. With
 * `from`, an earlier period of the year, "this period" is the stretch from there on, and the last
 * and the prior year's are stretches as long; a balance sheet is as of its end whatever `from` is.
 */
export function resolveColumns(
  layout: ColumnLayout,
  kind: Outline["kind"],
  at: Period,
  years: readonly FiscalYear[],
  periods: readonly Period[],
  from: Period = at,
): EvaluatedColumn[] {
  const position = kind === "position";
  const start = position ? 0 : 1;
  const year = years.find((y) => y.id === at.yearId)!;
  const earlierYears = [...years]
    .filter((y) => y.end < year.start)
    .sort((a, b) => (a.start < b.start ? 1 : -1));
  const priorYear = earlierYears[0];
  const own = periods.filter((p) => p.yearId === at.yearId).sort((a, b) => a.no - b.no);
  const prior = priorYear
    ? periods.filter((p) => p.yearId === priorYear.id).sort((a, b) => a.no - b.no)
    : [];
  const named = (p: Period) => periodName(p);
  const length = position ? 1 : at.no - from.no + 1;
  const stretchLabel = (first: Period, last: Period) =>
    first.no === last.no ? named(last) : `${first.name} to ${named(last)}`;
  /** A stretch as long as the chosen one, ending with a period. */
  const ending = (list: readonly Period[], last: Period | undefined) => {
    const first = last && list.find((p) => p.no === last.no - length + 1);
    return first && last
      ? {
          span: { yearId: last.yearId, from: position ? 0 : first.no, to: last.no },
          label: stretchLabel(first, last),
        }
      : null;
  };
  const wide = (p: Period): Span => ({ yearId: p.yearId, from: position ? 0 : p.no, to: p.no });
  const spanOf = (column: Column): { span: Span | null; label: string } => {
    if (column.kind === "month") {
      const period = own.find((p) => p.no === column.month);
      return { span: period ? wide(period) : null, label: period?.name ?? "" };
    }
    if (column.kind === "difference") return { span: null, label: "" };
    if (column.kind === "stretch") {
      const of = [year, ...earlierYears][column.back];
      const last = of && Math.max(0, ...periods.flatMap((p) => (p.yearId === of.id ? [p.no] : [])));
      return {
        span: of
          ? {
              yearId: of.id,
              from: position ? 0 : column.from,
              to: Math.min(column.to, last ?? column.to),
            }
          : null,
        label: of?.name ?? "",
      };
    }
    const same = prior.find((p) => p.no === at.no) ?? prior.filter((p) => !p.adjustment).at(-1);
    switch (column.span) {
      case "this-period":
        return ending(own, at) ?? { span: wide(at), label: named(at) };
      case "last-period": {
        const first = position ? at : from;
        const before = own.filter((p) => p.no < first.no).at(-1);
        const found =
          ending(own, before) ??
          (before ? null : ending(prior, prior.filter((p) => !p.adjustment).at(-1)));
        return found ?? { span: null, label: "Last period" };
      }
      case "year-to-date":
        return { span: { yearId: at.yearId, from: start, to: at.no }, label: "Year to date" };
      case "prior-year":
        return {
          span: same ? { yearId: same.yearId, from: start, to: same.no } : null,
          label: same ? (position ? named(same) : `Prior year to ${same.name}`) : "Prior year",
        };
      case "prior-year-period":
        return ending(prior, same) ?? { span: null, label: "Prior year" };
      case "opening":
        return { span: { yearId: at.yearId, from: 0, to: 0 }, label: "Opening" };
    }
  };
  const labelOf = (key: string): string => {
    const column = layout.find((c) => c.key === key);
    return column ? (column.label ?? spanOf(column).label) : "";
  };
  return layout.map((column) => {
    const { span, label } = spanOf(column);
    return {
      key: column.key,
      label:
        column.label ??
        // Two differences beside each other are told apart by what they compare with.
        (column.kind === "difference"
          ? `Change from ${labelOf(column.of[1]).replace(/^Prior/, "prior")}`
          : label),
      span,
      of: column.kind === "difference" ? column.of : null,
    };
  });
}

/**
 * Evaluates an outline over turnover.
 * Units: functional minor units; a line's value is signed by its `positive` side, so income shows
 * positive and expense negative
 * in an income statement, assets, liabilities and equity positive in a balance sheet. Nothing is
 * rounded.
 * The result of the year is the sum of income and expense from the year's first period; "uncarried"
 * is what the opening balances of
 * the balance-sheet accounts lack of zero. Statements leave year-end closing journals out: the
 * caller passes turnover without them.
 */
export function evaluate(
  outline: Outline,
  columns: readonly EvaluatedColumn[],
  accounts: readonly Account[],
  turnover: readonly Turnover[],
): StatementFigures {
  const { lineOf, uncaught, caughtTwice } = catchAccounts(outline, accounts);
  const typeOf = new Map(accounts.map((a) => [a.id, a.type]));
  const sums = columns.map(() => new Map<string, bigint>());
  const add = (column: number, code: string, net: bigint) =>
    sums[column]?.set(code, (sums[column].get(code) ?? 0n) + net);
  const spans = columns.map((c) => c.span);
  const computed = outline.lines.some((l) => l.kind === "result" || l.kind === "uncarried");
  for (const row of turnover) {
    const net = row.debit - row.credit;
    if (net === 0n) continue;
    const line = lineOf.get(row.accountId);
    const type = typeOf.get(row.accountId);
    spans.forEach((span, i) => {
      if (!span || row.yearId !== span.yearId || row.periodNo > span.to) return;
      if (line !== undefined && row.periodNo >= span.from) add(i, line, net);
      if (!computed) return;
      if (type && isResult(type)) add(i, "#result", row.periodNo >= 1 ? net : 0n);
      else if (row.periodNo === 0 && type !== "units") add(i, "#openings", net);
    });
  }
  const values = new Map<string, (bigint | null)[]>();
  const lines: EvaluatedLine[] = [];
  const byCode = new Map(outline.lines.map((l) => [l.code, l]));
  const netOf = (line: OutlineLine, column: number, depth = 0): bigint => {
    // An outline is data: a total that contains itself must not hang the report.
    if (depth > 50) return 0n;
    if (line.kind === "accounts") return sums[column]!.get(line.code) ?? 0n;
    if (line.kind === "result") return sums[column]!.get("#result") ?? 0n;
    if (line.kind === "uncarried") return -(sums[column]!.get("#openings") ?? 0n);
    if (line.kind === "total")
      return (line.of ?? []).reduce(
        (sum, code) => sum + (byCode.has(code) ? netOf(byCode.get(code)!, column, depth + 1) : 0n),
        0n,
      );
    return 0n;
  };
  for (const line of outline.lines) {
    const own = columns.map((column, i) => {
      if (line.kind === "heading" || !column.span) return null;
      const net = netOf(line, i);
      return line.positive === "debit" ? net : -net;
    });
    columns.forEach((column, i) => {
      if (!column.of || line.kind === "heading") return;
      const [a, b] = column.of.map((key) => own[columns.findIndex((c) => c.key === key)] ?? null);
      own[i] = a === null || b === null || a === undefined || b === undefined ? null : a - b;
    });
    values.set(line.code, own);
    lines.push({ ...line, values: own });
  }
  return { columns: [...columns], lines, uncaught, caughtTwice };
}

/**
 * The lines under a total that catch accounts, or compute, each once: what the total adds up in the
 * end.
 */
export function leavesOf(outline: Pick<Outline, "lines">, code: string): OutlineLine[] {
  const byCode = new Map(outline.lines.map((l) => [l.code, l]));
  const found: OutlineLine[] = [];
  const visit = (c: string, depth: number): void => {
    const line = byCode.get(c);
    if (!line || depth > 50) return;
    if (line.kind === "total") for (const part of line.of ?? []) visit(part, depth + 1);
    else found.push(line);
  };
  visit(code, 0);
  return found;
}
