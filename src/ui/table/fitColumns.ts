import type { TableColumn } from "./tableColumn";

/** A column without a width of its own is at least this wide. */
const FLEXIBLE = 160;
/** An amount of ten digits, with its marks. */
const AMOUNT = 108;
/** What is no wider than this holds dates, codes and states: it gives little. */
const NARROW = 112;
/** Pinned columns take no more than this part of the room. */
const PINNED = 0.35;

export interface Fitted {
  /** Pixels; undefined where the column takes what is left. */
  width: number | undefined;
  /** Pixels from the right edge at which it stays in sight; undefined where it scrolls. */
  pinned: number | undefined;
}

/**
 * The widths of columns in the room that there is (pixels, null where it is not known yet). Where
 * they don't fit, texts give way before dates, and dates before amounts; where that is not enough,
 * the amounts at the right end stay in sight and the others scroll below them.
 */
export function fitColumns(
  columns: readonly Pick<TableColumn<never>, "width" | "align">[],
  room: number | null,
): Fitted[] {
  const wanted = columns.map((c) => c.width ?? FLEXIBLE);
  const sum = (widths: readonly number[]) => widths.reduce((a, b) => a + b, 0);
  const over = room === null ? 0 : sum(wanted) - room;
  if (over <= 0) return columns.map((c) => ({ width: c.width, pinned: undefined }));
  const least = columns.map((c, i) => leastOf(wanted[i]!, c.align === "right"));
  const slack = sum(wanted) - sum(least);
  const part = Math.min(1, over / slack);
  const widths = wanted.map((w, i) => Math.floor(w - (w - least[i]!) * part));
  return over <= slack
    ? widths.map((width) => ({ width, pinned: undefined }))
    : pin(columns, widths, room!);
}

function leastOf(width: number, amount: boolean): number {
  if (amount) return Math.min(width, AMOUNT);
  return width <= NARROW
    ? Math.ceil(width * 0.88)
    : Math.floor(Math.max(NARROW * 0.8, width * 0.5));
}

function pin(
  columns: readonly Pick<TableColumn<never>, "align">[],
  widths: readonly number[],
  room: number,
): Fitted[] {
  const fitted: Fitted[] = widths.map((width) => ({ width, pinned: undefined }));
  let right = 0;
  for (let i = columns.length - 1; i >= 0 && columns[i]!.align === "right"; i--) {
    if (right + widths[i]! > room * PINNED) break;
    fitted[i]!.pinned = right;
    right += widths[i]!;
  }
  return fitted;
}

/** How a cell of a column is aligned, and where it stays. */
export const cellPlace = (column: Pick<TableColumn<never>, "align">, { pinned }: Fitted) => ({
  className: `${column.align === "right" ? "num" : ""}${pinned === undefined ? "" : " pinned"}`,
  ...(pinned !== undefined && { style: { right: pinned } }),
});
