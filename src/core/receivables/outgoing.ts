import { CATEGORIES_WITH_REASON, type TaxCategory } from "../taxes";
import { minor, type CalendarDate, type Minor } from "../shared";
import type { DeliverTo, EInvoiceParty, OutgoingInvoice } from "../trade/eInvoice/write";
import { readEarnedOver } from "./deferral/deferral";
import type { SaleInput } from "./saleInput";
import type { SaleReading } from "./sale";

/** A posted sale, as its e-invoice is made of it. */
export interface PostedSalePaper {
  content: SaleInput;
  number: string;
  date: CalendarDate;
  figures: Pick<SaleReading, "values" | "lines" | "taxes" | "currency" | "instalments">;
  /** What each tax code of it is to the tax office, and why nothing is charged. */
  words: readonly { code: string; category: TaxCategory; reason: string }[];
  terms: string;
  seller: EInvoiceParty;
  buyer: EInvoiceParty;
  /** The day of its supply as it was written, and where it went if not to the buyer's own place. */
  deliveredOn: CalendarDate;
  deliveredTo: DeliverTo | null;
  bank: OutgoingInvoice["bank"];
}

/** Units of UNECE recommendation 20, as people write them. */
const UNITS: Readonly<Record<string, string>> = {
  "": "C62",
  pcs: "C62",
  pieces: "C62",
  hour: "HUR",
  hours: "HUR",
  h: "HUR",
  day: "DAY",
  days: "DAY",
  week: "WEE",
  weeks: "WEE",
  month: "MON",
  months: "MON",
  year: "ANN",
  years: "ANN",
  kg: "KGM",
  t: "TNE",
  m: "MTR",
  "m²": "MTK",
  "m³": "MTQ",
  l: "LTR",
  km: "KMT",
  kWh: "KWH",
};

/**
 * A posted sale as EN 16931 wants it: a line for each line, at what is left of it after its discount
 * and its part of the document's, with the category of its tax. Minor units, as they were posted.
 */
export function outgoingInvoice(paper: PostedSalePaper): OutgoingInvoice {
  const { content, figures, words } = paper;
  const net = new Map(figures.lines.map((l) => [l.line, l.net]));
  const wordOf = new Map(words.map((w) => [w.code.toUpperCase(), w]));
  const taxes = figures.taxes.filter((t) => !t.withheld);
  const percentOf = new Map(taxes.map((t) => [t.code.toUpperCase(), t.percent]));
  const rateOf = (code: string) => {
    const category = wordOf.get(code)?.category ?? "O";
    return {
      category,
      percent: CATEGORIES_WITH_REASON.has(category) ? "0" : (percentOf.get(code) ?? "0"),
    };
  };
  const withheld = figures.taxes.filter((t) => t.withheld).reduce((t, x) => t + x.tax, 0n);
  return {
    kind: content.kind,
    prepayment: content.prepayment,
    number: paper.number,
    date: paper.date,
    due: figures.instalments.at(-1)?.due ?? paper.date,
    currency: figures.currency,
    corrects: content.corrects.trim().toUpperCase(),
    buyerReference: content.reference.trim(),
    order: "",
    note: content.description.trim(),
    terms: paper.terms,
    seller: paper.seller,
    buyer: paper.buyer,
    delivery:
      paper.deliveredTo === null && paper.deliveredOn === paper.date
        ? null
        : { date: paper.deliveredOn, to: paper.deliveredTo },
    bank: paper.bank,
    lines: figures.values.map((v) => {
      const line = content.lines[v.line - 1]!;
      return {
        description: line.description.trim() || content.description.trim() || line.account,
        item: line.item.trim(),
        quantity: v.price === "" ? "1" : v.quantity,
        unit: unitCode(line.unit),
        net: net.get(v.line) ?? minor(0n),
        over: readEarnedOver(line, paper.date).over,
        ...rateOf(line.taxCode.trim().toUpperCase()),
      };
    }),
    taxes: byRate(
      taxes.map((t) => ({
        ...rateOf(t.code.toUpperCase()),
        base: t.base,
        tax: t.reverse ? minor(0n) : t.tax,
        reason: reasonOf(wordOf.get(t.code.toUpperCase())),
      })),
    ),
    prepaid: minor(withheld),
  };
}

/** A unit by its code; what is neither a code nor known stands for pieces. */
export const unitCode = (written: string): string => {
  const own = written.trim();
  return UNITS[own] ?? UNITS[own.toLowerCase()] ?? (/^[A-Z0-9]{2,3}$/.test(own) ? own : "C62");
};

/** Why nothing is charged, where nobody has said it, in the words of the standard's own list. */
const USUAL: Readonly<Partial<Record<TaxCategory, string>>> = {
  AE: "Reverse charge",
  K: "Intra-community supply",
  G: "Export outside the EU",
  E: "Exempt from tax",
  O: "Not subject to tax",
};
export const reasonOf = (word: { category: TaxCategory; reason: string } | undefined): string =>
  word?.reason || (word && USUAL[word.category]) || "";

type Tax = OutgoingInvoice["taxes"][number];

/** Codes that are the same to the tax office stand together: it knows categories and rates. */
function byRate(taxes: readonly Tax[]): Tax[] {
  const sums = new Map<string, Tax>();
  for (const t of taxes) {
    const key = `${t.category} ${t.percent}`;
    const at = sums.get(key);
    sums.set(key, at ? merged(at, t) : t);
  }
  return [...sums.values()];
}
const merged = (a: Tax, b: Tax): Tax => ({
  ...a,
  base: minor(a.base + b.base) as Minor,
  tax: minor(a.tax + b.tax),
  reason: a.reason || b.reason,
});
