import { sql, type SQL } from "drizzle-orm";
import type {
  CodedKind,
  MatchItem,
  MatchLine,
  MatchPartner,
  RememberedLine,
} from "@/core/banks/matching";
import { isReturn } from "@/core/banks";
import { tolerated, type PaymentTolerance } from "@/core/openItems";
import { minor, proportion } from "@/core/shared";
import { arrayOf, rows, type Db } from "../../db";
import { TOLERANCES } from "../../partners";
import { DEBIT_BLOCK, MONEY } from "../moneyUnderWay";
import { bankOfSide, isOwnSide } from "../sideOfTransfer";

interface ItemRow {
  id: bigint;
  area: string;
  partner: string;
  reference: string;
  number: string | null;
  payment: string | null;
  /** The block of a file that it went out with. */
  batch: string;
  cheque: bigint | null;
  left: bigint;
  currency: string;
  date: string;
  due: string;
  discounts: { until: string; percent: string; amount: string }[];
  bank: number | null;
  /** The number of a customer's cheque, where it is one on a slip; of a bill or note. */
  ofSlip: string;
  draft: string;
  amount: bigint;
  group: string;
}

/**
 * The open items that lines of bank accounts of a company in one currency can be the payment of:
 * those of its customers and suppliers, and what is under way from those accounts. What no payment
 * names can be under way from any account that shares its ledger account.
 */
export async function itemsToMatch(
  tx: Db,
  company: { id: number; currency: string },
): Promise<MatchItem[]> {
  const found = await rows<ItemRow>(
    tx,
    sql`select i.id, i.area, i.partner, i.reference, d.number,
        coalesce(p.number, r.number) as payment, coalesce(r.batch, '') as batch, p.cheque,
        i.left_amount as "left", i.currency, i.date, i.due_date as due, i.discounts, i.amount,
        coalesce(w.customer_group, '') as "group",
        coalesce(p.bank, y.bank, r.bank, own.id) as bank,
        case when y.kind = 'cheque' then y.cheque else '' end as "ofSlip",
        case when y.kind in ('bill', 'note') then y.cheque else '' end as draft
      from open_item i join document d on d.id = i.document_id
        join account a on a.id = i.account_id
        left join partner w on w.code = i.partner
        left join lateral (select e.number, ${bankOfSide("i", "y")} as bank, (select c.number
            from cheque c where c.payment_id = e.id and c.state <> 'voided'
            order by c.id desc limit 1) as cheque
          from document_link l join payment y on y.document_id = l.from_id
          join document e on e.id = y.document_id
          where i.area = 'transit' and l.to_id = i.journal_id and l.kind = 'made' limit 1) p on true
        left join lateral (select e.number, c.bank_account_id as bank,
            ${DEBIT_BLOCK} as batch
          from receipt c join document e on e.id = c.document_id
            left join direct_debit x on x.receipt_id = c.document_id
            left join payment_file f on f.id = x.file_id left join mandate m on m.id = x.mandate_id
          where c.journal_id = i.journal_id and i.area = 'transit') r on true
        left join lateral (select t.bank_account_id as bank, y.kind, y.cheque from deposit_part y
          join deposit t on t.document_id = y.document_id
          where i.area = 'transit' and i.journal_id in (y.journal_id, y.return_journal_id)
          limit 1) y on true
        left join lateral (select min(b.id) as id from bank_account b
          where i.area = 'transit' and b.company_id = i.company_id and b.currency = i.currency
            and b.under_way_account = a.number having count(*) = 1) own on true
      where i.company_id = ${company.id} and i.left_amount <> 0
        and i.currency = ${company.currency} and i.area in ('payables', 'receivables', 'transit')
      order by i.id`,
  );
  const toleranceOf = await TOLERANCES.byGroup(tx);
  return found.map((i) => ({
    id: Number(i.id),
    partner: i.partner,
    numbers: [...new Set([i.payment, i.draft, i.reference, i.number])].filter(
      (n): n is string => !!n,
    ),
    endToEnd: i.payment ?? "",
    batch: i.batch,
    cheque: i.cheque === null ? i.ofSlip : String(i.cheque),
    left: minor(i.left),
    currency: i.currency,
    date: i.date,
    due: i.due,
    // Suppliers' discounts are had by paying in time, in a run that knows their taxes.
    discounts: i.area === "receivables" ? discountsOf(i, toleranceOf(i.group)) : [],
    underWay: i.area === "transit",
    bank: i.bank,
  }));
}

