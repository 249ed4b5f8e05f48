/** The state of an entry grid, apart from its picture: rows of texts, undo, paste, fill. */
export type GridRow = Readonly<Record<string, string>>;
export interface CellChange {
  row: number;
  key: string;
  value: string;
}

export interface GridHistory {
  rows: readonly GridRow[];
  past: readonly (readonly GridRow[])[];
  future: readonly (readonly GridRow[])[];
}

const DEPTH = 200;

export const startHistory = (rows: readonly GridRow[]): GridHistory => ({
  rows,
  past: [],
  future: [],
});

/** One step that can be undone. Nothing changed, nothing to undo. */
export function step(history: GridHistory, rows: readonly GridRow[]): GridHistory {
  return rows === history.rows
    ? history
    : { rows, past: [...history.past, history.rows].slice(-DEPTH), future: [] };
}
export const undo = (h: GridHistory): GridHistory =>
  h.past.length === 0
    ? h
    : {
        rows: h.past[h.past.length - 1]!,
        past: h.past.slice(0, -1),
        future: [h.rows, ...h.future],
      };
export const redo = (h: GridHistory): GridHistory =>
  h.future.length === 0
    ? h
    : { rows: h.future[0]!, past: [...h.past, h.rows], future: h.future.slice(1) };

export function applyChanges(
  rows: readonly GridRow[],
  changes: readonly CellChange[],
): readonly GridRow[] {
  if (changes.every((c) => (rows[c.row]?.[c.key] ?? "") === c.value)) return rows;
  const next = [...rows];
  for (const { row, key, value } of changes) {
    while (next.length <= row) next.push({});
    next[row] = { ...next[row], [key]: value };
  }
  return next;
}

/**
 * Beside a cell of a table that was not understood stands its text, so that the cell is a problem
 * until it says something else, and is not read in other marks meanwhile.
 */
const beside = (key: string): string => `?${key}`;
export const isUnread = (
  row: GridRow | undefined,
  key: string,
  value: string | undefined = row?.[key],
): boolean => value !== undefined && row?.[beside(key)] === value;

/** A row with what was not understood of it. */
export const withUnread = (
  row: GridRow,
  unread: Readonly<Partial<Record<string, string>>> | undefined,
): GridRow => ({
  ...Object.fromEntries(Object.entries(unread ?? {}).map(([k, v]) => [beside(k), v ?? ""])),
  ...row,
});

/** The cells that still hold what was not understood; undefined where there are none. */
export function unreadOf(row: GridRow): Record<string, string> | undefined {
  const found = Object.entries(row).flatMap(([key, text]) =>
    key.startsWith("?") && row[key.slice(1)] === text ? [[key.slice(1), text] as const] : [],
  );
  return found.length > 0 ? Object.fromEntries(found) : undefined;
}

/** The cells of a row that a person sees, without what stands beside them. */
export const shownCells = (row: GridRow): Record<string, string> =>
  Object.fromEntries(Object.entries(row).filter(([k]) => !/^[?~]/.test(k)));

export type Commit = (rows: readonly GridRow[], change: CellChange) => CellChange[];

/** Lets the page answer between two slices of work. */
export const breathe = (): Promise<void> =>
  new Promise((resolve) => {
    setTimeout(resolve, 0);
  });
/** Longest stretch of work without letting the page answer, in milliseconds. */
const SLICE = 16;

/**
 * Applies many changes, each with what it brings along, without holding the page up however many
 * they are.
 */
export async function commitAll(
  rows: readonly GridRow[],
  changes: readonly CellChange[],
  commit: Commit,
): Promise<readonly GridRow[]> {
  const next = [...rows];
  let start = performance.now();
  for (const change of changes) {
    const changes = isUnread(next[change.row], change.key, change.value)
      ? [change]
      : commit(next, change);
    for (const { row, key, value } of changes) {
      while (next.length <= row) next.push({});
      next[row] = { ...next[row], [key]: value };
    }
    if (performance.now() - start < SLICE) continue;
    await breathe();
    start = performance.now();
  }
  return next;
}

