import { convert, findRate, impliedRate, type Rate, type RateKind, rateProblem } from "../rates";
import { isCalendarDate, isCurrency, minor, type Found, type Minor } from "../shared";
import type { Company } from "../organisation";
import type { Masters } from "./masters";
import type { DraftLine, JournalDraft } from "./types";

/**
 * A line as it is entered: its amount in the currency of the journal, and its company where that is
 * another one.
 */
export interface EntryLine extends Omit<
  DraftLine,
  "amount" | "foreignAmount" | "rate" | "counterparty" | "added"
> {
  company?: string;
  /** Minor units of the journal's currency. */
  amount: Minor;
  /** Functional amount of the line's company as typed, where the rate is not to decide. */
  functional?: Minor;
  /**
   * The functional amount is what the line is carried at from before: what the rate of today makes
   * of it beyond that is an exchange difference.
   */
  carried?: boolean;
}

/** A journal as it is entered: one transaction currency, lines of one or several companies. */
export interface JournalEntry extends Omit<JournalDraft, "lines" | "currency"> {
  currency: string;
  /**
   * Functional units of the journal's company for one of its currency, as typed; otherwise the kind
   * and the date decide.
   */
  rate?: string;
  rateKind: RateKind;
  lines: readonly EntryLine[];
}

/** One company's journal out of an entry. */
export interface ExpandedDraft {
  draft: JournalDraft;
  /** For each line of the draft, its line in the entry (from 0); null where the system added it. */
  sources: (number | null)[];
  /** How the rate was found, for showing; null in the functional currency. */
  rate: { rate: string; how: string } | null;
}

interface ExpandContext {
  masters: Masters;
  rates: readonly Rate[];
}

/**
 * Turns an entry into one draft per company, the entry's own first: adds the lines on the accounts
 * due from and due to that balance each
 * company, converts to each functional currency, and puts what rounding leaves on the rounding
 * account.
 * Units: minor units of the journal's currency in, functional minor units with the foreign amount
 * beside them out.
 * Rounding: each line half away from zero; what is left, at most half a unit a line, goes to one
 * line whose foreign amount is zero.
 * Errors: COMPANY_UNKNOWN and CURRENCY_UNKNOWN, with which there are no drafts; RATE_MISSING,
 * PAIR_MISSING and PURPOSE_MISSING, with which the
 * drafts serve only to check the lines.
 */
export function expandEntry(
  entry: JournalEntry,
  { masters, rates }: ExpandContext,
): { drafts: ExpandedDraft[]; problems: Found[] } {
  const problems: Found[] = [];
  const own = masters.companyByCode.get(entry.company);
  if (!own)
    return {
      drafts: [],
      problems: [{ code: "COMPANY_UNKNOWN", company: entry.company, field: "company" }],
    };
  if (!isCurrency(entry.currency))
    return {
      drafts: [],
      problems: [{ code: "CURRENCY_UNKNOWN", currency: entry.currency, field: "currency" }],
    };

  const groups = new Map<
    string,
    { line: EntryLine; source: number | null; added?: DraftLine["added"]; counterparty?: string }[]
  >([[own.code, []]]);
  entry.lines.forEach((line, source) => {
    const code = line.company ?? own.code;
    if (!masters.companyByCode.has(code))
      problems.push({ code: "COMPANY_UNKNOWN", company: code, line: source + 1, field: "company" });
    const group = groups.get(code);
    if (group) group.push({ line, source });
    else groups.set(code, [{ line, source }]);
  });
  if (problems.length > 0) return { drafts: [], problems };

  for (const [code, group] of groups) {
    if (code === own.code) continue;
    const other = masters.companyByCode.get(code)!;
    const pair = masters.pair(own.code, code);
    const missing =
      pair &&
      [pair.dueFrom, pair.dueTo, pair.otherDueFrom, pair.otherDueTo].some(
        (a) => !masters.accountByNumber.has(a),
      );
    if (!pair || missing) {
      problems.push({
        code: "PAIR_MISSING",
        company: own.name,
        other: other.name,
        line: group[0]!.source! + 1,
        field: "company",
      });
      continue;
    }
    const net = group.reduce(
      (sum, { line }) => sum + (line.side === "debit" ? line.amount : -line.amount),
      0n,
    );
    if (net === 0n) continue;
    // What the other company was charged is owed to this one, and the other way round.
    const size = minor(net > 0n ? net : -net);
    const line = (account: string, side: "debit" | "credit"): EntryLine => ({
      account,
      dimensions: {},
      description: "",
      side,
      amount: size,
    });
    group.push({
      line: line(net > 0n ? pair.otherDueTo : pair.otherDueFrom, net > 0n ? "credit" : "debit"),
      source: null,
      added: "pair",
      counterparty: own.code,
    });
    groups.get(own.code)!.push({
      line: line(net > 0n ? pair.dueFrom : pair.dueTo, net > 0n ? "debit" : "credit"),
      source: null,
      added: "pair",
      counterparty: code,
    });
  }

  const drafts = [...groups].map(([code, group]): ExpandedDraft => {
    const company = masters.companyByCode.get(code)!;
    const foreign = company.currency !== entry.currency;
    const found = foreign
      ? rateFor(entry, company, own, rates, masters.typedRates === "refused", problems)
      : null;
    const pair = code === own.code ? undefined : masters.pair(own.code, code);
    const sources: (number | null)[] = [];
    const lines = group.map(({ line, source, added, counterparty }): DraftLine => {
      const { company: _company, functional, amount, carried: _carried, ...rest } = line;
      sources.push(source);
      const base: DraftLine = {
        ...rest,
        amount,
        ...(added ? { added } : {}),
        ...(counterparty ? { counterparty } : {}),
      };
      // Without a rate the amounts stand as they are, so that the lines are checked all the same.
      if (!foreign || (!found && functional === undefined)) return base;
      if (functional !== undefined)
        return {
          ...base,
          amount: functional,
          foreignAmount: amount,
          ...withRate(impliedRate(amount, entry.currency, functional, company.currency)),
        };
      return {
        ...base,
        amount: convert(amount, entry.currency, company.currency, found!.rate),
        foreignAmount: amount,
        rate: found!.rate,
      };
    });
    if (foreign && found)
      addCarriedDifference(
        lines,
        sources,
        group.map((g) => g.line),
        (amount) => convert(amount, entry.currency, company.currency, found.rate),
        masters,
        problems,
      );
    if (foreign && found) addRounding(lines, sources, masters, problems);
    const { rate: _rate, rateKind: _kind, lines: _lines, currency: _currency, ...head } = entry;
    return {
      draft: {
        ...head,
        company: code,
        type: pair?.type ?? entry.type,
        ...(foreign && (found || lines.every((l) => l.foreignAmount !== undefined))
          ? { currency: entry.currency }
          : {}),
        lines,
      },
      sources,
      rate: found,
    };
  });
  return { drafts, problems };
}

