import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { agedItem, unexplained, type PositionItem } from "@/core/banks";
import { fail, isCalendarDate, minor, ok, readInstant } from "@/core/shared";
import type { CalendarDate, Minor, Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows, type Db } from "../../db";
import { seqAt } from "../../ledger";
import { bankOfSide } from "../sideOfTransfer";
import { IN_LEDGER, IN_LEDGER_SINCE, SIGNED } from "./inLedger";
import { reconciledThen, reconciledUntil } from "./reconciledUntil";

/**
 * A bank account on a day: what the bank says, what the ledger says, and what explains the
 * difference. Amounts are minor units of the account's currency.
 */
export interface BankPosition {
  code: string;
  name: string;
  currency: string;
  account: string;
  /**
   * The bank's balance on that day: what the last statement up to it closed with, or what a longer
   * one comes to by then; null where none is there.
   */
  bank: { amount: Minor; date: CalendarDate; statement: string; id: number } | null;
  ledger: Minor;
  /** Lines of the bank that are not in the ledger: the ledger lacks them. */
  notPosted: PositionItem[];
  /** Lines of the ledger that no statement has. */
  notOnStatement: PositionItem[];
  /** What has left for this account's bank, or is expected there, and is not on a statement yet. */
  underWay: PositionItem[];
  /** What nothing of all that explains: must be nil. */
  unexplained: Minor;
  /** Up to which day it is reconciled and closed. */
  reconciled: CalendarDate | null;
}

/** A bank account, as far as its position asks. */
export interface Bank {
  id: number;
  code: string;
  name: string;
  currency: string;
  account: string;
}

/** The position of each bank account of a company on a day. */
export const bankPosition = defineUseCase({
  name: "bankPosition",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank accounts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    date: string().required(),
    /** Instant: what was known then. */
    asKnown: string(),
  }),
  run: async (context, input): Promise<Result<BankPosition[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const banks = await rows<Bank>(
      context.tx,
      sql`select id, code, name, currency, account from bank_account
        where company_id = ${company.id} order by code`,
    );
    const at = input.asKnown ? readInstant(input.asKnown) : null;
    if (input.asKnown && !at)
      return fail({ code: "DATE_INVALID", text: input.asKnown, field: "asKnown" });
    const known = at && { at, seq: await seqAt(context.tx, company.id, at) };
    return ok(await positionsOf(context.tx, company.id, banks, input.date, known));
  },
});

/** A moment, and the last journal of the company's chain then. */
interface Known {
  at: Date;
  seq: bigint;
}

/**
 * The positions of all accounts of a company: as many queries for one as for many. As known at an
 * earlier moment: by the statements that had come in, the journals that were posted, and what was set
 * against each other by then; a file that was taken back since is gone from it.
 */
