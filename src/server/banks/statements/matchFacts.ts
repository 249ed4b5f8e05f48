import { sql } from "drizzle-orm";
import type { CodedKind, MatchItem, MatchLine, MatchPartner } from "@/core/banks/matching";
import { minor } from "@/core/shared";
import { arrayOf, rows, type Db } from "../../db";

interface ItemRow {
  id: bigint;
  area: string;
  partner: string;
  reference: string;
  number: string | null;
  payment: string | null;
  cheque: bigint | null;
  left: bigint;
  currency: string;
  date: string;
  due: string;
  discounts: { until: string; percent: string; amount: string }[];
}

/**
 * The open items that lines of a bank account can be the payment of: those of its company's
 * customers and suppliers in its currency, and what is under way from it.
 */
export async function itemsToMatch(
  tx: Db,
  bank: { id: number; companyId: number; currency: string; underWayAccount: string },
): Promise<MatchItem[]> {
  const found = await rows<ItemRow>(
    tx,
    sql`select i.id, i.area, i.partner, i.reference, d.number,
        p.number as payment, p.cheque, i.left_amount as "left", i.currency,
        i.date, i.due_date as due, i.discounts
      from open_item i join account a on a.id = i.account_id
        join document d on d.id = i.document_id
        left join lateral (select e.number, y.bank_account_id, (select c.number from cheque c
            where c.payment_id = e.id and c.state <> 'voided' order by c.id desc limit 1) as cheque
          from document_link l join payment y on y.document_id = l.from_id
          join document e on e.id = y.document_id
          where i.area = 'transit' and l.to_id = i.journal_id and l.kind = 'made' limit 1) p on true
      where i.company_id = ${bank.companyId} and i.left_amount <> 0
        and i.currency = ${bank.currency}
        and (i.area in ('payables', 'receivables') or (a.number = ${bank.underWayAccount}
          and coalesce(p.bank_account_id, ${bank.id}) = ${bank.id}))
      order by i.id`,
  );
  return found.map((i) => ({
    id: Number(i.id),
    partner: i.partner,
    numbers: [...new Set([i.payment, i.reference, i.number])].filter((n): n is string => !!n),
    endToEnd: i.payment ?? "",
    cheque: i.cheque === null ? "" : String(i.cheque),
    left: minor(i.left),
    currency: i.currency,
    date: i.date,
    due: i.due,
    // Suppliers' discounts are had by paying in time, in a run that knows their taxes.
    discounts:
      i.area === "receivables"
        ? i.discounts.map((d) => ({ until: d.until, amount: minor(BigInt(d.amount)) }))
        : [],
    underWay: i.area === "transit",
  }));
}

/** Partners with the accounts that are theirs: confirmed, or from what people have decided. */
export const partnersToMatch = (tx: Db): Promise<MatchPartner[]> =>
  rows<MatchPartner>(
    tx,
    sql`select p.code, p.name, coalesce((select jsonb_agg(distinct x.account) from (
        select case when b.iban <> '' then b.iban else b.number end as account from partner_bank b
          where b.partner_id = p.id and b.state = 'confirmed'
        union select l.party_account from statement_line l
          where l.state = 'posted' and l.party_account <> '' and l.outcome ->> 'partner' = p.code)
        x where x.account <> ''), '[]'::jsonb) as accounts from partner p order by p.code`,
  );

interface LineRow {
  id: bigint;
  amount: bigint;
  currency: string;
  booked: string;
  name: string;
  account: string;
  bic: string;
  endToEnd: string;
  creditorReference: string;
  mandate: string;
  cheque: string;
  bank: string;
  text: string;
  code: string;
  returnReason: string;
}

/** Lines of accounts that nobody has decided on. */
export async function linesToMatch(tx: Db, accounts: readonly number[]): Promise<MatchLine[]> {
  const found = await rows<LineRow>(
    tx,
    sql`select l.id, l.amount, s.currency, l.booked, l.party_name as name,
        l.party_account as account, l.party_bic as bic, l.end_to_end as "endToEnd",
        l.creditor_reference as "creditorReference", l.mandate, l.cheque,
        l.bank_reference as bank, l.text, l.code, l.return_reason as "returnReason"
      from statement_line l join bank_statement s on s.id = l.statement_id
      where l.bank_account_id = any(${arrayOf(accounts)}::int[])
        and l.state in ('certain', 'to decide', 'unexplained') order by l.id for update of l`,
  );
  return found.map((l) => ({
    id: Number(l.id),
    amount: minor(l.amount),
    currency: l.currency,
    booked: l.booked,
    party: { name: l.name, account: l.account, bic: l.bic },
    keys: {
      endToEnd: l.endToEnd,
      creditorReference: l.creditorReference,
      mandate: l.mandate,
      cheque: l.cheque,
      bank: l.bank,
    },
    text: l.text,
    code: l.code,
    returnReason: l.returnReason,
  }));
}

export const kindsToMatch = (tx: Db): Promise<CodedKind[]> =>
  rows<CodedKind>(
    tx,
    sql`select code, name, side, to_jsonb(codes) as codes, to_jsonb(words) as words,
      account <> '' as coded from movement_kind order by code`,
  );

/** Items that lines already stand for that are decided and not posted yet. */
export async function spokenFor(tx: Db, companies: readonly number[]): Promise<Set<number>> {
  const found = await rows<{ id: bigint }>(
    tx,
    sql`select (t ->> 'item')::bigint as id from statement_line l
      cross join lateral jsonb_array_elements(l.outcome -> 'takes') t
      where l.company_id = any(${arrayOf(companies)}::int[]) and l.state = 'chosen'`,
  );
  return new Set(found.map((f) => Number(f.id)));
}
