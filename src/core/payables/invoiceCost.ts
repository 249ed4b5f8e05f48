import { readQuantity } from "../ledger";
import { minor, type Found, type Minor } from "../shared";
import { sharedCoding, type ShareSet } from "../shares";
import type { PaperLines, PlugHead, PluggedLine } from "../trade";
import type { InvoiceLineInput } from "./invoiceInput";
import { matchLine, type LineMatch, type LotUse, type OrderedLine, type ReceiptLot } from "./match";

/** What the cost of a supplier's invoice is found with. */
export interface CostContext {
  company?: string;
  functional: string;
  partner: { code: string } | null;
  /** Lines of orders in force that the invoice names, by their reference. */
  ordered?: ReadonlyMap<string, OrderedLine>;
  /**
   * Where matching posts: what was received and not invoiced, and differences of price and
   * quantity.
   */
  matching?: { grni: string; priceVariance: string; quantityVariance: string };
  shares?: ReadonlyMap<string, ShareSet>;
}

type CostLine = PluggedLine<InvoiceLineInput>;
interface Coding {
  written: true;
  account: string;
  dimensions: Readonly<Record<string, string>>;
  description: string;
  company?: string;
}

/**
 * Adds what the lines of a supplier's invoice cost, with the tax that can't be recovered: of what
 * was ordered, what its receipts have accrued and what differs from the order; of everything else,
 * the line itself or its shares.
 */
export function addCost(
  to: PaperLines,
  written: readonly CostLine[],
  head: PlugHead,
  context: CostContext,
): { matches: (LineMatch & { line: number })[]; problems: Found[] } {
  const problems: Found[] = [];
  const matches: (LineMatch & { line: number })[] = [];
  const used = new Map<string, OrderedLine>();
  for (const w of written) {
    const cost = minor(w.net + w.tax - w.recoverable);
    const ref = w.input.order.trim().toUpperCase();
    if (ref === "") {
      const coding = codingOf(w.input, context);
      const parts = sharesOf(w, coding, cost, head.currency, context, problems);
      for (const part of parts) to.add(part.line, head.sign * part.amount, w.line);
      continue;
    }
    const ordered = used.get(ref) ?? context.ordered?.get(ref);
    const quantity = readQuantity(w.input.quantity);
    const fault = orderFault(w.input, ordered, quantity, head, context);
    if (fault) {
      problems.push({ ...fault, line: w.line });
      continue;
    }
    const match = matchLine(ordered!, quantity!, w.net, cost, head.sign < 0n);
    // A second line of the same invoice finds what the first has left.
    used.set(ref, {
      ...ordered!,
      invoiced: ordered!.invoiced + head.sign * quantity!,
      lots: ordered!.lots.map((l) => afterUse(l, match.uses)),
    });
    const holds = [...match.holds, ...otherTax(w, ordered!)];
    matches.push({ ...match, holds, line: w.line });
    addMatched(to, w, ordered!, match, head, context);
  }
  return { matches, problems };
}

function codingOf(line: InvoiceLineInput, context: CostContext): Coding {
  const company = line.company.trim().toUpperCase();
  return {
    written: true,
    account: line.account.trim(),
    dimensions: line.dimensions,
    description: line.description,
    ...(company && company !== context.company ? { company } : {}),
  };
}

function orderFault(
  line: InvoiceLineInput,
  ordered: OrderedLine | undefined,
  quantity: bigint | null,
  { currency }: PlugHead,
  { partner }: CostContext,
): Found | null {
  const invalid = (what: string): Found => ({ code: "INVALID", what, field: "order" });
  if (!ordered)
    return { code: "NOT_FOUND", what: `line ${line.order} of an order in force`, field: "order" };
  if (ordered.supplier !== partner?.code)
    return invalid(`${ordered.ref} was ordered from another supplier`);
  if (ordered.currency !== currency)
    return invalid(`${ordered.ref} was ordered in ${ordered.currency}`);
  if (quantity === null || quantity <= 0n)
    return { code: "QUANTITY_INVALID", text: line.quantity, field: "quantity" };
  return null;
}

