import { sharedCoding, type ShareSet } from "../shares";
import { CATEGORIES_OF_TAXED_BUYERS, categoryOf, type TaxCategory } from "../taxes";
import { decimalText, minor, readDate, type CalendarDate, type Found } from "../shared";
import {
  againstItem,
  readPaper,
  SELLING,
  type PaperContext,
  type PaperPlug,
  type PaperReading,
  type PluggedLine,
  type TradeItem,
} from "../trade";
import type { SaleInput, SaleLineInput } from "./saleInput";
import { readEarnedOver, type DeferralPolicy, type EarnedOver } from "./deferral";
import {
  againstPrepaid,
  isPrepaid,
  readPrepaid,
  type PrepaidPart,
  type PrepaymentContext,
} from "./prepayments";
import { isBlankSale, saleLines, type SaleLineValue } from "./saleLines";

/** What a sale is read with; its partner is the customer. */
export interface SaleContext extends PaperContext, PrepaymentContext {
  company: string;
  /** Number of the customer for value added tax; "" where it has none, or none is known. */
  taxNumber: string;
  country: string;
  /** The seller's country (ISO 3166). */
  ownCountry: string;
  shares: ReadonlyMap<string, ShareSet>;
  /** What is sold, by code. */
  items: ReadonlyMap<string, TradeItem>;
  /** Where revenue waits until it is earned; null where nothing is set up for it. */
  deferral: DeferralPolicy | null;
}

/** Revenue of a line, or of a part of it, that is earned over a time. */
export interface DeferredPart {
  line: number;
  over: EarnedOver;
  /** Where it goes as it is earned. */
  coding: { account: string; dimensions: Record<string, string>; description: string };
  /** Its place, from 0, among the lines of its own company's journal. */
  at: number;
}

export interface SaleReading extends PaperReading {
  /** Lines that say anything, in their order. */
  values: SaleLineValue[];
  deferred: DeferredPart[];
  /** What it does to prepayments. */
  prepaid: PrepaidPart[];
  /** The day of its supply, where that is said. */
  suppliedOn: CalendarDate | null;
}

/**
 * Turns an invoice or credit note to a customer into the journal that it becomes: revenue by line,
 * or its shares, less the discounts; what is earned over a time waits on an account of its own; the
 * rest as `readPaper`. `number` is its own, once it is given.
 * Units: minor units of its currency. Rounding: as `saleLines` and `taxSums`.
 */
export function readSale(input: SaleInput, context: SaleContext, number = ""): SaleReading {
  const currency = input.currency?.trim().toUpperCase() || context.functional;
  const { values, problems } = saleLines(input, currency);
  const deferred: DeferredPart[] = [];
  const plug: PaperPlug<SaleLineInput> = {
    isBlank: (l) => isBlankSale(l as SaleLineInput),
    addLines: (to, written, { sign }) =>
      written.flatMap((w) => {
        if (isPrepaid(input, w.input)) {
          const problem = againstPrepaid(input, w.input, { ...context, currency });
          if (problem) return [{ ...problem, line: w.line }];
          const account = context.prepaymentAccount!;
          const { description } = w.input;
          to.add({ written: true, account, dimensions: {}, description }, sign * w.net, w.line);
          return [];
        }
        const parts = revenueOf(w, currency, context);
        if (!parts.ok) return parts.problems.map((p) => ({ ...p, line: w.line }));
        const { over, problem } = readEarnedOver(w.input, context.today);
        if (problem) return [{ ...problem, line: w.line }];
        const waits = over === null ? null : waitingIn(w.input, context);
        if (waits !== null && "problem" in waits) return [{ ...waits.problem, line: w.line }];
        for (const { line, amount } of parts.value) {
          if (over === null || waits === null || amount === 0n) {
            to.add(line, sign * amount, w.line);
            continue;
          }
          const { account, dimensions, description } = line;
          deferred.push({
            line: w.line,
            over,
            coding: { account, dimensions: { ...dimensions }, description: description ?? "" },
            at: to.lines.filter((l) => !l.company || l.company === context.company).length,
          });
          to.add({ ...line, account: waits.account, dimensions: {} }, sign * amount, w.line);
        }
        return [];
      }),
  };
  const lines = input.lines.map((l, i) => {
    const value = values.get(i + 1);
    return value ? { ...l, net: decimalText(value.value - value.allowance, currency) } : l;
  });
  const supplied = input.deliveredOn.trim();
  const suppliedOn = supplied === "" ? null : readDate(supplied, context.today);
  const reading = readPaper(
    {
      ...input,
      lines,
      partner: input.customer,
      number,
      ...whenDelivered(input, suppliedOn),
    },
    context,
    SELLING,
    plug,
  );
  const nets = new Map(reading.lines.map((l) => [l.line, l.net]));
  const prepaid = readPrepaid(input, nets, context);
  // An amount follows from a price: what is wrong with that is said at the price.
  const unread = new Set(problems.flatMap((p) => p.line ?? []));
  return {
    ...reading,
    values: [...values.values()],
    deferred,
    prepaid: prepaid.parts,
    suppliedOn,
    problems: [
      ...problems,
      ...input.lines.flatMap((l, i) => {
        const against = againstItem(l.item, context.items);
        return against ? [{ ...against, line: i + 1 }] : [];
      }),
      ...prepaid.problems,
      ...(supplied === "" || suppliedOn !== null
        ? []
        : [{ code: "DATE_INVALID" as const, text: supplied, field: "deliveredOn" }]),
      ...reading.problems.filter((p) => !(p.field === "net" && unread.has(p.line ?? 0))),
      ...buyerProblems(reading, context),
    ],
  };
}