/**
 * Problems at the places where their rows stand now. A problem belongs to its row: rows that were
 * inserted or deleted since take their problems along, and a row that is gone has none. A row that
 * was written in since is another one, and keeps its problems only while no row was moved.
 */
export function moveWithRows(
  problems: ReadonlyMap<string, string>,
  checked: readonly GridRow[] | undefined,
  rows: readonly GridRow[],
): ReadonlyMap<string, string> {
  if (checked === undefined || checked === rows || problems.size === 0) return problems;
  const places = new Map(rows.map((row, i) => [row, i]));
  const moved = new Map<string, string>();
  for (const [key, sentence] of problems) {
    const colon = key.indexOf(":");
    const before = Number(key.slice(0, colon));
    const row = checked[before];
    const place = row && places.get(row);
    if (place !== undefined) moved.set(`${place}${key.slice(colon)}`, sentence);
    else if (rows.length === checked.length) moved.set(key, sentence);
  }
  return moved;
}

export const insertRows = (rows: readonly GridRow[], at: number, count = 1): readonly GridRow[] => [
  ...rows.slice(0, at),
  ...Array.from({ length: count }, (): GridRow => ({})),
  ...rows.slice(at),
];
export const deleteRows = (
  rows: readonly GridRow[],
  from: number,
  to: number,
): readonly GridRow[] => [...rows.slice(0, from), ...rows.slice(to + 1)];

/** Copies whole rows to below them. */
export const duplicateRows = (
  rows: readonly GridRow[],
  from: number,
  to: number,
): readonly GridRow[] =>
  from >= rows.length
    ? rows
    : [...rows.slice(0, to + 1), ...rows.slice(from, to + 1), ...rows.slice(to + 1)];

/**
 * Text from a spreadsheet's clipboard as a block of cells. Quoted cells may hold tabs, line ends
 * and doubled quotes.
 */
export function readBlock(text: string): string[][] {
  const rows: string[][] = [];
  let row: string[] = [];
  let cell = "";
  let quoted = false;
  const body = text.replace(/\r\n?/g, "\n").replace(/\n$/, "");
  for (let i = 0; i < body.length; i++) {
    const c = body[i]!;
    if (quoted) {
      if (c !== '"') cell += c;
      else if (body[i + 1] === '"') {
        cell += '"';
        i++;
      } else quoted = false;
    } else if (c === '"' && cell === "") quoted = true;
    else if (c === "\t") {
      row.push(cell);
      cell = "";
    } else if (c === "\n") {
      rows.push([...row, cell]);
      row = [];
      cell = "";
    } else cell += c;
  }
  rows.push([...row, cell]);
  return rows;
}

/**
 * A block pasted at a cell, over the columns from there on. One value over a larger selection fills
 * it.
 */
export function pasteChanges(
  block: readonly (readonly string[])[],
  at: { row: number; column: number },
  keys: readonly string[],
  selection: { rows: number; columns: number },
): CellChange[] {
  const single = block.length === 1 && block[0]!.length === 1;
  const height = single ? selection.rows : block.length;
  const changes: CellChange[] = [];
  for (let r = 0; r < height; r++) {
    const source = single ? block[0]! : block[r]!;
    const width = single ? selection.columns : source.length;
    for (let c = 0; c < width; c++) {
      const key = keys[at.column + c];
      if (key !== undefined)
        changes.push({ row: at.row + r, key, value: (single ? source[0]! : source[c]!).trim() });
    }
  }
  return changes;
}

export const blockText = <C>(
  rows: readonly GridRow[],
  from: { row: number; column: number },
  to: { row: number; column: number },
  columns: readonly C[],
  cell: (column: C, row: GridRow | undefined) => string,
): string =>
  Array.from({ length: to.row - from.row + 1 }, (_, r) =>
    columns
      .slice(from.column, to.column + 1)
      .map((c) => quoteCell(cell(c, rows[from.row + r])))
      .join("\t"),
  ).join("\n");

const quoteCell = (text: string): string =>
  /[\t\n"]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
