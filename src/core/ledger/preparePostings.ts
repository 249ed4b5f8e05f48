import {
  COMMON_BOOK,
  periodKey,
  periodName,
  stateOf,
  type Book,
  type Company,
  type Period,
} from "../organisation";
import {
  amountText,
  dateText,
  decimalText,
  fail,
  isCalendarDate,
  isCurrency,
  LARGEST_AMOUNT,
  minor,
  ok,
  type Found,
  type Minor,
  type Result,
} from "../shared";
import { codingKey } from "./coding";
import type { PostingContext } from "./postingContext";
import { balancingLines } from "./balancingLines";
import { keepsItems, namesPartner } from "./itemControls";
import { readCoding } from "./readCoding";
import { reconciledProblem } from "./reconciledProblem";
import { LISTED_CONTROLS, takesWriting } from "./writtenAccount";
import {
  NO_CURRENCY,
  type Account,
  type DraftLine,
  type JournalDraft,
  type JournalType,
  type Side,
} from "./types";

/** As many lines as a person may write in one journal; what the system makes has no limit. */
export const MAX_LINES = 20_000;
export const MAX_TEXT = 200;
export const MAX_REFERENCE = 60;
export const MAX_NOTE = 1000;

export interface PreparedLine {
  lineNo: number;
  account: Account;
  /** Canonical key of the dimension values, see `codingKey`. */
  coding: string;
  description: string;
  side: Side;
  /** Functional minor units. */
  amount: Minor;
  currency: string;
  foreignAmount: Minor;
  /** Functional units for one of the currency; null in the functional currency. */
  rate: string | null;
  counterparty: Company | null;
  /** Thousandths. */
  quantity: bigint | null;
  note: string;
  partner: string | null;
  dueDate: string | null;
  item: DraftLine["item"] | null;
  added: DraftLine["added"] | null;
  listed: boolean;
}

/**
 * Whether a line counts in money; on accounts of units it counts units, which need no counter
 * entry.
 */
export const isMoney = (line: Pick<PreparedLine, "account">): boolean =>
  line.account.type !== "units";

declare const checked: unique symbol;

/**
 * A journal that passed every check. Only `preparePostings` makes one, and only one of these can be
 * stored.
 */
export interface PreparedJournal {
  readonly [checked]: true;
  company: Company;
  type: JournalType;
  bookId: number;
  period: Period;
  date: string;
  currency: string;
  description: string;
  reference: string;
  reverses: number | null;
  origin: number | null;
  closing: boolean;
  reverseOn: string | null;
  /** Sum of debits, functional minor units. */
  total: Minor;
  lines: readonly PreparedLine[];
}

/**
 * Checks drafts against everything that posting requires and resolves their codes: the single way
 * into the ledger.
 * Rule: double entry, debits equal credits per company and book in functional currency.
 * Units: minor units of the company's functional currency. Nothing is rounded.
 * Errors: every problem of every draft, with the draft's place (from 0), line (from 1) and field.
 * One problem anywhere and nothing is prepared.
 */
export function preparePostings(
  drafts: readonly JournalDraft[],
  context: PostingContext,
): Result<PreparedJournal[]> {
  const problems: Found[] = [];
  const prepared: PreparedJournal[] = [];
  drafts.forEach((draft, journal) => {
    const found: Found[] = [];
    const result = prepare(draft, context, found);
    if (result && found.length === 0) prepared.push(result);
    for (const problem of found)
      problems.push(drafts.length > 1 ? { ...problem, journal } : problem);
  });
  return problems.length > 0 ? fail(...problems) : ok(prepared);
}

/** The problems of one draft, for showing while it is being written. */
export function checkDraft(draft: JournalDraft, context: PostingContext): Found[] {
  const found: Found[] = [];
  prepare(draft, context, found);
  return found;
}

