import { amountText } from "../shared";
import { taxAccountsNeeded, type TaxCode } from "../taxes";
import type { PaperLines, TaxSum } from "./paper";
import type { TradeSide } from "./side";

/**
 * Books the taxes of a trade document on their accounts. What is bought: the part that can be
 * recovered, under reverse charge also what the buyer owes, and what is kept back from the
 * supplier. What is sold: what is owed to the tax office, and what the customer keeps back.
 */
export function addTaxLines(
  to: Pick<PaperLines, "add">,
  taxes: readonly TaxSum[],
  known: {
    side: TradeSide;
    /** 1 on an invoice, -1 on a credit note. */
    note: bigint;
    currency: string;
    taxCodes: ReadonlyMap<string, TaxCode>;
  },
): void {
  for (const t of taxes) {
    const code = known.taxCodes.get(t.code)!;
    const booked = taxAccountsNeeded(code);
    const description = `${code.name}, ${t.percent} % of ${amountText(t.base, known.currency)}`;
    const add = (account: string, amount: bigint) =>
      to.add({ account, dimensions: {}, description }, known.note * amount, null);
    if (booked.account) add(code.account, known.side.direction === "sale" ? t.tax : t.recoverable);
    if (booked.owedAccount) add(code.owedAccount, -t.tax);
  }
}