export async function positionsOf(
  tx: Db,
  companyId: number,
  banks: readonly Bank[],
  day: CalendarDate,
  known: Known | null = null,
): Promise<BankPosition[]> {
  const by = knownBy(known, day);
  // A statement that goes on behind the day counts as far as its lines up to it.
  const last = byBank(
    await rows<{ bank: number; id: bigint; number: string; date: string; amount: bigint }>(
      tx,
      sql`select distinct on (s.bank_account_id) s.bank_account_id as bank, s.id, s.number,
          least(s.closing_date, ${day}::date) as date,
          case when s.closing_date <= ${day} then s.closing else s.opening + coalesce((
            select sum(l.amount) from statement_line l
            where l.statement_id = s.id and l.booked <= ${day}), 0)::bigint end as amount
        from bank_statement s where s.company_id = ${companyId} and ${by.statement}
          and (s.closing_date <= ${day}
          or exists (select 1 from statement_line l
            where l.statement_id = s.id and l.booked <= ${day}))
        order by s.bank_account_id, least(s.closing_date, ${day}::date) desc, s.closing_date,
          s.id desc`,
    ),
  );
  const held = byBank(
    await rows<{ bank: number; amount: bigint }>(
      tx,
      sql`select b.id as bank, sum(${SIGNED})::bigint as amount from ${IN_LEDGER}
        where b.company_id = ${companyId} and j.date <= ${day} and ${by.journal} group by b.id`,
    ),
  );
  const notPosted = byBank(
    await rows<RawItem>(
      tx,
      sql`select l.bank_account_id as bank, l.id, l.booked as date,
          coalesce(nullif(l.party_name, ''), left(l.text, 80)) as label, s.number, l.amount
        from statement_line l join bank_statement s on s.id = l.statement_id
        where l.company_id = ${companyId} and ${by.statement} and not ${by.posted}
          and l.booked <= ${day}
        order by l.booked, l.id`,
    ),
  );
  const notOnStatement = byBank(
    await rows<RawItem>(
      tx,
      sql`select b.id as bank, j.id, j.date, j.description as label, j.number,
          sum(${SIGNED})::bigint as amount
        from ${IN_LEDGER_SINCE} and b.company_id = ${companyId} and j.date <= ${day}
          and ${by.journal} and not exists ${by.lineOfJournal}
        group by b.id, j.id having sum(${SIGNED}) <> 0 order by j.date, j.id`,
    ),
  );
  const underWay = byBank(
    await rows<RawItem>(
      tx,
      sql`select b.id as bank, i.journal_id as id, i.date, coalesce(nullif(p.name, ''), i.reference) as label,
          coalesce(y.number, i.reference) as number, ${by.left} as amount
        from open_item i join account a on a.id = i.account_id
          join bank_account b on b.company_id = i.company_id and b.under_way_account = a.number
            and b.currency = i.currency
          left join partner p on p.code = i.partner
          left join lateral (select e.number, ${bankOfSide("i", "z")} as bank from document_link k
            join payment z on z.document_id = k.from_id join document e on e.id = z.document_id
            where k.to_id = i.journal_id and k.kind = 'made' limit 1) y on true
        where i.company_id = ${companyId} and i.area = 'transit' and ${by.left} <> 0
          and i.date <= ${day} and ${by.item} and coalesce(y.bank, b.id) = b.id
        order by i.date, i.id`,
    ),
  );
  const closed = byBank(
    await rows<{ bank: number; date: string | null }>(
      tx,
      sql`select b.id as bank, ${known ? reconciledThen(sql`b.id`, known.at) : reconciledUntil(sql`b.id`)} as date
        from bank_account b
        where b.company_id = ${companyId}`,
    ),
  );
  return banks.map((b) => {
    const [statement] = last(b.id);
    const ledger = minor(held(b.id)[0]?.amount ?? 0n);
    const lists = {
      notPosted: notPosted(b.id).map((i) => aged(i, day)),
      notOnStatement: notOnStatement(b.id).map((i) => aged(i, day)),
    };
    return {
      code: b.code,
      name: b.name,
      currency: b.currency,
      account: b.account,
      bank: statement
        ? {
            id: Number(statement.id),
            amount: minor(statement.amount),
            date: statement.date,
            statement: statement.number,
          }
        : null,
      ledger,
      notPosted: lists.notPosted,
      notOnStatement: lists.notOnStatement,
      underWay: underWay(b.id).map((i) => aged(i, day)),
      unexplained: statement
        ? unexplained({ bank: minor(statement.amount), ledger, ...lists })
        : minor(0n),
      reconciled: closed(b.id)[0]?.date ?? null,
    };
  });
}

/**
 * What counts at a moment, as conditions on statements s, lines l, journals j and items i, with the bank
 * account b; all there is where no moment is asked for.
 */
function knownBy(known: Known | null, day: CalendarDate) {
  if (!known)
    return {
      statement: sql`true`,
      journal: sql`true`,
      posted: sql`(l.state = 'posted')`,
      lineOfJournal: sql`(select 1 from statement_line o
        where o.journal_id = j.id and o.bank_account_id = b.id and o.booked <= ${day})`,
      left: sql`i.left_amount`,
      item: sql`true`,
    };
  const at = known.at.toISOString();
  const stands = sql`w.seq <= ${known.seq} and not exists (select 1 from journal r
    where r.reverses_id = w.id and r.seq <= ${known.seq})`;
  return {
    statement: sql`s.made_at <= ${at}`,
    journal: sql`j.seq <= ${known.seq}`,
    posted: sql`exists (select 1 from line_journal k join journal w on w.id = k.journal_id
      where k.line_id = l.id and ${stands})`,
    lineOfJournal: sql`(select 1 from line_journal k join statement_line o on o.id = k.line_id
        join bank_statement s on s.id = o.statement_id join journal w on w.id = k.journal_id
      where k.journal_id = j.id and o.bank_account_id = b.id and o.booked <= ${day}
        and s.made_at <= ${at} and ${stands})`,
    left: sql`(i.amount - coalesce((select sum(al.amount) from allocation_line al
      join allocation a on a.id = al.allocation_id
      where al.item_id = i.id and a.date <= ${day} and a.made_at <= ${at}), 0))::bigint`,
    item: sql`i.seq <= ${known.seq}`,
  };
}

/** Rows by the bank account that they belong to. */
function byBank<R extends { bank: number }>(found: readonly R[]): (bank: number) => readonly R[] {
  const of = new Map<number, R[]>();
  for (const r of found) {
    const at = of.get(r.bank);
    if (at) at.push(r);
    else of.set(r.bank, [r]);
  }
  return (bank) => of.get(bank) ?? [];
}

interface RawItem {
  bank: number;
  id: bigint;
  date: string;
  label: string;
  number: string;
  amount: bigint;
}

const aged = ({ bank: _, ...i }: RawItem, day: CalendarDate): PositionItem =>
  agedItem({ ...i, id: Number(i.id), amount: minor(i.amount) }, day);
