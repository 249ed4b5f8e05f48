import Decimal from "decimal.js";
import type { EInvoice } from "./eInvoice";

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