const otherTax = ({ code }: CostLine, ordered: OrderedLine): string[] =>
  code && ordered.taxCode !== "" && code.code !== ordered.taxCode
    ? [`${ordered.ref}: tax code ${code.code} is invoiced, ${ordered.taxCode} was ordered.`]
    : [];

/** The lines of a cost that was ordered. */
function addMatched(
  to: PaperLines,
  w: CostLine,
  ordered: OrderedLine,
  match: LineMatch,
  { sign, currency }: PlugHead,
  context: CostContext,
): void {
  const accounts = context.matching!;
  const own = {
    dimensions: ordered.dimensions,
    description: w.input.description || ordered.description,
  };
  for (const use of match.uses) {
    to.put(
      {
        account: accounts.grni,
        dimensions: {},
        description: own.description,
        side: sign > 0n ? "debit" : "credit",
        amount: use.foreign,
        functional: use.functional,
        carried: true,
      },
      w.line,
    );
    if (use.reopened !== 0n && use.reopenedFrom)
      addReopened(to, w, use, {
        grni: accounts.grni,
        from: use.reopenedFrom,
        description: own.description,
        foreign: currency !== context.functional,
      });
  }
  const coding = codingOf(w.input, context);
  to.add(
    {
      ...coding,
      account: coding.account || ordered.account,
      dimensions:
        Object.keys(coding.dimensions).length > 0 ? coding.dimensions : ordered.dimensions,
      description: own.description,
    },
    sign * match.direct,
    w.line,
  );
  to.add({ account: accounts.priceVariance, ...own }, sign * match.priceVariance, w.line);
  to.add({ account: accounts.quantityVariance, ...own }, sign * match.quantityVariance, w.line);
}

/** What was written off and is billed after all stands again before it is cleared. */
function addReopened(
  to: PaperLines,
  w: CostLine,
  use: LotUse,
  known: {
    grni: string;
    from: NonNullable<LotUse["reopenedFrom"]>;
    description: string;
    foreign: boolean;
  },
): void {
  const amount = minor(use.reopened < 0n ? -use.reopened : use.reopened);
  const [side, other] =
    use.reopened > 0n ? (["credit", "debit"] as const) : (["debit", "credit"] as const);
  const again = {
    description: `Written off before, ${known.description}`.slice(0, 200),
    amount: known.foreign ? minor(0n) : amount,
    functional: amount,
  };
  to.put({ ...again, account: known.grni, dimensions: {}, side }, w.line);
  to.put({ ...again, ...known.from, side: other }, w.line);
}

/** What a lot has left after these uses of it. */
function afterUse(lot: ReceiptLot, uses: readonly LotUse[]): ReceiptLot {
  const own = uses.filter((u) => u.receiptLine === lot.receiptLine);
  if (own.length === 0) return lot;
  const turn = lot.quantityLeft < 0n ? -1n : 1n;
  const sum = (pick: (u: LotUse) => bigint): bigint => own.reduce((t, u) => t + pick(u), 0n);
  return {
    ...lot,
    quantityLeft: lot.quantityLeft - turn * sum((u) => u.quantity),
    foreignLeft: minor(lot.foreignLeft - turn * sum((u) => u.foreign)),
    functionalLeft: minor(lot.functionalLeft - turn * sum((u) => u.functional)),
    cleaned: minor(lot.cleaned - sum((u) => u.reopened)),
  };
}

/** The lines that the cost of an invoice line becomes: itself, or its parts by shares. */
function sharesOf(
  { input, line }: CostLine,
  coding: Coding,
  cost: Minor,
  currency: string,
  context: CostContext,
  problems: Found[],
): { line: Coding; amount: Minor }[] {
  const parts = sharedCoding(coding, { amount: cost, currency }, input.shares, {
    sets: context.shares,
    own: context.company,
  });
  if (parts.ok) return parts.value;
  problems.push(...parts.problems.map((p) => ({ ...p, line })));
  return [{ line: coding, amount: cost }];
}
