import {
  DEFAULT_FORMAT,
  plainMarks,
  readFigure,
  type AmountReading,
  type NumberFormat,
} from "./amountText";
import { isCalendarDate, type CalendarDate } from "./calendarDate";

/** What may stand around a figure: signs, brackets, a currency's code or sign. */
const AROUND = /^[A-Z]{3} |[ ][A-Z]{3}$|[€$£¥+\-()]/g;
/** The digits and marks of a cell that could be a figure; null where it holds anything else. */
function bareFigure(cell: string): string | null {
  const body = plainMarks(cell).replace(AROUND, "").trim();
  return /^[\d.,' ]+$/.test(body) && /\d/.test(body) ? body : null;
}
export const looksLikeFigure = (cell: string): boolean => bareFigure(cell) !== null;

export interface NumberMarks {
  format: NumberFormat;
  /** Cells left no doubt: false where all figures with a mark can be read in two ways. */
  certain: boolean;
}

/** The decimal mark that a figure can only have; null where it leaves it open. */
function decimalOf(body: string): "." | "," | null {
  const [lastComma, lastPoint] = [body.lastIndexOf(","), body.lastIndexOf(".")];
  if (lastComma >= 0 && lastPoint >= 0) return lastComma > lastPoint ? "," : ".";
  const mark = lastComma >= 0 ? "," : lastPoint >= 0 ? "." : null;
  if (mark === null) return null;
  const other = mark === "," ? "." : ",";
  if (body.indexOf(mark) !== body.lastIndexOf(mark)) return other;
  const groups = /[' ]/.test(body) || body.length - body.lastIndexOf(mark) - 1 !== 3;
  return groups ? mark : null;
}

/**
 * How figures are written in a table, decided by the cells that leave no doubt.
 * Rule: a mark followed by other than three digits, or after other groups, is decimal; where both
 * marks stand, the last one is; a mark that stands twice is none. The mark between groups is the one
 * that the table uses throughout; where it uses several, only the usual one counts, so that the
 * others stay problems. Decimal point where nothing tells.
 */
export function readNumberMarks(cells: readonly string[]): NumberMarks {
  const bodies = cells.flatMap((cell) => bareFigure(cell) ?? []);
  const told = bodies.map(decimalOf);
  const commas = told.filter((d) => d === ",").length;
  const points = told.filter((d) => d === ".").length;
  const decimal = commas > points ? "," : ".";
  const usual = decimal === "," ? "." : ",";
  const whole = (body: string) => body.split(decimal)[0]!;
  const used = new Set(bodies.flatMap((b) => whole(b).match(/[^\d]/g) ?? []));
  const group = used.size === 1 ? ([...used][0] as NumberFormat["group"]) : usual;
  const grouped = bodies.map(whole).filter((w) => w.split(group).length > 2);
  // Groups of two are written with commas, and then in every figure long enough to show it.
  const pairs =
    group === "," &&
    grouped.length > 0 &&
    grouped.every((w) =>
      w
        .split(group)
        .slice(1, -1)
        .every((part) => part.length === 2),
    );
  return {
    format: pairs ? { decimal, group, pairs } : { decimal, group },
    certain: commas + points > 0 || !bodies.some((b) => /[.,]/.test(b)),
  };
}
export const readNumberFormat = (cells: readonly string[]): NumberFormat =>
  readNumberMarks(cells).format;

const SIGNS: Readonly<Record<string, readonly string[]>> = {
  "€": ["EUR"],
  "£": ["GBP"],
  "¥": ["JPY", "CNY"],
  $: ["USD", "CAD", "AUD", "NZD", "SGD", "HKD", "MXN"],
};

/**
 * Reads a figure of a table in the table's marks. A currency beside it has to be the row's own.
 * Units, rounding and faults as `readFigure`.
 */
export function readTableFigure(
  text: string,
  currency: string,
  format: NumberFormat = DEFAULT_FORMAT,
): AmountReading {
  const plain = plainMarks(text);
  const beside = /^([A-Z]{3}) (.*)$/.exec(plain) ?? /^()(.*) ([A-Z]{3})$/.exec(plain);
  const code = beside ? beside[1] || beside[3] : undefined;
  const body = beside ? beside[2]! : plain;
  const sign = /[€$£¥]/.exec(body)?.[0];
  const strange =
    (code !== undefined && code !== currency) ||
    (sign !== undefined && !SIGNS[sign]!.includes(currency));
  if (strange) return { ok: false, fault: "not-a-number" };
  return readFigure(sign ? body.replace(sign, "") : body, currency, format);
}

export type DateOrder = "ymd" | "dmy" | "mdy";
export interface DateMarks {
  order: DateOrder;
  /** False where every date can be read in two ways. */
  certain: boolean;
}

/**
 * In which order the numbers of dates stand, decided by numbers that can be no month. Day first,
 * where nothing tells, and then it is not certain.
 */
export function readDateMarks(cells: readonly string[]): DateMarks {
  let [day, month, open] = [0, 0, 0];
  for (const cell of cells) {
    const body = withoutTime(cell);
    if (/^\d{4}[-/.]\d/.test(body)) return { order: "ymd", certain: true };
    if (!/^\d{1,2}[-/. ]\d{1,2}[-/. ]\d{2,4}$/.test(body)) continue;
    const [a = 0, b = 0] = (body.match(/\d+/g) ?? []).map(Number);
    if (a > 12 && b <= 12) day++;
    else if (b > 12 && a <= 12) month++;
    else if (a !== b) open++;
  }
  const order = month > day ? "mdy" : "dmy";
  return { order, certain: day + month > 0 || open === 0 };
}
export const readDateOrder = (cells: readonly string[]): DateOrder => readDateMarks(cells).order;

const MONTHS =
  "january february march april may june july august september october november december".split(
    " ",
  );
/** The number of a month by its name or the first three letters and more of it. */
const monthOf = (name: string): string | null => {
  const at = MONTHS.findIndex((m) => name.length >= 3 && m.startsWith(name.toLowerCase()));
  return at < 0 ? null : String(at + 1);
};
/** A spreadsheet writes a day with its time. */
const withoutTime = (text: string): string =>
  text.trim().replace(/[T ]([01]?\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$/, "");

/**
 * Reads a date written in the column's order, or with a month's name, or as eight digits, or as a
 * spreadsheet's serial day. Null where it is none, or stands in another order than the column's.
 */
export function readDateIn(text: string, order: DateOrder): CalendarDate | null {
  const body = withoutTime(text);
  const serial = /^\d{5}$/.test(body) ? Number(body) : null;
  if (serial !== null)
    return new Date(Date.UTC(1899, 11, 30) + serial * 86_400_000).toISOString().slice(0, 10);
  const parts = body.split(/[-/.\s,]+/).filter(Boolean);
  if (/^\d{8}$/.test(body)) return dateOf(body.slice(0, 4), body.slice(4, 6), body.slice(6));
  if (parts.length !== 3) return null;
  const [a, b, c] = parts as [string, string, string];
  const yearFirst = a.length === 4;
  if (monthOf(a)) return dateOf(c, monthOf(a)!, b);
  if (monthOf(b)) return yearFirst ? dateOf(a, monthOf(b)!, c) : dateOf(c, monthOf(b)!, a);
  if (yearFirst || order === "ymd") return yearFirst && order === "ymd" ? dateOf(a, b, c) : null;
  return order === "mdy" ? dateOf(c, a, b) : dateOf(c, b, a);
}

function dateOf(year: string, month: string, day: string): CalendarDate | null {
  if (!/^(\d{2}|\d{4})$/.test(year) || ![month, day].every((p) => /^\d{1,2}$/.test(p))) return null;
  const whole = year.length === 2 ? `20${year}` : year;
  const date = `${whole}-${month.padStart(2, "0")}-${day.padStart(2, "0")}`;
  return isCalendarDate(date) ? date : null;
}

/** A heading without what is written for the eye: small letters and digits; accents go as well. */
export const plainName = (text: string): string =>
  text
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/ł/g, "l")
    .replace(/ß/g, "ss")
    .replace(/[^\p{L}\p{N}]/gu, "");