/**
 * When what is sold was supplied; null where an invoice has yet to say it. What can't be read is said
 * at its field; a credit note and what is asked for ahead count from their own day.
 */
function whenDelivered(
  { kind, prepayment, deliveredOn }: SaleInput,
  suppliedOn: CalendarDate | null,
): { delivered?: CalendarDate | null } {
  if (suppliedOn !== null) return { delivered: suppliedOn };
  return kind === "invoice" && !prepayment && deliveredOn.trim() === "" ? { delivered: null } : {};
}

/** The revenue of a line: itself, or its parts by shares. */
function revenueOf(
  w: PluggedLine<SaleLineInput>,
  currency: string,
  { company: own, shares }: SaleContext,
) {
  const company = w.input.company.trim().toUpperCase();
  const coding = {
    written: true as const,
    account: w.input.account.trim(),
    dimensions: w.input.dimensions,
    description: w.input.description,
    ...(company && company !== own ? { company } : {}),
  };
  return sharedCoding(coding, { amount: minor(w.net), currency }, w.input.shares, {
    sets: shares,
    own,
  });
}

/** The account on which revenue waits until it is earned; or why it cannot. */
function waitingIn(
  { company }: SaleLineInput,
  { company: own, deferral }: SaleContext,
): { account: string } | { problem: Found } {
  const wrong = (what: string) => ({
    problem: { code: "INVALID" as const, what, field: "earnedFrom" },
  });
  const other = company.trim().toUpperCase();
  if (other !== "" && other !== own)
    return wrong(`What ${other} earns is deferred in its own books; leave the days out`);
  return deferral === null
    ? wrong("No account is set for deferred revenue; choose one in Setup, Receivables")
    : { account: deferral.account };
}

/** Where the buyer owes the tax, or it goes abroad, the paper rests on what is known of the buyer. */
function buyerProblems(reading: SaleReading | PaperReading, context: SaleContext): Found[] {
  if (!context.partner) return [];
  const categories = new Set(
    reading.taxes.flatMap((t): TaxCategory[] => {
      const code = context.taxCodes.get(t.code);
      return code && code.kind !== "withheld" ? [categoryOf(code)] : [];
    }),
  );
  const problems: Found[] = [];
  const bad = (what: string) => problems.push({ code: "INVALID", what, field: "customer" });
  const { name } = context.partner;
  if (context.taxNumber === "" && [...categories].some((c) => CATEGORIES_OF_TAXED_BUYERS.has(c)))
    bad(
      `${name} owes the tax itself, and the invoice names its tax number; enter it with the customer`,
    );
  const abroad = context.country !== context.ownCountry;
  if (categories.has("K") && !(abroad && UNION.has(context.country)))
    bad(
      `A supply within the community goes to another member state; ${name} is in ${context.country}`,
    );
  if (categories.has("G") && UNION.has(context.country))
    bad(`An export leaves the community; ${name} is in ${context.country}`);
  return problems;
}

/** Member states of the European Union (ISO 3166). */
const UNION: ReadonlySet<string> = new Set(
  "AT BE BG CY CZ DE DK EE ES FI FR GR HR HU IE IT LT LU LV MT NL PL PT RO SE SI SK".split(" "),
);
