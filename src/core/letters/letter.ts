import {
  amountText,
  FIGURE_STYLES,
  rewriteFigures,
  STANDARD_WRITING,
  writtenDay,
  type CalendarDate,
  type Minor,
} from "../shared";
import { letterWord, writingOf, type LetterLanguage, type LetterWord } from "./language";

/** A company or partner as letters name it. */
export interface Addressee {
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
}

/** A paper that goes out, as it is drawn: every text as the reader sees it. */
export interface Letter {
  language: LetterLanguage;
  title: string;
  recipient: readonly string[];
  facts: readonly { label: string; text: string }[];
  /** Blocks of their own before the opening: where to deliver. */
  blocks: readonly { label: string; lines: readonly string[] }[];
  opening: string;
  columns: readonly { name: string; weight: number; right?: boolean }[];
  rows: readonly (readonly string[])[];
  totals: readonly { label: string; text: string; strong?: boolean }[];
  closing: string;
  /** How it is paid: facts, and a square to be scanned where there is one. */
  payment?: { facts: readonly { label: string; text: string }[]; square: string; below: string };
}

/** The lines of an address; the country only where it is another than the sender's. */
export function addressLines(to: Addressee, sender: Pick<Addressee, "country">): string[] {
  const country = to.country === sender.country ? "" : to.country;
  return [to.name, to.street, `${to.postcode} ${to.city}`.trim(), country].filter(
    (line) => line !== "",
  );
}

/** Words, amounts and days of a letter in its language. */
export function letterWriter(language: LetterLanguage) {
  const { figures, days } = writingOf(language);
  const format = FIGURE_STYLES[figures];
  return {
    word: (word: LetterWord) => letterWord(word, language),
    amount: (amount: Minor | bigint, currency: string) => amountText(amount, currency, { format }),
    /** A quantity, price or percentage that was written in the standard way. */
    figure: (text: string) => rewriteFigures(text, FIGURE_STYLES[STANDARD_WRITING.figures], format),
    day: (date: CalendarDate | "") => (date === "" ? "" : writtenDay(date, days)),
  };
}