const withRate = (rate: string | null): { rate?: string } => (rate === null ? {} : { rate });

function rateFor(
  entry: JournalEntry,
  company: Company,
  own: Company,
  rates: readonly Rate[],
  refused: boolean,
  problems: Found[],
): { rate: string; how: string } | null {
  const typed = entry.rate !== undefined && company.code === own.code ? entry.rate : null;
  const asTyped = typed === null ? null : { rate: typed, how: "as typed" };
  if (!isCalendarDate(entry.date)) return asTyped;
  const found = findRate(rates, entry.rateKind, entry.currency, company.currency, entry.date);
  if (!found && refused)
    problems.push({
      ...rateProblem(rates, entry.rateKind, entry.currency, company.currency, entry.date, true),
      field: "rate",
    });
  if (asTyped) return asTyped;
  // Where every amount is typed, no rate is asked for.
  const amounts = entry.lines.filter((l) => (l.company ?? own.code) === company.code);
  if (amounts.length > 0 && amounts.every((l) => l.functional !== undefined)) return null;
  if (!found && !refused)
    problems.push({
      ...rateProblem(rates, entry.rateKind, entry.currency, company.currency, entry.date),
      field: "rate",
    });
  return found;
}

/**
 * What lines that settle something carried from before are worth more or less at the rate of the
 * day: a realised exchange difference (IAS 21.28), on a line without foreign amount.
 */
function addCarriedDifference(
  lines: DraftLine[],
  sources: (number | null)[],
  entered: readonly EntryLine[],
  today: (amount: Minor) => Minor,
  masters: Masters,
  problems: Found[],
): void {
  const difference = entered.reduce(
    (sum, l) =>
      l.carried && l.functional !== undefined
        ? sum + (l.side === "debit" ? 1n : -1n) * (today(l.amount) - l.functional)
        : sum,
    0n,
  );
  if (difference === 0n) return;
  const account = difference > 0n ? masters.purposes.exchangeLoss : masters.purposes.exchangeGain;
  if (!account)
    return void problems.push({
      code: "PURPOSE_MISSING",
      purpose: "exchange differences",
      field: "lines",
    });
  lines.push({
    account,
    dimensions: {},
    description: "Exchange difference",
    side: difference > 0n ? "debit" : "credit",
    amount: minor(difference > 0n ? difference : -difference),
    foreignAmount: minor(0n),
    added: "difference",
  });
  sources.push(null);
}

/**
 * Puts what is left of rounding on its account, where the foreign amounts balance and what is left
 * can be rounding.
 */
function addRounding(
  lines: DraftLine[],
  sources: (number | null)[],
  masters: Masters,
  problems: Found[],
): void {
  const net = (pick: (l: DraftLine) => bigint) =>
    lines.reduce((sum, l) => sum + (l.side === "debit" ? pick(l) : -pick(l)), 0n);
  const left = net((l) => l.amount);
  const size = left < 0n ? -left : left;
  if (left === 0n || net((l) => l.foreignAmount ?? 0n) !== 0n || size > BigInt(lines.length))
    return;
  const account = masters.purposes.rounding;
  if (!account) {
    problems.push({ code: "PURPOSE_MISSING", purpose: "rounding differences", field: "lines" });
    return;
  }
  lines.push({
    account,
    dimensions: {},
    description: "Rounding",
    side: left > 0n ? "credit" : "debit",
    amount: minor(size),
    foreignAmount: minor(0n),
    added: "rounding",
  });
  sources.push(null);
}