function prepare(
  draft: JournalDraft,
  context: PostingContext,
  found: Found[],
): PreparedJournal | null {
  const { masters } = context;
  const company = masters.companyByCode.get(draft.company);
  const type = masters.typeByCode.get(draft.type);
  if (!company) found.push({ code: "COMPANY_UNKNOWN", company: draft.company, field: "company" });
  if (!type) found.push({ code: "TYPE_UNKNOWN", type: draft.type, field: "type" });
  const book = draft.book === null ? null : masters.bookByCode.get(draft.book);
  if (book === undefined) found.push({ code: "BOOK_UNKNOWN", book: draft.book!, field: "book" });
  else if (book?.ended) found.push({ code: "BOOK_ENDED", book: book.code, field: "book" });
  checkText(draft.description, "The description", MAX_TEXT, "description", found);
  checkText(draft.reference ?? "", "The reference", MAX_REFERENCE, "reference", found);
  if (draft.description.trim() === "")
    found.push({ code: "REQUIRED", what: "The description", field: "description" });
  if (!company || !type || book === undefined) return null;
  const follows = draft.closing === true || draft.reverses !== undefined;
  if (type.books.length > 0 && !follows && !(book && type.books.includes(book.code)))
    found.push({ code: "TYPE_BOOK", type: type.name, books: type.books.join(", "), field: "book" });
  if (!context.mayPost(type.area, company.code))
    found.push({
      code: "FORBIDDEN",
      what: `post ${type.name.toLowerCase()} journals in ${company.name}`,
      field: "type",
    });

  const currency = draft.currency ?? company.currency;
  if (!isCurrency(currency)) found.push({ code: "CURRENCY_UNKNOWN", currency, field: "currency" });
  if (draft.reverseOn !== undefined) {
    if (!isCalendarDate(draft.reverseOn))
      found.push({ code: "DATE_INVALID", text: draft.reverseOn, field: "reverseOn" });
    else if (
      isCalendarDate(draft.date) &&
      (draft.reverses === undefined ? draft.reverseOn <= draft.date : draft.reverseOn < draft.date)
    )
      found.push({
        code: "INVALID",
        what: "The reversal lies after the day of the journal",
        field: "reverseOn",
      });
  }

  const period = findPeriod(draft, company, book, type, context, found);
  const lines: PreparedLine[] = [];
  if (draft.lines.length > MAX_LINES && type.manual)
    found.push({ code: "TOO_MANY_LINES", limit: MAX_LINES, field: "lines" });
  else
    draft.lines.forEach((line, i) => {
      const ready = prepareLine(line, i + 1, draft, company, book, type, context, found);
      if (ready) lines.push(ready);
    });
  // Quantities need no counter entry: a journal of units alone may have one line.
  const money = draft.lines.filter((l) => masters.accountByNumber.get(l.account)?.type !== "units");
  if (draft.lines.length < 2 && (money.length > 0 || draft.lines.length === 0))
    found.push({ code: "NO_LINES", field: "lines" });

  // Summed over the draft, not over the lines that passed, so that one unknown account does not
  // also read as a difference.
  const functional = sides(money, (l) => l.amount);
  if (functional.debits !== functional.credits)
    found.push({
      code: "UNBALANCED",
      ...differing(functional, company.currency),
      book: book?.code ?? null,
      field: "lines",
    });
  const strange = draft.lines.find((l) => l.currency !== undefined && !isCurrency(l.currency));
  if (strange)
    found.push({ code: "CURRENCY_UNKNOWN", currency: strange.currency!, field: "currency" });
  const foreign = sides(money, (l) => l.foreignAmount ?? l.amount);
  if (isCurrency(currency) && currency !== company.currency && foreign.debits !== foreign.credits)
    found.push({
      code: "FOREIGN_UNBALANCED",
      ...differing(foreign, currency),
      currency,
      field: "lines",
    });
  if (!period || found.length > 0) return null;
  lines.push(...balancingLines(lines, company.currency, masters, found));
  if (found.length > 0) return null;
  return {
    company,
    type,
    bookId: book?.id ?? COMMON_BOOK,
    period,
    date: draft.date,
    currency,
    description: draft.description.trim(),
    reference: (draft.reference ?? "").trim(),
    reverses: draft.reverses ?? null,
    origin: draft.origin ?? null,
    closing: draft.closing ?? false,
    reverseOn: draft.reverseOn ?? null,
    total: minor(sides(lines.filter(isMoney), (l) => l.amount).debits),
    lines,
  } as unknown as PreparedJournal;
}

function sides<L extends { side: Side }>(
  lines: readonly L[],
  amount: (line: L) => bigint,
): { debits: bigint; credits: bigint } {
  let debits = 0n;
  let credits = 0n;
  for (const line of lines) {
    if (line.side === "debit") debits += amount(line);
    else credits += amount(line);
  }
  return { debits, credits };
}

const differing = ({ debits, credits }: { debits: bigint; credits: bigint }, currency: string) => ({
  debits: amountText(debits, currency),
  credits: amountText(credits, currency),
  difference: amountText(debits > credits ? debits - credits : credits - debits, currency),
});

