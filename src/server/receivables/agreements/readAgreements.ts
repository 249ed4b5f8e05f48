import type { SQL } from "drizzle-orm";
import { indexMove, saleInput, type Agreement, type IndexMove } from "@/core/receivables";
import type { CalendarDate } from "@/core/shared";
import type { Context } from "../../access";
import { readRecurring, type Recurring, type RecurringKind } from "../../recurring";
import { readPriceIndices } from "./priceIndices";

type Content = Omit<Agreement, "name" | "rhythm">;

export const AGREEMENTS: RecurringKind<Content> = {
  id: "agreement",
  noun: "agreement",
  plural: "agreements",
  prepare: "prepare.receivables",
  partsOf: () => [""],
};

/** An agreement as it is kept, and as it was written. */
export interface KeptAgreement extends Recurring<Content> {
  written: Agreement;
}

export const readAgreements = async (
  context: Context,
  where: SQL,
  options: { run?: number } = {},
): Promise<KeptAgreement[]> =>
  (await readRecurring(context, AGREEMENTS, where, options)).map((a) => ({
    ...a,
    written: { ...a.content, sale: saleInput(a.content.sale), name: a.name, rhythm: a.rhythm },
  }));

/**
 * How far the index of an agreement has moved by a day; null where it follows none, or has no
 * value.
 */
export async function moveOf(
  context: Context,
): Promise<(agreement: Agreement, day: CalendarDate) => IndexMove | null> {
  const all = new Map((await readPriceIndices(context.tx)).map((i) => [i.code, i.values]));
  return ({ clause }, day) =>
    clause.index === "" ? null : indexMove(clause, all.get(clause.index) ?? [], day);
}
