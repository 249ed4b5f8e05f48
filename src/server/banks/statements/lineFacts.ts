import { sql } from "drizzle-orm";
import type { LineItem } from "@/core/banks";
import { tolerated, type PaymentTolerance, type ToleratedDiscount } from "@/core/openItems";
import {
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { arrayOf, likeText, rows, type Db } from "../../db";
import { TOLERANCES } from "../../partners";

/** An open item as a line can take from it. */
export interface ItemToTake extends LineItem {
  partnerName: string;
  currency: string;
  due: CalendarDate;
  /** What it was made with, and what may be deducted of that, by the last day for it. */
  amount: Minor;
  discounts: ToleratedDiscount[];
  /** The document that it belongs to. */
  document: { id: number; kind: string; number: string | null };
  /**
   * The payment that was carried out and may come back: the item is what its money under way would
   * be again, which lies with the item of the journal that cleared it.
   */
  comesBack: { payment: number; cleared: number } | null;
}

interface ItemRow {
  id: bigint;
  account: string;
  control: LineItem["control"];
  partner: string;
  partnerName: string;
  reference: string;
  currency: string;
  due: string;
  left: bigint;
  leftFunctional: bigint;
  documentId: bigint;
  documentKind: string;
  documentNumber: string | null;
  discounts: { until: string; percent: string; amount: string }[];
  group: string;
  amount: bigint;
  functional: bigint;
  payment: bigint | null;
  cleared: bigint | null;
}

const COLUMNS = sql`i.id, a.number as account, i.area as control, i.partner,
  coalesce(p.name, '') as "partnerName", i.reference, i.currency, i.due_date as due,
  i.left_amount as "left", i.left_functional as "leftFunctional", d.id as "documentId",
  d.kind as "documentKind", d.number as "documentNumber", i.amount, i.functional,
  i.discounts, coalesce(p.customer_group, '') as "group", z.payment, z.cleared
  from open_item i join account a on a.id = i.account_id join document d on d.id = i.document_id
  left join partner p on p.code = i.partner
  left join lateral (select e.id as payment, o.item_id as cleared
    from document_link k join document e on e.id = k.from_id
      and e.kind in ('payment', 'receipt') and e.status = 'cleared'
      join allocation_line l on l.item_id = i.id
      join allocation n on n.id = l.allocation_id and n.kind = 'payment'
        and not exists (select 1 from allocation u where u.undoes_id = n.id)
      join allocation_line o on o.allocation_id = n.id and o.item_id <> i.id
      join open_item c on c.id = o.item_id and c.journal_id = n.journal_id
        and c.account_id = i.account_id
    where i.area = 'transit' and i.left_amount = 0 and k.to_id = i.journal_id and k.kind = 'made'
    order by n.id desc limit 1) z on true`;

/** Suppliers' discounts are had in time or not at all. */
const IN_TIME = { late: "leave open", lateDays: 0 } as const;

const toItem =
  (toleranceOf: (group: string) => PaymentTolerance) =>
  ({
    documentId,
    documentKind,
    documentNumber,
    amount,
    discounts,
    group,
    functional,
    payment,
    cleared,
    ...i
  }: ItemRow): ItemToTake => ({
    ...i,
    id: Number(i.id),
    left: minor(payment === null ? i.left : -amount),
    leftFunctional: minor(payment === null ? i.leftFunctional : -functional),
    amount: minor(amount),
    discounts: tolerated(
      discounts.map((d) => ({ ...d, amount: minor(BigInt(d.amount)) })),
      i.control === "receivables" ? toleranceOf(group) : IN_TIME,
    ),
    comesBack:
      payment === null || cleared === null
        ? null
        : { payment: Number(payment), cleared: Number(cleared) },
    document: { id: Number(documentId), kind: documentKind, number: documentNumber },
  });

/** The items of a company that lines take from, as they stand now. */
export const itemsOfLines = async (
  tx: Db,
  companyId: number,
  ids: readonly number[],
): Promise<ItemToTake[]> =>
  ids.length === 0
    ? []
    : (
        await rows<ItemRow>(
          tx,
          sql`select ${COLUMNS} where i.company_id = ${companyId}
            and i.id = any(${arrayOf([...new Set(ids)])}::bigint[]) order by i.id`,
        )
      ).map(toItem(await TOLERANCES.byGroup(tx)));

/** Items that a line could take from, by partner, number or amount: for a person who looks for one. */
export const searchItems = async (
  tx: Db,
  of: { companyId: number; currency: string; isIn: boolean },
  text: string,
): Promise<ItemToTake[]> => {
  const like = `%${likeText(text)}%`;
  const read = readAmount(text, of.currency);
  const amount = read.ok ? read.amount : null;
  return (
    await rows<ItemRow>(
      tx,
      sql`select ${COLUMNS} where i.company_id = ${of.companyId} and i.currency = ${of.currency}
        and (i.left_amount > 0) = ${of.isIn} and i.left_amount <> 0
        and i.area in ('payables', 'receivables', 'transit')
        and (${text} = '' or i.reference ilike ${like} or d.number ilike ${like}
          or p.name ilike ${like} or i.partner ilike ${like}
          or abs(i.left_amount) = ${amount}::bigint)
        order by i.due_date, i.id limit 50`,
    )
  ).map(toItem(await TOLERANCES.byGroup(tx)));
};

export interface Kind {
  code: string;
  name: string;
  account: string;
  dimensions: Record<string, string>;
  /** The tax that its amounts have in them; "" for none. */
  taxCode: string;
}

/** What stands against a kind for a fee within a slip, which has no tax in it; null where nothing does. */
export const againstFee = (kind: Kind): string | null =>
  kind.taxCode === "" ? null : `${kind.name} has a tax; a fee of a slip is posted without one`;

/** The kind by which a fee within a slip is posted. */
export async function feeKind(tx: Db, code: string): Promise<Result<Kind>> {
  const kind = await codedKind(tx, code);
  const against = kind.ok ? againstFee(kind.value) : null;
  return against === null ? kind : fail({ code: "INVALID", what: against, field: "kind" });
}

/** The kind of a code, where something can be posted as it. */
export async function codedKind(tx: Db, code: string): Promise<Result<Kind>> {
  const kind = (await readKinds(tx)).get(code);
  if (kind && kind.account !== "") return ok(kind);
  const what = kind
    ? `${kind.name} has no account; give it one under Kinds of movement`
    : code === ""
      ? "Choose a kind of movement"
      : `There is no kind ${code}`;
  return fail({ code: "INVALID", what, field: "kind" });
}

export const readKinds = async (tx: Db): Promise<Map<string, Kind>> =>
  new Map(
    (
      await rows<Kind>(
        tx,
        sql`select code, name, account, dimensions, tax_code as "taxCode" from movement_kind`,
      )
    ).map((k) => [k.code, k]),
  );