function prepareLine(
  line: DraftLine,
  lineNo: number,
  draft: JournalDraft,
  company: Company,
  book: Book | null,
  type: JournalType,
  context: PostingContext,
  found: Found[],
): PreparedLine | null {
  const { masters } = context;
  const before = found.length;
  // What closes or undoes postings has to reach whatever they reached, also what was blocked since.
  const follows = draft.closing === true || draft.reverses !== undefined;
  const at = (field: string) => ({ line: lineNo, field });
  checkText(line.description, "The line description", MAX_TEXT, "description", found, lineNo);
  if (line.amount > LARGEST_AMOUNT || line.amount < -LARGEST_AMOUNT)
    found.push({
      code: "AMOUNT_TOO_LARGE",
      text: decimalText(line.amount, company.currency),
      ...at(line.side),
    });
  const account = masters.accountByNumber.get(line.account);
  if (line.account.trim() === "")
    found.push({ code: "REQUIRED", what: "The account", ...at("account") });
  else if (!account)
    found.push({ code: "ACCOUNT_UNKNOWN", account: line.account, ...at("account") });
  else {
    if (account.blocked && !follows)
      found.push({
        code: "ACCOUNT_BLOCKED",
        account: account.number,
        name: account.name,
        ...at("account"),
      });
    if (account.usedBy && !account.usedBy.includes(company.code) && !follows)
      found.push({
        code: "ACCOUNT_NOT_USED",
        account: account.number,
        name: account.name,
        company: company.name,
        ...at("account"),
      });
    const currency = line.currency ?? draft.currency ?? company.currency;
    if (account.currency && account.currency !== currency && !follows && line.added === undefined)
      found.push({
        code: "ACCOUNT_CURRENCY",
        account: account.number,
        name: account.name,
        only: account.currency,
        currency,
        ...at("account"),
      });
    if (
      account.control &&
      line.added === undefined &&
      !follows &&
      (!type.controls.includes(account.control) || (line.written && !takesWriting(account)))
    )
      found.push({
        code: "CONTROL_ACCOUNT",
        account: account.number,
        control: account.control,
        ...at("account"),
      });
    else if (account.control && book && LISTED_CONTROLS.has(account.control))
      found.push({
        code: "CONTROL_IN_ONE_BOOK",
        account: account.number,
        control: account.control,
        book: book.code,
        ...at("account"),
      });
  }

  const counts = account?.type === "units";
  if (counts && line.amount !== 0n)
    found.push({ code: "MONEY_ON_UNITS", account: account.number, ...at(line.side) });
  if (counts && !line.quantity)
    found.push({ code: "QUANTITY_MISSING", account: account.number, ...at("quantity") });
  if (!counts && line.amount === 0n && !line.foreignAmount)
    found.push({ code: "NO_AMOUNT", ...at("debit") });
  // The journal types that people write by hand reach partners only with what an open item needs.
  if (
    account &&
    type.manual &&
    !follows &&
    line.added === undefined &&
    account.control &&
    keepsItems(account) &&
    type.controls.includes(account.control)
  ) {
    if (namesPartner(account) && !line.partner?.trim())
      found.push({ code: "PARTNER_REQUIRED", account: account.number, ...at("partner") });
    if (namesPartner(account) && !line.dueDate)
      found.push({ code: "DUE_DATE_REQUIRED", account: account.number, ...at("dueDate") });
    if (!draft.reference?.trim())
      found.push({ code: "REFERENCE_REQUIRED", account: account.number, field: "reference" });
  }
  if (
    line.partner?.trim() &&
    account &&
    keepsItems(account) &&
    !follows &&
    !context.partners.has(line.partner.trim())
  )
    found.push({ code: "PARTNER_UNKNOWN", partner: line.partner, ...at("partner") });
  if (line.dueDate !== undefined && !isCalendarDate(line.dueDate))
    found.push({ code: "DATE_INVALID", text: line.dueDate, ...at("dueDate") });
  checkText(line.note ?? "", "The note", MAX_NOTE, "note", found, lineNo);
  const counterparty =
    line.counterparty === undefined ? null : masters.companyByCode.get(line.counterparty);
  if (counterparty === undefined)
    found.push({ code: "COMPANY_UNKNOWN", company: line.counterparty!, ...at("counterparty") });

  const values = readCoding(
    masters,
    account ?? null,
    line.dimensions,
    { date: draft.date, follows },
    { line: lineNo },
  );
  found.push(...values.found);
  if (!account || found.length > before) return null;
  const money = amounts(line, counts, draft, company);
  const held = reconciledProblem(
    context.reconciled,
    { account, ...money },
    { companyId: company.id, date: draft.date },
  );
  if (held) found.push({ ...held, ...at("account") });
  return {
    lineNo,
    account,
    coding: codingKey(values.coding),
    description: line.description.trim() || draft.description.trim(),
    side: line.side,
    ...money,
    counterparty: counterparty ?? null,
    note: line.note?.trim() ?? "",
    partner: line.partner?.trim() || null,
    dueDate: line.dueDate ?? null,
    item: line.item ?? null,
    listed: line.listed === true,
    added: line.added ?? null,
  };
}

