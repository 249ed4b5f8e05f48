/** A stretch of one year. Year-end closing journals belong to it or not. */
export interface TraceSpan {
  yearId: number;
  from: number;
  to: number;
  withClosing: boolean;
}

/**
 * One account's share of a figure: its turnover over these spans, times the sign with which the
 * figure shows it.
 */
export interface Part {
  accountId: number;
  spans: readonly TraceSpan[];
  measure: "net" | "debit" | "credit";
  sign: 1 | -1;
}

/** A figure as a tree: what it adds up, down to the accounts. */
export interface TraceNode {
  key: string;
  label: string;
  children?: readonly TraceNode[];
  parts?: readonly Part[];
}

/** Turnover of one account in one period, closing journals apart. Functional minor units. */
export interface Cell {
  yearId: number;
  periodNo: number;
  closing: boolean;
  accountId: number;
  debit: bigint;
  credit: bigint;
}

export type Cells = ReadonlyMap<number, readonly Cell[]>;

export function cellsByAccount(cells: readonly Cell[]): Cells {
  const map = new Map<number, Cell[]>();
  for (const cell of cells) {
    const list = map.get(cell.accountId);
    if (list) list.push(cell);
    else map.set(cell.accountId, [cell]);
  }
  return map;
}

const inSpan = (cell: Cell, span: TraceSpan): boolean =>
  cell.yearId === span.yearId &&
  cell.periodNo >= span.from &&
  cell.periodNo <= span.to &&
  (span.withClosing || !cell.closing);

/** The amount of one cell in a part, signed as the figure shows it. */
export const measured = (
  part: Pick<Part, "measure" | "sign">,
  debit: bigint,
  credit: bigint,
): bigint =>
  BigInt(part.sign) *
  (part.measure === "net" ? debit - credit : part.measure === "debit" ? debit : credit);

/**
 * A part by period: what it is made of in time. Periods without turnover are left out. Ascending by
 * year and period as given.
 */
export function byPeriod(
  part: Part,
  cells: Cells,
): { yearId: number; periodNo: number; amount: bigint }[] {
  const sums = new Map<string, { yearId: number; periodNo: number; amount: bigint }>();
  for (const cell of cells.get(part.accountId) ?? []) {
    if (!part.spans.some((s) => inSpan(cell, s))) continue;
    const key = `${cell.yearId}|${cell.periodNo}`;
    const row = sums.get(key) ?? { yearId: cell.yearId, periodNo: cell.periodNo, amount: 0n };
    row.amount += measured(part, cell.debit, cell.credit);
    sums.set(key, row);
  }
  return [...sums.values()];
}

export const amountOfPart = (part: Part, cells: Cells): bigint =>
  byPeriod(part, cells).reduce((sum, row) => sum + row.amount, 0n);

/** The amount of a figure: the sum of its parts, however deep. */
export const amountOf = (node: TraceNode, cells: Cells): bigint =>
  (node.children ?? []).reduce((sum, child) => sum + amountOf(child, cells), 0n) +
  (node.parts ?? []).reduce((sum, part) => sum + amountOfPart(part, cells), 0n);

/** A cell that knows the journal which made it. */
export interface JournalCell extends Cell {
  journalId: number;
}

/**
 * What each journal does to a figure, signed as the figure shows it; journals that do nothing to it
 * are left out. In the order of the cells.
 */
export function byJournal(
  parts: readonly Part[],
  cells: readonly JournalCell[],
): { journalId: number; amount: bigint }[] {
  const partsOfAccount = new Map<number, Part[]>();
  for (const part of parts)
    partsOfAccount.set(part.accountId, [...(partsOfAccount.get(part.accountId) ?? []), part]);
  const sums = new Map<number, bigint>();
  for (const cell of cells)
    for (const part of partsOfAccount.get(cell.accountId) ?? [])
      if (part.spans.some((s) => inSpan(cell, s)))
        sums.set(
          cell.journalId,
          (sums.get(cell.journalId) ?? 0n) + measured(part, cell.debit, cell.credit),
        );
  return [...sums].flatMap(([journalId, amount]) => (amount === 0n ? [] : [{ journalId, amount }]));
}

/** Every part under a figure. */
export const partsOf = (node: TraceNode): Part[] => [
  ...(node.children ?? []).flatMap(partsOf),
  ...(node.parts ?? []),
];
