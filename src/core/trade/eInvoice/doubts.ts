import Decimal from "decimal.js";
import { namesAlike, plainTaxNumber } from "../../partners";
import type { EInvoice } from "./read";

/** Amounts are added as decimals of the paper; none of them is ever a float. */
const Exact = Decimal.clone({ precision: 40 });
const read = (written: string): Decimal | null =>
  /^-?\d{1,15}(\.\d{1,8})?$/.test(written) ? new Exact(written) : null;
const total = (list: readonly string[]): Decimal =>
  list.reduce((sum, w) => sum.plus(read(w) ?? 0), new Exact(0));

/**
 * What an e-invoice contradicts itself in, each as a sentence: somebody has to decide before it is
 * posted. Nothing is said of sums that the paper leaves out.
 * Rules: EN 16931-1, BR-CO-10, 13, 14, 15, 16 and 17, with their tolerance: none but for the tax of
 * a category, which is rounded to the second decimal; and one currency throughout (BR-5, BT-5).
 * Units: decimals of the invoice's currency, as written.
 */
export function doubtsOfPaper(e: EInvoice): string[] {
  const { sums, currency } = e;
  const doubts: string[] = [];
  const compare = (rule: string, name: string, written: string, computed: Decimal) => {
    const said = read(written);
    if (said === null || said.equals(computed)) return;
    doubts.push(
      `The paper's ${name} is ${said.toFixed(2)} ${currency}, its parts come to ${computed.toFixed(2)} (${rule} of EN 16931).`,
    );
  };
  const invoiceLines = e.lines.filter((l) => !l.ofDocument);
  const ofDocument = e.lines.filter((l) => l.ofDocument);
  compare("BR-CO-10", "sum of lines", sums.lines, total(invoiceLines.map((l) => l.net)));
  const lines = read(sums.lines);
  if (lines)
    compare(
      "BR-CO-13",
      "total without tax",
      sums.taxExclusive,
      lines.plus(total(ofDocument.map((l) => l.net))),
    );
  if (e.subtotals.length > 0)
    compare("BR-CO-14", "tax total", sums.tax, total(e.subtotals.map((s) => s.tax)));
  const [exclusive, tax, inclusive] = [
    read(sums.taxExclusive),
    read(sums.tax),
    read(sums.taxInclusive),
  ];
  if (exclusive && tax)
    compare("BR-CO-15", "total with tax", sums.taxInclusive, exclusive.plus(tax));
  if (inclusive)
    compare(
      "BR-CO-16",
      "amount payable",
      sums.payable,
      inclusive.minus(read(sums.prepaid) ?? 0).plus(read(sums.rounding) ?? 0),
    );
  for (const s of e.subtotals) {
    const [taxable, percent, said] = [read(s.taxable), read(s.percent), read(s.tax)];
    if (!taxable || !percent || !said) continue;
    const computed = taxable.mul(percent).div(100).toDecimalPlaces(2, Decimal.ROUND_HALF_UP);
    if (!computed.equals(said))
      doubts.push(
        `The paper's tax of category ${s.category} is ${said.toFixed(2)} ${currency}, ${percent.toString()} % of ${taxable.toFixed(2)} are ${computed.toFixed(2)} (BR-CO-17 of EN 16931).`,
      );
  }
  if (e.otherCurrencies.length > 0)
    doubts.push(
      `The paper is in ${currency}, but has amounts in ${e.otherCurrencies.join(", ")} (BR-5 of EN 16931).`,
    );
  const prepaid = read(sums.prepaid);
  if (prepaid && !prepaid.isZero())
    doubts.push(
      `The paper says that ${prepaid.toFixed(2)} ${currency} are paid already and ${sums.payable} remain. Set the advance against the invoice once it is posted.`,
    );
  if (e.typeCode !== "" && !e.knownType)
    doubts.push(`The paper is of type ${e.typeCode}, which is no ordinary invoice or credit note.`);
  return doubts;
}

/**
 * Whether a paper is for somebody else: another tax number than ours; or, where one of the two has
 * none, another name. Numbers are compared without marks, and without the country before them.
 */
export function doubtsOfBuyer(
  { buyer }: EInvoice,
  company: { name: string; taxNumber: string; country: string },
): string[] {
  const bare = (n: string): string => {
    const plain = plainTaxNumber(n);
    return plain.startsWith(company.country) ? plain.slice(company.country.length) : plain;
  };
  if (buyer.taxNumber !== "" && company.taxNumber !== "")
    return bare(buyer.taxNumber) === bare(company.taxNumber)
      ? []
      : [
          `The paper is addressed to ${buyer.name || "a buyer"} with tax number ${buyer.taxNumber}; ${company.name} has ${company.taxNumber}.`,
        ];
  return buyer.name === "" || namesAlike(buyer.name, company.name)
    ? []
    : [`The paper is addressed to ${buyer.name}, not to ${company.name}.`];
}

/** How far tax may differ between two days' rates before somebody has to look: one in a hundred. */
const RATES_APART = 0.01;

/**
 * Whether the tax in the currency of the tax office is what ours comes to at our rate, within what
 * rates of different days differ by. `ours` is a decimal of that currency; null where no rate is
 * known, of which other checks speak.
 */
export function doubtsOfTaxThere({ taxThere }: EInvoice, ours: string | null): string[] {
  if (!taxThere || ours === null) return [];
  const [said, own] = [read(taxThere.amount), read(ours)];
  if (!own) return [];
  if (!said)
    return [
      `The paper names ${taxThere.currency} as the currency of tax, but gives no tax in it (BR-53 of EN 16931).`,
    ];
  return said.minus(own).abs().lte(own.abs().mul(RATES_APART))
    ? []
    : [
        `The paper's tax is ${said.toFixed(2)} ${taxThere.currency}; at our rate it is ${own.toFixed(2)}.`,
      ];
}