/** The discounts of a customer's item as they may be had, each for what is left of it. */
const discountsOf = (
  item: Pick<ItemRow, "amount" | "left" | "discounts">,
  tolerance: PaymentTolerance,
): MatchItem["discounts"] =>
  tolerated(
    item.discounts.map((d) => ({
      ...d,
      amount: proportion(BigInt(d.amount), item.left, item.amount),
    })),
    tolerance,
  );

/**
 * Payments and direct debits of ours that a bank has carried out and that may come back, as items
 * that only what comes back meets.
 */
export const carriedOut = async (
  tx: Db,
  company: { id: number; currency: string },
): Promise<MatchItem[]> =>
  (
    await rows<{
      id: bigint;
      partner: string;
      number: string;
      cheque: bigint | null;
      amount: bigint;
      date: string;
      bank: number;
    }>(
      tx,
      sql`select o.id, o.partner, d.number, -o.amount as amount, o.date, p.bank_account_id as bank,
          (select c.number from cheque c where c.payment_id = d.id and c.state <> 'voided'
            order by c.id desc limit 1) as cheque
        from ${MONEY} p join document d on d.id = p.document_id and d.status = 'cleared'
            and (d.kind = 'payment' or p.file_id is not null)
          join document_link k on k.from_id = d.id and k.kind = 'made'
          join open_item o on o.journal_id = k.to_id and o.area = 'transit' and o.left_amount = 0
          and ${isOwnSide("o", "p")}
        where o.company_id = ${company.id} and o.currency = ${company.currency}
        order by o.id`,
    )
  ).map((i) => ({
    id: Number(i.id),
    partner: i.partner,
    numbers: [i.number],
    endToEnd: i.number,
    cheque: i.cheque === null ? "" : String(i.cheque),
    left: minor(i.amount),
    currency: company.currency,
    date: i.date,
    due: i.date,
    discounts: [],
    underWay: true,
    carriedOut: true,
    bank: i.bank,
  }));

/** Partners with the accounts that are theirs: confirmed, or from what people have decided. */
export const partnersToMatch = (tx: Db): Promise<MatchPartner[]> =>
  rows<MatchPartner>(
    tx,
    sql`select p.code, p.name,
        coalesce(jsonb_agg(x.account) filter (where x.account <> ''), '[]'::jsonb) as accounts
      from partner p left join (
        select q.code, case when b.iban <> '' then b.iban else b.number end as account
          from partner_bank b join partner q on q.id = b.partner_id where b.state = 'confirmed'
        union select l.outcome ->> 'partner', l.party_account from statement_line l
          where l.state = 'posted' and l.party_account <> '') x on x.code = p.code
      group by p.code, p.name order by p.code`,
  );

interface LineRow {
  id: bigint;
  version: number;
  bankId: number;
  state: string;
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
  takesBack: boolean;
  returnReason: string;
}

/** A line as the rules see it, and whether something is known of it already. */
export type OpenLine = MatchLine & { isKnown: boolean; version: number };

/** Accounts of our own in all companies, as banks write them. */
export const ownAccountsToMatch = (tx: Db) =>
  rows<{
    id: number;
    companyId: number;
    currency: string;
    code: string;
    iban: string;
    number: string;
    company: string;
  }>(
    tx,
    sql`select b.id, b.company_id as "companyId", b.currency, b.code, b.iban, b.number,
        c.code as company
      from bank_account b join company c on c.id = b.company_id
      where b.iban <> '' or b.number <> '' order by b.id`,
  );

/** Lines of accounts that nobody has decided on, held while they are matched where that is wanted. */
export const linesToMatch = (
  tx: Db,
  accounts: readonly number[],
  held: boolean,
): Promise<OpenLine[]> =>
  readLines(
    tx,
    sql`l.bank_account_id = any(${arrayOf(accounts)}::int[])
      and l.state in ('certain', 'to decide', 'unexplained')
      order by l.id ${held ? sql`for update of l` : sql``}`,
  );

