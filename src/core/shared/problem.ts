import { amountText } from "./amountText";
import type { Minor } from "./minor";

/**
 * Everything that can be wrong, as data. The sentence for each code stands in `wording`;
 * a code without a sentence does not compile.
 */
export type Problem =
  // Text and figures
  | { code: "REQUIRED"; what: string }
  | { code: "INVALID"; what: string }
  | { code: "TEXT_TOO_LONG"; what: string; limit: number; length: number }
  | { code: "AMOUNT_NOT_NUMBER"; text: string }
  | { code: "AMOUNT_DECIMALS"; text: string; currency: string; decimals: number }
  | { code: "AMOUNT_TOO_LARGE"; text: string }
  | { code: "FIGURE_UNREAD"; text: string }
  | { code: "DATE_UNREAD"; text: string }
  | { code: "ROW_DIFFERS"; what: string; text: string; said: string }
  | { code: "RULE_INVALID"; text: string }
  | { code: "BOTH_SIDES" }
  | { code: "NO_AMOUNT" }
  | { code: "DATE_INVALID"; text: string }
  // Master data
  | { code: "COMPANY_UNKNOWN"; company: string }
  | { code: "TYPE_UNKNOWN"; type: string }
  | { code: "TYPE_NOT_MANUAL"; type: string }
  | { code: "BOOK_UNKNOWN"; book: string }
  | { code: "BOOK_ENDED"; book: string }
  | { code: "ACCOUNT_UNKNOWN"; account: string }
  | { code: "ACCOUNT_BLOCKED"; account: string; name: string }
  | { code: "ACCOUNT_CURRENCY"; account: string; name: string; only: string; currency: string }
  | { code: "ACCOUNT_NOT_USED"; account: string; name: string; company: string }
  | { code: "TYPE_BOOK"; type: string; books: string }
  | { code: "CONTROL_ACCOUNT"; account: string; control: string }
  | { code: "CONTROL_IN_ONE_BOOK"; account: string; control: string; book: string }
  | { code: "DIMENSION_UNKNOWN"; dimension: string }
  | { code: "VALUE_UNKNOWN"; dimension: string; value: string }
  | { code: "VALUE_BLOCKED"; dimension: string; value: string }
  | { code: "VALUE_NOT_ACTIVE"; dimension: string; value: string; date: string }
  | { code: "DIMENSION_REQUIRED"; dimension: string; account: string }
  | { code: "DIMENSION_FORBIDDEN"; dimension: string; account: string }
  | {
      code: "RATE_MISSING";
      from: string;
      to: string;
      kind: string;
      date: string;
      /** Whether one that is typed would not do. */
      refused?: boolean;
    }
  | {
      code: "RATE_OLD";
      from: string;
      to: string;
      date: string;
      age: number;
      on: string;
      refused?: boolean;
    }
  | { code: "RATE_INVALID"; text: string }
  | { code: "PAIR_MISSING"; company: string; other: string }
  | { code: "PURPOSE_MISSING"; purpose: string }
  | { code: "QUANTITY_INVALID"; text: string }
  | { code: "QUANTITY_MISSING"; account: string }
  | { code: "MONEY_ON_UNITS"; account: string }
  | { code: "PARTNER_REQUIRED"; account: string }
  | { code: "DUE_DATE_REQUIRED"; account: string }
  | { code: "REFERENCE_REQUIRED"; account: string }
  | { code: "CURRENCY_UNKNOWN"; currency: string }
  // Invoices
  | { code: "TAX_UNKNOWN"; tax: string }
  | { code: "TAX_RATE_MISSING"; tax: string; date: string }
  | { code: "INVOICE_TOTAL"; paper: string; computed: string; difference: string }
  | { code: "INVOICE_DOUBLE"; number: string; supplier: string; date: string }
  // Open items
  | { code: "PARTNER_UNKNOWN"; partner: string }
  | { code: "ITEM_OTHER_PARTNER" }
  | { code: "ITEM_OTHER_CURRENCY"; first: string; second: string }
  | { code: "ITEM_SAME_SIDE" }
  | { code: "ITEM_OVERALLOCATED"; wanted: Minor; left: Minor; currency: string }
  | { code: "ITEM_ALLOCATED"; reference: string; by: string }
  // The journal as a whole
  | { code: "NO_LINES" }
  | { code: "TOO_MANY_LINES"; limit: number }
  | { code: "UNBALANCED"; debits: string; credits: string; difference: string; book: string | null }
  | {
      code: "FOREIGN_UNBALANCED";
      debits: string;
      credits: string;
      difference: string;
      currency: string;
    }
  | { code: "VALUE_UNBALANCED"; dimension: string; value: string; difference: string }
  | {
      code: "CONTROL_TOTAL";
      currency: string;
      control: string;
      entered: string;
      difference: string;
    }
  | { code: "APPROVAL_NEEDED"; why: string }
  | { code: "LOADED_BEFORE"; by: string; at: string; number: string }
  | { code: "READING_NEEDED"; file: string }
  | { code: "BATCH_EMPTY" }
  | { code: "BATCH_POSTED" }
  // Periods
  | { code: "PERIOD_MISSING"; date: string; company: string }
  | { code: "PERIOD_UNKNOWN"; period: string; company: string }
  | { code: "PERIOD_NOT_OPENED"; period: string; company: string }
  | { code: "PERIOD_CLOSED"; period: string; company: string }
  | { code: "PERIOD_CLOSING"; period: string; company: string }
  | { code: "PERIOD_AREA"; period: string; area: string; state: string }
  | { code: "PERIOD_DATE"; period: string; date: string }
  | { code: "PERIOD_STEP"; period: string; from: string; to: string }
  | { code: "PERIOD_EARLIER_OPEN"; period: string; earlier: string }
  | { code: "PERIOD_LATER_CLOSED"; period: string; later: string }
  | { code: "PERIOD_EARLIER_NOT_OPENED"; period: string; earlier: string }
  | { code: "REASON_REQUIRED" }
  | { code: "CHECKS_FAIL"; count: number }
  | { code: "YEAR_EXISTS"; year: string }
  | { code: "YEAR_GAP"; date: string }
  | { code: "NO_OPEN_PERIOD_AFTER"; date: string }
  // Things and their state
  | { code: "NOT_FOUND"; what: string }
  | { code: "STALE"; by: string; at: string }
  | { code: "ALREADY_POSTED"; number: string }
  | { code: "ALREADY_REVERSED"; by: string }
  | { code: "REVERSAL_NOT_REVERSED"; number: string }
  | { code: "REVERSE_BY_RUN"; run: string }
  | { code: "IN_USE"; what: string }
  | { code: "EXISTS"; what: string }
  | { code: "RUN_STATE"; state: string }
  | { code: "RUN_MOVED"; what: string }
  | { code: "RUN_STANDS_IN_WAY"; what: string }
  | { code: "RUN_APPROVAL"; why: string }
  | { code: "YEAR_END_POSTED"; year: string; book: string; run: string }
  | { code: "YEAR_END_NOTHING"; year: string; book: string }
  // People
  | { code: "FORBIDDEN"; what: string }
  | { code: "SIGN_IN_FAILED" }
  | { code: "SECOND_FACTOR_NEEDED" }
  | { code: "SECOND_FACTOR_WRONG" }
  | { code: "SIGN_IN_LOCKED"; minutes: number }
  | { code: "TOO_MANY_REQUESTS" }
  | { code: "PASSWORD_LENGTH" }
  | { code: "PASSWORD_NAME" }
  | { code: "PASSWORD_COMMON" }
  | { code: "LAST_ADMINISTRATOR" }
  | { code: "IDEMPOTENCY_REUSED" }
  | { code: "UNAVAILABLE"; what: string };

