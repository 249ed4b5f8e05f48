import { convertBy, type Conversion } from "@/core/rates";
import { minor, type CalendarDate } from "@/core/shared";
import type { TaxDirection } from "@/core/taxes";
import type { TaxSum } from "@/core/trade";
import type { Context } from "../access";
import type { recordTaxes } from "../taxes";

/** The record of a tax in an amount of a bank or cash box, which hangs on its journal. */
export function taxOfMoney(
  { masters }: Context,
  tax: { sum: TaxSum; direction: TaxDirection; rate: Conversion; currency: string },
  journal: { id: number; seq: bigint; date: CalendarDate; companyId: number },
): Parameters<typeof recordTaxes>[1][number] {
  const { id, seq, date, companyId } = journal;
  const functional = masters.companyById.get(companyId)!.currency;
  return {
    document: {
      id,
      companyId,
      direction: tax.direction,
      journal: { id, seq },
      date,
      reportedOn: null,
      currency: tax.currency,
      sign: 1n,
      functional: (amount) => convertBy(minor(amount), tax.currency, functional, tax.rate),
    },
    taxes: [tax.sum],
  };
}
