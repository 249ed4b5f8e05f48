import { format as formatDay, parseISO } from "date-fns";
import {
  amountText,
  DEFAULT_FORMAT,
  plainFigure,
  plainMarks,
  type NumberFormat,
} from "./amountText";
import { isCalendarDate, type CalendarDate } from "./calendarDate";

/**
 * How people write figures. What is kept is written in one way, the first; a person's own way begins
 * and ends at the screen.
 */
export const FIGURE_STYLES = {
  point: { decimal: ".", group: "," },
  comma: { decimal: ",", group: "." },
  space: { decimal: ",", group: " " },
  apostrophe: { decimal: ".", group: "'" },
} as const satisfies Record<string, NumberFormat>;
export type FigureStyle = keyof typeof FIGURE_STYLES;

/** How people write days. */
export const DAY_STYLES = {
  words: { full: "d MMM yyyy", short: "d MMM" },
  points: { full: "dd.MM.yyyy", short: "dd.MM." },
  slashes: { full: "dd/MM/yyyy", short: "dd/MM" },
  dashes: { full: "dd-MM-yyyy", short: "dd-MM" },
  iso: { full: "yyyy-MM-dd", short: "MM-dd" },
} as const;
export type DayStyle = keyof typeof DAY_STYLES;

export interface Writing {
  figures: FigureStyle;
  days: DayStyle;
}
/** How everything is written that is kept, and how a person reads who has chosen nothing. */
export const STANDARD_WRITING: Writing = { figures: "point", days: "words" };

/** A way of writing as one word for a cookie or a setting: "comma.points". */
export const writingCode = ({ figures, days }: Writing): string => `${figures}.${days}`;

/** Reads such a word; the standard for whatever is none. */
export function readWriting(code: string | undefined | null): Writing {
  const [figures = "", days = ""] = (code ?? "").split(".");
  return Object.hasOwn(FIGURE_STYLES, figures) && Object.hasOwn(DAY_STYLES, days)
    ? { figures: figures as FigureStyle, days: days as DayStyle }
    : STANDARD_WRITING;
}

/** A day in a person's way of writing. Text that is no date is given back as it is. */
export const writtenDay = (date: CalendarDate, style: DayStyle): string =>
  isCalendarDate(date) ? formatDay(parseISO(date), DAY_STYLES[style].full) : date;
/** The same where the year is known from around it. */
export const writtenShortDay = (date: CalendarDate, style: DayStyle): string =>
  isCalendarDate(date) ? formatDay(parseISO(date), DAY_STYLES[style].short) : date;

/** A figure with its sign, as a whole: "−1,234.50", "(12)", "12-". */
const SIGNED = /^(\(?\s*[-+−–]?\s*)([\d][\d.,'’\s]*|[.,]\d+)(\s*[-−–]?\s*\)?)$/;
/** A figure within a text: digits, and marks with digits behind them. */
const WITHIN = /\d+(?:[.,'’]\d+)*/g;

/**
 * What was typed or kept, with its figures in another way of writing: every digit stays, only marks
 * change. Where the whole text is a figure, it is that; in other texts ("=12.5*3", ">500",
 * "30% of 6410") each figure is rewritten by itself, and loses the marks between its groups.
 * A figure that is not understood in `from` stays as it is.
 */
export function rewriteFigures(text: string, from: NumberFormat, to: NumberFormat): string {
  if (same(from, to) || !/[.,'’\s]/.test(text)) return text;
  const whole = text.includes("..") ? null : SIGNED.exec(text.trim());
  if (whole) {
    const figure = rewritten(whole[2]!, from, to);
    return figure === null ? text : `${whole[1]}${figure}${whole[3]}`;
  }
  return text.replace(WITHIN, (figure) => rewritten(figure, from, to, false) ?? figure);
}

const same = (a: NumberFormat, b: NumberFormat): boolean =>
  a.decimal === b.decimal && a.group === b.group;

function rewritten(
  figure: string,
  from: NumberFormat,
  to: NumberFormat,
  groups = true,
): string | null {
  const typed = plainMarks(figure);
  const spaced: NumberFormat = { decimal: from.decimal, group: " " };
  const plain = plainFigure(typed, from) ?? plainFigure(typed, spaced);
  if (plain === null) return null;
  const [digits = "", fraction] = plain.split(".");
  const grouped = groups && digits.length < typed.split(from.decimal)[0]!.length;
  const shown = grouped ? digits.replace(/\B(?=(\d{3})+(?!\d))/g, to.group) : digits;
  return fraction === undefined ? shown : `${shown}${to.decimal}${fraction}`;
}

/** Figures as sentences hold them: whole groups, and decimals as amounts and quantities have them. */
const FIGURE_IN_SENTENCE =
  /(?<![\w.,/-])(?:\d{1,3}(?:,\d{3})+(?:\.\d{1,6})?|\d{1,3}\.\d{1,6})(?![\w/-]|[.,]\d)/g;
const DAY_IN_SENTENCE =
  /(?<![\w.])(\d{1,2}) (Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec) (\d{4})(?!\w)/g;
const MONTHS = "Jan Feb Mar Apr May Jun Jul Aug Sep Oct Nov Dec".split(" ");

/**
 * A sentence of ours, as the standard has it, with its amounts and days in a person's way of writing.
 * Once: what is written so already would be read as the standard again.
 */
export function writtenSentence(sentence: string, { figures, days }: Writing): string {
  const format = FIGURE_STYLES[figures];
  return sentence
    .replace(FIGURE_IN_SENTENCE, (figure) => rewriteFigures(figure, DEFAULT_FORMAT, format))
    .replace(DAY_IN_SENTENCE, (found, day: string, month: string, year: string) => {
      const number = String(MONTHS.indexOf(month) + 1).padStart(2, "0");
      const date = `${year}-${number}-${day.padStart(2, "0")}`;
      return isCalendarDate(date) ? writtenDay(date, days) : found;
    });
}

/** What a way of writing looks like, for whoever chooses one. */
export const sampleFigure = (style: FigureStyle): string =>
  amountText(123456789n, "EUR", { format: FIGURE_STYLES[style] });
