import type { EntryLine, JournalEntry } from "../ledger";
import { amountText, minor, readAmount, type Found, type Minor } from "../shared";
import type { PaperContext, PaperLines, PaperReading, ReadLine, TaxedLine } from "./paper";
import type { PaperInput, PaperLine } from "./paperInput";
import { addPartnerLines, instalmentsOfPaper } from "./partnerLines";
import { readHead, type PaperHead } from "./readHead";
import { readLines } from "./readLines";
import type { TradeSide } from "./side";
import { addTaxLines } from "./taxLines";
import { taxSums, withholdingOf } from "./taxSums";

/** What a kind of trade document adds to the reading of it. */
export interface PaperPlug<L extends PaperLine> {
  isBlank(line: PaperLine): boolean;
  /**
   * Adds what lines as written become: cost or revenue, in `sign` times their amounts. Returns what
   * stands against them.
   */
  addLines(to: PaperLines, written: readonly PluggedLine<L>[], head: PlugHead): Found[];
}

export type PluggedLine<L> = ReadLine<L> & TaxedLine;
export interface PlugHead extends PaperHead {
  /** 1 where cost or revenue grows by a debit, -1 by a credit: of the side, turned by a credit note. */
  sign: bigint;
}

/**
 * Turns a trade document as written into the journal that it becomes: what the lines become, the
 * taxes by code, and the partner by instalment.
 * Units: amounts are decimals of the document's currency. A credit note is written with positive
 * amounts and posted on the other sides.
 * Rounding: as `taxSums`.
 */
export function readPaper<L extends PaperLine>(
  input: PaperInput<L>,
  context: PaperContext,
  side: TradeSide,
  plug: PaperPlug<L>,
): PaperReading {
  const head = readHead(input, context, side);
  const { currency, date } = head;
  const { written, problems: unread } = readLines(input.lines, {
    currency,
    date,
    taxCodes: context.taxCodes,
    isBlank: plug.isBlank,
  });
  const { taxed, taxes } = taxSums(written, input);
  const net = minor([...taxed.values()].reduce((t, x) => t + x.net, 0n));
  const tax = minor(taxes.reduce((t, x) => (x.reverse ? t : t + x.tax), 0n));
  const { withheld, problems: kept } = withholdingOf(
    input.withholding,
    net,
    date,
    context.taxCodes,
  );
  if (withheld) taxes.push(withheld);
  const gross = minor(net + tax - (withheld?.tax ?? 0n));

  const note = input.kind === "credit note" ? -1n : 1n;
  const sign = side.turn * note;
  const to = paperLines();
  const plugged = written.map((w) => ({ ...w, ...taxed.get(w.line)! }));
  const ofLines = plug.addLines(to, plugged, { ...head, sign });
  addTaxLines(to, taxes, { side, note, currency, taxCodes: context.taxCodes });
  const { instalments, problems: ofTerms } = instalmentsOfPaper(input, context, head, {
    net,
    tax,
    gross,
  });
  const ofControl = addPartnerLines(to, instalments, { input, context, side, sign });
  return {
    entry: entryOf(input, context, side, head, to.lines),
    sources: to.sources,
    lines: plugged.map((w) => ({ line: w.line, net: w.net, tax: w.tax })),
    taxes,
    net,
    tax,
    gross,
    instalments,
    currency,
    date,
    problems: [
      ...head.problems,
      ...unread,
      ...kept,
      ...(net + tax < 0n && written.length > 0 ? [lessThanNothing(input.kind)] : []),
      ...ofLines,
      ...ofTerms,
      ...ofControl,
      ...totalProblems(input.total, minor(net + tax), currency),
    ],
  };
}

const lessThanNothing = (kind: "invoice" | "credit note"): Found => ({
  code: "INVALID",
  what: `It comes to less than nothing. Enter it as ${kind === "invoice" ? "a credit note" : "an invoice"}`,
  field: "kind",
});

function paperLines(): PaperLines {
  const lines: EntryLine[] = [];
  const sources: (number | null)[] = [];
  const put = (line: EntryLine, source: number | null) => {
    lines.push(line);
    sources.push(source);
  };
  return {
    lines,
    sources,
    put,
    add: (line, amount, source) => {
      if (amount === 0n) return;
      put(
        {
          ...line,
          side: amount > 0n ? "debit" : "credit",
          amount: minor(amount < 0n ? -amount : amount),
        },
        source,
      );
    },
  };
}

function entryOf<L extends PaperLine>(
  input: PaperInput<L>,
  { partner }: PaperContext,
  side: TradeSide,
  head: PaperHead,
  lines: EntryLine[],
): JournalEntry {
  const number = input.number.trim();
  return {
    company: input.company,
    type: side.journalType,
    book: null,
    date: head.postingDate,
    currency: head.currency,
    rateKind: input.rateKind,
    ...(head.rate ? { rate: head.rate } : {}),
    description:
      input.description.trim() ||
      `${partner?.name ?? input.partner}, ${input.kind} ${number}`.trim(),
    reference: number.slice(0, 60),
    lines,
  };
}

/** What the paper says in all has to be what its lines come to. */
function totalProblems(total: string, computed: Minor, currency: string): Found[] {
  if (total.trim() === "") return [];
  const reading = readAmount(total, currency);
  if (!reading.ok) return [{ code: "AMOUNT_NOT_NUMBER", text: total, field: "total" }];
  if (reading.amount === computed) return [];
  return [
    {
      code: "INVOICE_TOTAL",
      paper: amountText(reading.amount, currency),
      computed: amountText(computed, currency),
      difference: amountText(minor(reading.amount - computed), currency),
      field: "total",
    },
  ];
}