export type ProblemCode = Problem["code"];

const wording: { [C in ProblemCode]: (p: Extract<Problem, { code: C }>) => string } = {
  REQUIRED: (p) => `${p.what} is missing.`,
  INVALID: (p) => `${p.what}.`,
  TEXT_TOO_LONG: (p) =>
    `${p.what} has ${p.length.toLocaleString("en")} characters; at most ${p.limit} fit.`,
  AMOUNT_NOT_NUMBER: (p) => `“${cut(p.text)}” is not an amount. Write it like 1,234.50.`,
  AMOUNT_DECIMALS: (p) =>
    p.decimals === 0
      ? `“${cut(p.text)}” has decimals; ${p.currency} has none.`
      : `“${cut(p.text)}” has more than the ${p.decimals} decimals of ${p.currency}.`,
  AMOUNT_TOO_LARGE: (p) => `“${cut(p.text)}” is larger than a line may be.`,
  FIGURE_UNREAD: (p) =>
    p.text.startsWith("=")
      ? `“${cut(p.text)}” is a formula without a stored result. Save the workbook again, or type the figure.`
      : `“${cut(p.text)}” is not a figure as this table writes them. Correct it.`,
  DATE_UNREAD: (p) => `“${cut(p.text)}” is not a date as this table writes them. Correct it.`,
  ROW_DIFFERS: (p) =>
    `The row says ${p.what} ${cut(p.text)}, its journal ${cut(p.said) || "none"}. Correct one of them, or give the row a journal of its own.`,
  RULE_INVALID: (p) =>
    `“${cut(p.text)}” is no amount and no rule for one. Write an amount, ?, 4% of 4010, 0.35 per 9010, rest, or rest by 9010.`,
  BOTH_SIDES: () => "A line has a debit or a credit, not both.",
  NO_AMOUNT: () => "The line has no amount.",
  DATE_INVALID: (p) => `“${cut(p.text)}” is not a date that exists.`,
  COMPANY_UNKNOWN: (p) => `There is no company ${cut(p.company)}.`,
  TYPE_UNKNOWN: (p) => `There is no journal type ${cut(p.type)}.`,
  TYPE_NOT_MANUAL: (p) => `Journals of type ${p.type} are made by the system, not entered.`,
  BOOK_ENDED: (p) => `Book ${cut(p.book)} has ended; it takes no more postings.`,
  BOOK_UNKNOWN: (p) => `There is no book ${cut(p.book)}.`,
  ACCOUNT_UNKNOWN: (p) => `There is no account ${cut(p.account)}.`,
  ACCOUNT_BLOCKED: (p) => `Account ${p.account} ${p.name} is blocked. Choose another account.`,
  ACCOUNT_CURRENCY: (p) =>
    `Account ${p.account} ${cut(p.name)} takes ${p.only} only; this is in ${p.currency}.`,
  ACCOUNT_NOT_USED: (p) =>
    `${p.company} does not use account ${p.account} ${p.name}. Choose another, or have it switched on for the company.`,
  TYPE_BOOK: (p) =>
    `Journals of type ${p.type} belong to one book alone: ${p.books}. Choose it, or another type.`,
  CONTROL_ACCOUNT: (p) =>
    `Account ${p.account} is ${article(p.control)} ${p.control} control account, which only documents of its area reach. Choose another account.`,
  CONTROL_IN_ONE_BOOK: (p) =>
    `Account ${p.account} is a ${p.control} control account and cannot differ between books. Post to all books, or use an adjustment account in ${p.book}.`,
  DIMENSION_UNKNOWN: (p) => `There is no dimension ${cut(p.dimension)}.`,
  VALUE_UNKNOWN: (p) => `There is no ${p.dimension} ${cut(p.value)}.`,
  VALUE_BLOCKED: (p) =>
    `${upper(p.dimension)} ${p.value} is blocked or only sums others. Choose a value below it.`,
  VALUE_NOT_ACTIVE: (p) => `${upper(p.dimension)} ${p.value} is not active on ${p.date}.`,
  DIMENSION_REQUIRED: (p) => `Account ${p.account} needs a ${p.dimension}.`,
  DIMENSION_FORBIDDEN: (p) => `Account ${p.account} takes no ${p.dimension}. Leave it empty.`,
  RATE_MISSING: (p) =>
    `There is no ${p.kind} rate from ${p.from} to ${p.to} on or before ${p.date}. Load one${orType(p.refused)}`,
  RATE_OLD: (p) =>
    `The newest rate from ${p.from} to ${p.to} on ${p.on} is of ${p.date}, ${p.age} days before, which is older than is allowed. Load a newer one${orType(p.refused)}`,
  RATE_INVALID: (p) => `“${cut(p.text)}” is not a rate. Write it like 1.0835.`,
  PAIR_MISSING: (p) =>
    `${p.company} and ${p.other} are not set up as partners in trade: each needs its accounts due from and due to the other.`,
  PURPOSE_MISSING: (p) => `No account is set for ${p.purpose}. Set one in the set-up.`,
  QUANTITY_INVALID: (p) =>
    `“${cut(p.text)}” is not a quantity. Write it like 1,234.5, with at most three decimals.`,
  QUANTITY_MISSING: (p) => `Account ${p.account} counts units. Give a quantity.`,
  MONEY_ON_UNITS: (p) =>
    `Account ${p.account} counts units and takes no money. Give a quantity only, or choose another account.`,
  PARTNER_REQUIRED: (p) =>
    `Account ${p.account} is a partner's control account. Name the partner, or choose another account.`,
  DUE_DATE_REQUIRED: (p) => `Account ${p.account} keeps open items. Give the due date.`,
  REFERENCE_REQUIRED: (p) =>
    `Account ${p.account} keeps open items, which are found by their reference. Give the journal one.`,
  TAX_UNKNOWN: (p) => `There is no tax code ${cut(p.tax)}.`,
  TAX_RATE_MISSING: (p) =>
    `Tax code ${p.tax} has no rate on ${p.date}. Give it one, or choose another code.`,
  INVOICE_TOTAL: (p) =>
    `The paper says ${p.paper}, the lines with their tax come to ${p.computed}: ${p.difference} between them.`,
  INVOICE_DOUBLE: (p) =>
    `Number ${p.number} of ${p.supplier} is there already, of ${p.date}. A supplier gives a number once: correct it, or cancel the other.`,
  PARTNER_UNKNOWN: (p) =>
    `There is no partner ${cut(p.partner)}. Choose one from the list, or set it up.`,
  ITEM_OTHER_PARTNER: () => "The two items belong to different partners.",
  ITEM_OTHER_CURRENCY: (p) =>
    `One item is in ${p.first}, the other in ${p.second}; only items of one currency can be set against each other.`,
  ITEM_SAME_SIDE: () =>
    "One of the items has to be a debit and the other a credit, and both have to have something left.",
  ITEM_OVERALLOCATED: (p) =>
    `${amountText(p.wanted, p.currency)} ${p.currency} cannot be allocated: ${amountText(p.left, p.currency)} is left.`,
  ITEM_ALLOCATED: (p) =>
    `${p.reference} has been settled, at least in part, by ${p.by}. Undo that first.`,
  CURRENCY_UNKNOWN: (p) => `${cut(p.currency)} is not a currency code of ISO 4217.`,
  NO_LINES: () => "A journal needs at least two lines with amounts.",
  TOO_MANY_LINES: (p) => `A journal can have at most ${p.limit.toLocaleString("en")} lines.`,
  UNBALANCED: (p) =>
    `Debits ${p.debits} and credits ${p.credits} differ by ${p.difference}${p.book ? ` in book ${p.book}` : ""}.`,
  FOREIGN_UNBALANCED: (p) =>
    `Debits ${p.debits} and credits ${p.credits} ${p.currency} differ by ${p.difference}.`,
  VALUE_UNBALANCED: (p) =>
    `${upper(p.dimension)} ${p.value || "(none)"} does not balance by itself: it differs by ${p.difference}.`,
  CONTROL_TOTAL: (p) =>
    `The papers add up to ${p.control} ${p.currency}, the journals to ${p.entered}: ${p.difference}. Correct one of them, or have the difference waived.`,
  APPROVAL_NEEDED: (p) => `This cannot be posted at once: ${p.why}. Send it for approval.`,
  LOADED_BEFORE: (p) =>
    `${p.by} loaded the same journal on ${p.at}, as ${p.number}. Confirm it, if it is meant to be there twice.`,
  READING_NEEDED: (p) => `${p.file} is a table: say once how its columns are to be read.`,
  BATCH_EMPTY: () => "The batch has no journal yet.",
  BATCH_POSTED: () => "The batch is posted.",
  PERIOD_MISSING: (p) =>
    `${p.company} has no period for ${p.date}. Open the year first, or choose another date.`,
  PERIOD_UNKNOWN: (p) => `${p.company} has no period ${cut(p.period)}.`,
  PERIOD_NOT_OPENED: (p) => `${p.period} of ${p.company} is not open yet. Choose another date.`,
  PERIOD_CLOSED: (p) =>
    `${p.period} of ${p.company} is closed. Choose another date, or have the period reopened.`,
  PERIOD_CLOSING: (p) =>
    `${p.period} of ${p.company} is closing; only a controller can still post in it.`,
  PERIOD_AREA: (p) => `${upper(p.area)} is ${p.state} in ${p.period}.`,
  PERIOD_DATE: (p) => `${p.date} does not lie in ${p.period}.`,
  PERIOD_STEP: (p) => `${p.period} is ${p.from} and cannot become ${p.to} from there.`,
  PERIOD_EARLIER_OPEN: (p) => `${p.earlier} is not closed yet. Close it before ${p.period}.`,
  PERIOD_LATER_CLOSED: (p) =>
    `${p.later} is closed. Reopen it before ${p.period}: periods reopen backwards from the latest closed one.`,
  PERIOD_EARLIER_NOT_OPENED: (p) => `${p.earlier} is not opened yet. Open it before ${p.period}.`,
  REASON_REQUIRED: () => "Say why, in at least five characters; the reason is kept.",
  CHECKS_FAIL: (p) =>
    `${p.count === 1 ? "One check fails" : `${p.count} checks fail`}. Resolve ${p.count === 1 ? "it" : "them"} before the period can be closed.`,
  YEAR_EXISTS: (p) => `Year ${p.year} is there already.`,
  YEAR_GAP: (p) => `The year has to begin on ${p.date}, the day after the year before it.`,
  NO_OPEN_PERIOD_AFTER: (p) =>
    `No open period lies on or after ${p.date}, so there is no date for the reversal.`,
  NOT_FOUND: (p) => `There is no ${p.what}.`,
  STALE: (p) =>
    `${p.by} changed this${p.at === "" ? "" : ` at ${p.at}`}, after you opened it. Yours is kept here; compare before you save over it.`,
  ALREADY_POSTED: (p) => `This journal is posted as ${p.number}.`,
  ALREADY_REVERSED: (p) => `This journal is reversed already, by ${p.by}.`,
  REVERSAL_NOT_REVERSED: (p) =>
    `${p.number} is itself a reversal. Copy the first journal instead of reversing twice.`,
  REVERSE_BY_RUN: (p) =>
    `This journal came from ${p.run}. Undo that, which takes back all of its journals together.`,
  IN_USE: (p) => `${p.what}.`,
  EXISTS: (p) => `${p.what} is there already.`,
  RUN_STATE: (p) => `The run is ${p.state}, so this cannot be done.`,
  RUN_MOVED: (p) =>
    `${p.what} since this preview was made. Propose again to see what would be posted now.`,
  RUN_STANDS_IN_WAY: (p) => `${p.what}.`,
  RUN_APPROVAL: (p) =>
    `Whoever proposed this run cannot post it: ${p.why}. Ask one to look at it and post it.`,
  YEAR_END_POSTED: (p) =>
    `The year end of ${p.year} in ${p.book} is posted by ${p.run}. Reverse that run first.`,
  YEAR_END_NOTHING: (p) => `Year ${p.year} has no result in ${p.book} that is not yet carried.`,
  FORBIDDEN: (p) => `You may not ${p.what}.`,
  SECOND_FACTOR_NEEDED: () => "Give the code that your authenticator shows now.",
  SECOND_FACTOR_WRONG: () =>
    "That code is not good. Wait for the next one; each is good once, for half a minute.",
  SIGN_IN_FAILED: () => "That name and password do not go together.",
  SIGN_IN_LOCKED: (p) =>
    `Too many failed attempts. Try again in ${p.minutes} minutes, or ask an administrator.`,
  TOO_MANY_REQUESTS: () => "Too many requests in a short time. Wait a minute and try again.",
  PASSWORD_LENGTH: () => "A password has 12 to 128 characters.",
  PASSWORD_NAME: () => "The password may not hold the sign-in name.",
  PASSWORD_COMMON: () =>
    "This is one of the passwords that are tried first. Take a few words that don't belong together.",
  LAST_ADMINISTRATOR: () =>
    "This is the last person who can administer. Give somebody else that role first.",
  IDEMPOTENCY_REUSED: () => "This Idempotency-Key was used for another request. Use a new key.",
  UNAVAILABLE: (p) => `${p.what}.`,
};

/** The sentence for a problem, without its place. */
export function describeProblem(problem: Problem): string {
  return (wording[problem.code] as (p: Problem) => string)(problem);
}

/** The sentence with its line in front: "Line 4: …". */
export const describeFound = (problem: Problem & { line?: number }): string =>
  problem.line === undefined
    ? describeProblem(problem)
    : `Line ${problem.line}: ${lowerStart(describeProblem(problem))}`;

const cut = (text: string): string => (text.length > 40 ? `${text.slice(0, 40)}…` : text);
const orType = (refused = false): string =>
  refused ? ": a rate that is typed is not taken without it." : ", or type the rate.";
const upper = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);
const article = (noun: string): string => (/^[aeiou]/i.test(noun) ? "an" : "a");
/** Only ordinary words lose their capital after "Line 4:", not codes such as VAT. */
const lowerStart = (text: string): string =>
  /^[A-Z][a-z ]/.test(text) ? text.charAt(0).toLowerCase() + text.slice(1) : text;
