import {
  BUYING,
  readPaper,
  type PaperContext,
  type PaperLine,
  type PaperReading,
  type PaperPlug,
} from "../trade";
import type { InvoiceInput, InvoiceLineInput } from "./invoiceInput";
import { addCost, type CostContext } from "./invoiceCost";
import type { LineMatch } from "./match";

/** What a supplier's invoice is read with; its partner is the supplier. */
export type InvoiceContext = PaperContext & CostContext;

export interface InvoiceReading extends PaperReading {
  /** How lines compare with orders and receipts. */
  matches: (LineMatch & { line: number })[];
  /** What does not fit to orders and receipts: with a sentence here it is held. */
  holds: string[];
}

const isBlank = (l: PaperLine & { order?: string }): boolean =>
  [l.account, l.net, l.description, l.order ?? "", ...Object.values(l.dimensions)].every(
    (t) => t.trim() === "",
  );

/**
 * Turns a supplier's invoice as written into the journal that it becomes: cost by line with the tax
 * that can't be recovered, compared with order and receipt where it names one, and shared out where
 * it says so; the rest as `readPaper`.
 */
export function readInvoice(input: InvoiceInput, context: InvoiceContext): InvoiceReading {
  const matches: InvoiceReading["matches"] = [];
  const plug: PaperPlug<InvoiceLineInput> = {
    isBlank,
    addLines: (to, written, head) => {
      const cost = addCost(to, written, head, { ...context, company: input.company });
      matches.push(...cost.matches);
      return cost.problems;
    },
  };
  const reading = readPaper({ ...input, partner: input.supplier }, context, BUYING, plug);
  return { ...reading, matches, holds: matches.flatMap((m) => m.holds) };
}
