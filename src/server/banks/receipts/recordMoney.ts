import { sql } from "drizzle-orm";
import type { SettledItem } from "@/core/banks";
import { minor, type Minor } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { documentLinks, register, setStatus, takeNumbers } from "../../documents";
import type { WhenReversed } from "../../ledger";
import { partnersByCode } from "../../partners";

/**
 * Money of a partner that a bank has moved by itself: a customer has paid, a supplier has debited;
 * or a receipt that was recorded before the bank had it.
 */
export interface MovedMoney {
  /** The journal that posts it. */
  journal: number;
  /** The number of a receipt that was recorded before the bank had it; else it has none yet. */
  number?: string;
  /** What it is called, where that is not where it comes from or goes to. */
  title?: string;
  bank: number;
  partner: string;
  payee: string;
  /** Minor units of its currency, positive for money in. */
  amount: Minor;
  currency: string;
  /** What of the partner's items it settles, each signed like the item. */
  items: readonly SettledItem[];
}

/**
 * Makes the documents of money that came or went with no payment of ours before: a receipt for what
 * came in, a payment by direct debit for what went out; each numbered without gaps, and linked to
 * what it settles and to its journal. Gives each by its journal.
 */
export async function recordMoney(
  context: Context,
  moved: readonly MovedMoney[],
): Promise<Map<number, number>> {
  if (moved.length === 0) return new Map();
  const { tx, masters } = context;
  const journals = new Map(
    (
      await rows<{
        id: bigint;
        date: string;
        companyId: number;
        year: { id: number; name: string };
      }>(
        tx,
        sql`select j.id, j.date, j.company_id as "companyId",
            json_build_object('id', y.id, 'name', y.name) as year
          from journal j join fiscal_year y on y.id = j.year_id
          where j.id = any(${arrayOf(moved.map((m) => m.journal))}::bigint[])`,
      )
    ).map((j) => [Number(j.id), j]),
  );
  const partners = await partnersByCode(
    tx,
    moved.map((m) => m.partner),
  );
  const unnumbered = moved.filter((m) => m.number === undefined);
  const taken = await takeNumbers(
    tx,
    unnumbered.map((m) => {
      const { companyId, year } = journals.get(m.journal)!;
      return { series: kindOf(m), company: masters.companyById.get(companyId)!, year };
    }),
  );
  const numbers = new Map(unnumbered.map((m, i) => [m, taken[i]!.number]));
  const ids = await register(
    context,
    moved.map((m) => ({
      kind: kindOf(m),
      number: m.number ?? numbers.get(m)!,
      companyId: journals.get(m.journal)!.companyId,
      date: journals.get(m.journal)!.date,
      amount: size(m.amount),
      currency: m.currency,
      title: m.title ?? `${m.amount > 0n ? "Receipt from" : "Direct debit by"} ${m.payee}`,
      words: m.items.map((t) => t.reference).join(" "),
      partnerId: partners.get(m.partner)?.id ?? null,
      status: m.amount > 0n ? "posted" : "cleared",
      ...(m.amount > 0n ? {} : { type: "debit" }),
    })),
  );
  await keep(context, moved, ids);
  const pairs = moved.map((m, i) => [ids[i]!, m.journal] as const);
  await documentLinks(tx, "made", pairs);
  await documentLinks(
    tx,
    "cleared",
    pairs.filter((_, i) => moved[i]!.number === undefined),
  );
  const paid = moved.flatMap((m, i) => m.items.map((t) => ({ item: t.item, by: ids[i]! })));
  await tx.execute(
    sql`insert into document_link (from_id, to_id, kind)
      select distinct i.document_id, x.by, 'paid'
      from unnest(${arrayOf(paid.map((p) => p.item))}::bigint[],
          ${arrayOf(paid.map((p) => p.by))}::bigint[]) as x(item, by)
        join open_item i on i.id = x.item
      on conflict do nothing`,
  );
  return new Map(moved.map((m, i) => [m.journal, ids[i]!]));
}

const kindOf = (m: MovedMoney): "receipt" | "payment" => (m.amount > 0n ? "receipt" : "payment");
const size = (a: bigint): Minor => minor(a < 0n ? -a : a);
const discountOf = (m: MovedMoney): Minor => minor(m.items.reduce((t, i) => t + i.discount, 0n));

/** Keeps each in the table of its kind, with what it takes of items. */
async function keep(
  { tx }: Context,
  moved: readonly MovedMoney[],
  ids: readonly number[],
): Promise<void> {
  const all = moved.map((m, i) => ({ m, id: ids[i]! }));
  const common = ({ m, id }: (typeof all)[number]) => ({
    documentId: id,
    bankAccountId: m.bank,
    partner: m.partner,
    discount: discountOf(m),
    journalId: m.journal,
  });
  const came = all.filter(({ m }) => m.amount > 0n);
  const went = all.filter(({ m }) => m.amount < 0n);
  await insertAll(
    tx,
    schema.receipt,
    came.map((x) => ({ ...common(x), payer: x.m.payee })),
  );
  await insertAll(
    tx,
    schema.receiptItem,
    came.flatMap(({ m, id }) =>
      m.items.map(({ item, taken, functional, discount }) => ({
        receiptId: id,
        itemId: item,
        taken,
        functional,
        discount,
      })),
    ),
  );
  await insertAll(
    tx,
    schema.payment,
    went.map((x) => ({ ...common(x), payee: x.m.payee, method: "debit" as const })),
  );
  await insertAll(
    tx,
    schema.paymentItem,
    went.flatMap(({ m, id }) =>
      m.items.map(({ item, taken, functional, discount, lost }) => ({
        paymentId: id,
        itemId: item,
        taken,
        functional,
        discount,
        lost,
      })),
    ),
  );
}

/** A receipt or direct debit whose journal is reversed is reversed with it. */
export const moneyReversed: WhenReversed = async ({ tx }, reversals) => {
  const gone = await rows<{ id: bigint }>(
    tx,
    sql`select m.id from journal v join (
        select document_id as id, journal_id from receipt
        union all select document_id, journal_id from payment where method = 'debit') m
          on m.journal_id = v.reverses_id
      where v.id = any(${arrayOf(reversals)}::bigint[])`,
  );
  await setStatus(
    tx,
    gone.map((g) => Number(g.id)),
    "reversed",
  );
};
