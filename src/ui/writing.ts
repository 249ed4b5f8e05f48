import {
  amountText,
  dateText,
  readDate,
  FIGURE_STYLES,
  readWriting,
  rewriteFigures,
  STANDARD_WRITING,
  writtenDay,
  writtenSentence,
  writtenShortDay,
  type AmountStyle,
  type CalendarDate,
  type NumberFormat,
  type Writing,
} from "@/core/shared";
import { quantityText } from "@/core/ledger";

/**
 * A person's way of writing figures and days. Everything that is kept, sent and computed is in the
 * standard one (`amountText`, `dateText` of core); what a page shows goes through here, and so does
 * what is typed into it. The server knows the request's way (scripts/writing.mjs), the browser the
 * page's.
 */
const STORE = Symbol.for("yellow-anchor.writing");

let known: { code: string | undefined; writing: Writing } = {
  code: undefined,
  writing: STANDARD_WRITING,
};

function writing(): Writing {
  const code =
    typeof document === "undefined"
      ? (globalThis as { [STORE]?: () => string | undefined })[STORE]?.()
      : document.documentElement.dataset.writing;
  // Thousands of figures ask, and nearly always for the same.
  if (code !== known.code) known = { code, writing: readWriting(code) };
  return known.writing;
}

const figures = (): NumberFormat => FIGURE_STYLES[writing().figures];
const STANDARD = FIGURE_STYLES[STANDARD_WRITING.figures];
/** Groups never break over a line. */
const unbroken = (text: string): string => text.replaceAll(" ", "\u00a0");

/** An amount as this person reads it. Units: minor units of `currency`. */
export const shownAmount = (
  amount: bigint,
  currency: string,
  style: Omit<AmountStyle, "format"> = {},
): string => unbroken(amountText(amount, currency, { ...style, format: figures() }));

/** A quantity as this person reads it. Units: thousandths. */
export const shownQuantity = (quantity: bigint): string => shownFigures(quantityText(quantity));

/** A figure, or a text with figures, from the standard way of writing into this person's. */
export const shownFigures = (kept: string): string => {
  const shown = rewriteFigures(kept, STANDARD, figures());
  return figures().group === " " && shown !== kept ? unbroken(shown) : shown;
};

/** What this person typed, in the standard way of writing. */
export const keptFigures = (typed: string): string => rewriteFigures(typed, figures(), STANDARD);

/** A day as this person reads it. */
export const shownDate = (date: CalendarDate): string => writtenDay(date, writing().days);
/** A moment to the minute, in UTC. */
export const shownMoment = (at: string): string =>
  `${shownDate(at.slice(0, 10))} ${at.slice(11, 16)}`;
/** The same where the year is known from around it. */
export const shownDay = (date: CalendarDate): string => writtenShortDay(date, writing().days);

/**
 * What this person typed to look for: a whole day becomes the day as the standard has it, anything
 * else stays.
 */
export function keptDay(typed: string): string {
  const text = typed.trim();
  const whole = /^\d{1,2}[./-]\d{1,2}[./-]\d{4}$|^\d{4}-\d{2}-\d{2}$/.test(text);
  const day = whole ? readDate(text, text) : null;
  return day === null ? typed : dateText(day);
}

/** A sentence of the server, with its amounts and days as this person reads them. */
export const shownSentence = (sentence: string): string => writtenSentence(sentence, writing());
