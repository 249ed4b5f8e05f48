import { daysBetween, minor, type CalendarDate, type Minor } from "../shared";
import { addressLines, letterWriter, type Addressee, type Letter } from "./letter";
import type { LetterLanguage } from "./language";

/** An open item as a letter about an account shows it. */
export interface AccountLine {
  reference: string;
  date: CalendarDate;
  due: CalendarDate;
  currency: string;
  /** What it was invoiced at. */
  invoiced: Minor;
  /** What the letter is about: left of it, asked for, or promised. */
  amount: Minor;
}

export interface AccountPaper {
  kind: "reminder" | "statement" | "promise" | "debit";
  language: LetterLanguage;
  /** Level of a reminder; 0 for the others. */
  level: number;
  date: CalendarDate;
  /** By when it is to be paid, was promised, or will be debited; "" of a statement. */
  until: CalendarDate | "";
  company: Addressee;
  /** The company's currency, in which fees and interest are. */
  currency: string;
  customer: Addressee & { code: string };
  contact: string;
  lines: readonly AccountLine[];
  /** What is charged besides: 0 for nothing. */
  fee: Minor;
  interest: Minor;
  bank: { iban: string; bic: string; reference: string; square: string };
  /** By what a direct debit is made, and from which account; null of all other letters. */
  mandate: { reference: string; creditorId: string; account: string } | null;
  /** With fields in braces: customer, total, day, until, level. */
  opening: string;
  closing: string;
}

/**
 * A letter about what a customer owes: a reminder, a statement of account, what it has promised, or
 * what it will be debited.
 * Amounts in minor units; each currency has totals of its own, fees and interest stand in the
 * company's.
 */
export function accountLetter(paper: AccountPaper): Letter {
  const { word, day } = letterWriter(paper.language);
  const fill = (text: string) => filled(text, paper);
  return {
    language: paper.language,
    title: titleOf(paper),
    recipient: addressLines(paper.customer, paper.company),
    facts: [
      { label: word("date"), text: day(paper.date) },
      { label: word("yourNumber"), text: paper.customer.code },
      { label: word("contact"), text: paper.contact },
      { label: word(UNTIL[paper.kind]), text: day(paper.until) },
      ...(paper.mandate === null
        ? []
        : [
            { label: word("fromAccount"), text: paper.mandate.account },
            { label: word("mandate"), text: paper.mandate.reference },
            { label: word("creditorId"), text: paper.mandate.creditorId },
          ]),
    ].filter((f) => f.text !== ""),
    blocks: [],
    opening: fill(paper.opening),
    ...tableOf(paper),
    totals: totalsOf(paper),
    closing: fill(paper.closing),
    ...(paper.bank.iban === "" || paper.mandate !== null
      ? {}
      : {
          payment: {
            facts: [
              { label: word("payTo"), text: paper.bank.iban },
              { label: "BIC", text: paper.bank.bic },
              { label: word("withReference"), text: paper.bank.reference },
            ].filter((f) => f.text !== ""),
            square: paper.bank.square,
            below: word("scan"),
          },
        }),
  };
}

/** What its day and its amounts are called, by what the letter is about. */
const UNTIL = {
  reminder: "payBy",
  statement: "payBy",
  promise: "promisedFor",
  debit: "debitedOn",
} as const;
const ASKED = {
  reminder: "open",
  statement: "open",
  promise: "promised",
  debit: "debited",
} as const;

/** What such a letter is called, and its mail. */
export function titleOf({
  kind,
  level,
  language,
}: Pick<AccountPaper, "kind" | "level" | "language">): string {
  const { word } = letterWriter(language);
  return level > 1 ? word("reminderAgain").replace("{n}", String(level)) : word(kind);
}

function tableOf(paper: AccountPaper): Pick<Letter, "columns" | "rows"> {
  const { word, amount, day } = letterWriter(paper.language);
  const several = currenciesOf(paper).length > 1;
  const late = paper.kind === "reminder";
  const asked = word(ASKED[paper.kind]);
  const money = (of: bigint, currency: string) =>
    several ? `${amount(of, currency)} ${currency}` : amount(of, currency);
  return {
    columns: [
      { name: word("description"), weight: late ? 28 : 34 },
      { name: word("invoiceDate"), weight: 18 },
      { name: word("due"), weight: 18 },
      ...(late ? [{ name: word("daysLate"), weight: 14, right: true }] : []),
      { name: word("invoiced"), weight: 18, right: true },
      { name: asked, weight: 18, right: true },
    ],
    rows: paper.lines.map((l) => [
      l.reference,
      day(l.date),
      day(l.due),
      ...(late ? [String(Math.max(0, daysBetween(l.due, paper.date)))] : []),
      money(l.invoiced, l.currency),
      money(l.amount, l.currency),
    ]),
  };
}

function totalsOf(paper: AccountPaper): Letter["totals"] {
  const { word, amount } = letterWriter(paper.language);
  const { currency, fee, interest, lines } = paper;
  const charges = [
    { label: word("fee"), amount: fee },
    { label: word("interest"), amount: interest },
  ].filter((c) => c.amount !== 0n);
  const overdue = lines.filter((l) => l.due < paper.date);
  return [
    ...(paper.kind === "statement"
      ? currenciesOf(paper).map((c) => ({
          label: `${word("overdue")} ${c}`,
          text: amount(sumOf(overdue, c), c),
        }))
      : []),
    ...charges.map((c) => ({ label: c.label, text: amount(c.amount, currency) })),
    ...wholeOf(paper).map((s) => ({
      label: `${word("total")} ${s.currency}`,
      text: amount(s.amount, s.currency),
      strong: true,
    })),
  ];
}

/** What the letter comes to in each currency, with what is charged. */
function wholeOf(paper: AccountPaper): { currency: string; amount: Minor }[] {
  const charged = paper.fee + paper.interest;
  const currencies = currenciesOf(paper);
  if (charged !== 0n && !currencies.includes(paper.currency)) currencies.push(paper.currency);
  return currencies.map((c) => ({
    currency: c,
    amount: minor(sumOf(paper.lines, c) + (c === paper.currency ? charged : 0n)),
  }));
}

const currenciesOf = ({ lines }: AccountPaper): string[] =>
  [...new Set(lines.map((l) => l.currency))].sort();

const sumOf = (lines: AccountPaper["lines"], currency: string): Minor =>
  minor(lines.filter((l) => l.currency === currency).reduce((sum, l) => sum + l.amount, 0n));

/** A text with its fields filled in; a field that is not known stays as it was written. */
function filled(text: string, paper: AccountPaper): string {
  const { day, amount } = letterWriter(paper.language);
  const totals = wholeOf(paper).map((s) => `${amount(s.amount, s.currency)} ${s.currency}`);
  const fields: Readonly<Record<string, string>> = {
    customer: paper.customer.name,
    total: totals.join(", "),
    day: day(paper.date),
    until: day(paper.until),
    level: String(paper.level),
  };
  return text.replace(/\{(\w+)\}/g, (whole, name: string) => fields[name] ?? whole);
}