/**
 * Money in the functional and the journal's currency; units as thousandths under the code for no
 * currency.
 */
function amounts(
  line: DraftLine,
  counts: boolean,
  draft: JournalDraft,
  company: Company,
): Pick<PreparedLine, "amount" | "currency" | "foreignAmount" | "rate" | "quantity"> {
  if (counts)
    return {
      amount: minor(line.quantity!),
      currency: NO_CURRENCY,
      foreignAmount: minor(line.quantity!),
      rate: null,
      quantity: line.quantity!,
    };
  const currency = line.currency ?? draft.currency ?? company.currency;
  const foreign = currency !== company.currency;
  return {
    amount: line.amount,
    currency,
    foreignAmount: foreign ? (line.foreignAmount ?? minor(0n)) : line.amount,
    rate: foreign ? (line.rate ?? null) : null,
    quantity: line.quantity ?? null,
  };
}

/**
 * What stands against a day of a company for an act of an area that posts no journal, such as
 * settling items: it changes what is open on that day, so the day has to be open like any other.
 */
export function dayProblems(
  date: string,
  company: Company,
  area: JournalType["area"],
  context: PostingContext,
): Found[] {
  const found: Found[] = [];
  findPeriod({ date }, company, null, { area }, context, found);
  return found;
}

function findPeriod(
  draft: Pick<JournalDraft, "date" | "period">,
  company: Company,
  book: Book | null,
  type: Pick<JournalType, "area">,
  context: PostingContext,
  found: Found[],
): Period | null {
  if (!isCalendarDate(draft.date)) {
    found.push({ code: "DATE_INVALID", text: draft.date, field: "date" });
    return null;
  }
  const own = context.periods.filter((p) => p.companyId === company.id);
  const period = draft.period
    ? own.find((p) => periodKey(p) === draft.period)
    : own.find((p) => !p.adjustment && p.start <= draft.date && draft.date <= p.end);
  if (!period) {
    found.push(
      draft.period
        ? { code: "PERIOD_UNKNOWN", period: draft.period, company: company.name, field: "period" }
        : {
            code: "PERIOD_MISSING",
            date: dateText(draft.date),
            company: company.name,
            field: "date",
          },
    );
    return null;
  }
  if (draft.date < period.start || draft.date > period.end)
    found.push({
      code: "PERIOD_DATE",
      date: dateText(draft.date),
      period: periodName(period),
      field: "date",
    });
  // What belongs to all books changes each of them, so each has to be open.
  const books = book ? [book] : context.masters.books;
  const name = periodName(period);
  for (const b of books) {
    const state = stateOf(period, b.id, "ledger");
    const where = {
      period: b.main ? name : `${name} (${b.code})`,
      company: company.name,
      field: "date",
    };
    if (state === "not-yet") found.push({ code: "PERIOD_NOT_OPENED", ...where });
    else if (state === "closed") found.push({ code: "PERIOD_CLOSED", ...where });
    else if (state === "closing" && !context.mayPostWhileClosing(company.code))
      found.push({ code: "PERIOD_CLOSING", ...where });
    else if (type.area !== "ledger") {
      const areaState = stateOf(period, b.id, type.area);
      if (
        areaState !== "open" &&
        !(areaState === "closing" && context.mayPostWhileClosing(company.code))
      )
        found.push({
          code: "PERIOD_AREA",
          period: where.period,
          area: type.area,
          state: areaState.replace("not-yet", "not yet open"),
          field: "date",
        });
      else continue;
    } else continue;
    break;
  }
  return period;
}

function checkText(
  text: string,
  what: string,
  limit: number,
  field: string,
  found: Found[],
  line?: number,
): void {
  if (text.length > limit)
    found.push({
      code: "TEXT_TOO_LONG",
      what,
      limit,
      length: text.length,
      field,
      ...(line === undefined ? {} : { line }),
    });
}
