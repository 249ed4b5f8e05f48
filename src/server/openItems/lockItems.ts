import { sql } from "drizzle-orm";
import type { ItemControl, OpenItemKind } from "@/core/ledger";
import type { ItemLeft } from "@/core/openItems";
import { minor, type CalendarDate } from "@/core/shared";
import { lockChains, type Context } from "../access";
import { arrayOf, rows } from "../db";

/** The type of the journals that move items of a kind without money. */
export const JOURNAL_TYPE: Readonly<Record<ItemControl, string>> = {
  payables: "payment",
  receivables: "receipt",
  transit: "bank",
};

/** An item that is held for this transaction. */
export interface LockedItem extends ItemLeft {
  companyId: number;
  area: ItemControl;
  kind: OpenItemKind;
  date: CalendarDate;
  dueDate: CalendarDate;
  reference: string;
  hold: string;
}

/**
 * Items for this transaction, with what is left of them. Their company's chain is held, so that no
 * other allocation takes the same.
 */
export async function lockItems(
  { tx, masters }: Context,
  ids: readonly number[],
): Promise<Map<number, LockedItem>> {
  const companies = await rows<{ companyId: number }>(
    tx,
    sql`select distinct company_id as "companyId" from open_item where id = any(${arrayOf(ids)}::bigint[])`,
  );
  await lockChains(
    tx,
    companies.map((c) => masters.companyById.get(c.companyId)!.code),
  );
  const found = await rows<
    Omit<LockedItem, "id" | "left" | "leftFunctional"> & {
      id: bigint;
      left: bigint;
      leftFunctional: bigint;
    }
  >(
    tx,
    sql`select i.id, i.company_id as "companyId", i.area, a.number as account, i.partner,
      i.currency, i.left_amount as "left", i.left_functional as "leftFunctional", i.date,
      i.reference, i.kind, i.due_date as "dueDate", i.hold from open_item i join account a on a.id = i.account_id
      where i.id = any(${arrayOf(ids)}::bigint[]) order by i.id for update of i`,
  );
  return new Map(
    found.map((f) => [
      Number(f.id),
      { ...f, id: Number(f.id), left: minor(f.left), leftFunctional: minor(f.leftFunctional) },
    ]),
  );
}