/** Whether a line `l` is decided to be one side of money between own accounts, and lacks the other. */
export const lacksOtherSide = sql`l.state in ('chosen', 'posted')
  and l.outcome -> 'transfer' ->> 'bank' is not null
  and l.outcome -> 'transfer' ->> 'company' is null
  and not exists (select 1 from statement_line o where o.state in ('chosen', 'posted')
    and o.company_id = l.company_id and (o.id = (l.outcome -> 'transfer' ->> 'line')::bigint
      or (o.outcome -> 'transfer' ->> 'line')::bigint = l.id))`;

/**
 * Lines that are decided to be one side of money between own accounts, and whose other side nobody
 * has decided on yet.
 */
export const oneSidedLines = (tx: Db, accounts: readonly number[]): Promise<MatchLine[]> =>
  readLines(
    tx,
    sql`l.bank_account_id = any(${arrayOf(accounts)}::int[]) and ${lacksOtherSide} order by l.id`,
  );

export async function readLines(tx: Db, where: SQL): Promise<OpenLine[]> {
  const found = await rows<LineRow>(
    tx,
    sql`select l.id, l.version, l.bank_account_id as "bankId", l.state, l.amount, s.currency, l.booked,
        l.party_name as name, l.party_account as account, l.party_bic as bic, l.end_to_end as "endToEnd",
        l.creditor_reference as "creditorReference", l.mandate, l.cheque,
        l.bank_reference as bank, l.text, l.code, l.takes_back as "takesBack",
        l.return_reason as "returnReason"
      from statement_line l join bank_statement s on s.id = l.statement_id
      where ${where}`,
  );
  return found.map((l) => ({
    id: Number(l.id),
    version: l.version,
    bank: l.bankId,
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
    isReturn: isReturn(l),
    returnReason: l.returnReason,
    isKnown: l.state !== "unexplained",
  }));
}

export const kindsToMatch = (tx: Db): Promise<CodedKind[]> =>
  rows<CodedKind>(
    tx,
    sql`select code, name, side, to_jsonb(codes) as codes, to_jsonb(words) as words,
      account <> '' as coded from movement_kind order by code`,
  );

/** What lines that are decided and not posted yet take of items, without sign, by item. */
export async function spokenFor(
  tx: Db,
  companies: readonly number[],
): Promise<Map<number, bigint>> {
  const found = await rows<{ id: bigint; taken: bigint }>(
    tx,
    sql`select (t ->> 'item')::bigint as id, sum(abs((t ->> 'amount')::bigint))::bigint as taken
      from statement_line l cross join lateral jsonb_array_elements(l.outcome -> 'takes') t
      where l.company_id = any(${arrayOf(companies)}::int[]) and l.state = 'chosen' group by 1`,
  );
  return new Map(found.map((f) => [Number(f.id), f.taken]));
}

/**
 * Items less what is spoken for; those of which nothing remains are left out. A discount is not to
 * be had any more once a part is.
 */
export const lessSpokenFor = (
  items: readonly MatchItem[],
  taken: ReadonlyMap<number, bigint>,
): MatchItem[] =>
  items.flatMap((i) => {
    const part = taken.get(i.id);
    if (part === undefined) return [i];
    const left = minor(i.left < 0n ? i.left + part : i.left - part);
    return left === 0n || left < 0n !== i.left < 0n ? [] : [{ ...i, left, discounts: [] }];
  });

/** So many of the last lines that people have decided on are remembered. */
const REMEMBERED = 5_000;

/** What people have decided about lines of a company that are posted, but for own transfers. */
export const rememberedLines = (tx: Db, companyId: number): Promise<RememberedLine[]> =>
  rows<RememberedLine>(
    tx,
    sql`select l.party_name as party, l.text, l.amount > 0 as "isIn", l.booked,
        coalesce(l.outcome ->> 'partner', '') as partner, coalesce(l.outcome ->> 'kind', '') as kind,
        nullif(l.outcome -> 'coding', 'null'::jsonb) as coding
      from statement_line l
      where l.company_id = ${companyId} and l.state = 'posted' and l.decided_by is not null
        and coalesce(l.outcome -> 'transfer', 'null'::jsonb) = 'null'::jsonb
      order by l.id desc limit ${REMEMBERED}`,
  );
