import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  daysBetween,
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";

/** Something that stands between what the bank says and what the ledger says. */
export interface PositionItem {
  id: number;
  date: CalendarDate;
  label: string;
  number: string;
  amount: Minor;
  /** How many days old it is on the day of the position. */
  age: number;
}

/**
 * A bank account on a day: what the bank says, what the ledger says, and what explains the
 * difference. Amounts are minor units of the account's currency.
 */
export interface BankPosition {
  code: string;
  name: string;
  currency: string;
  account: string;
  /** The closing balance of the last statement up to that day; null where none is there. */
  bank: { amount: Minor; date: CalendarDate; statement: string } | null;
  ledger: Minor;
  /** Lines of the bank that are not in the ledger: the ledger lacks them. */
  notPosted: PositionItem[];
  /** Lines of the ledger that no statement has. */
  notOnStatement: PositionItem[];
  /** What has left for this account's bank, or is expected there, and is not on a statement yet. */
  underWay: PositionItem[];
  /** What nothing of all that explains: must be nil. */
  unexplained: Minor;
}

interface Bank {
  id: number;
  companyId: number;
  code: string;
  name: string;
  currency: string;
  account: string;
  underWayAccount: string;
}

/** The position of each bank account of a company on a day. */
export const bankPosition = defineUseCase({
  name: "bankPosition",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank accounts",
  company: (i) => i.company,
  schema: object({ company: string().required(), date: string().required() }),
  run: async (context, input): Promise<Result<BankPosition[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const banks = await rows<Bank>(
      context.tx,
      sql`select id, company_id as "companyId", code, name, currency, account,
        under_way_account as "underWayAccount" from bank_account
        where company_id = ${company.id} order by code`,
    );
    const positions: BankPosition[] = [];
    for (const b of banks) positions.push(await positionOf(context, b, input.date));
    return ok(positions);
  },
});

async function positionOf({ tx }: Context, bank: Bank, day: CalendarDate): Promise<BankPosition> {
  const [last] = await rows<{ number: string; date: string; amount: bigint }>(
    tx,
    sql`select number, closing_date as date, closing as amount from bank_statement
      where bank_account_id = ${bank.id} and closing_date <= ${day}
      order by closing_date desc, id desc limit 1`,
  );
  const [first] = await rows<{ date: string; amount: bigint }>(
    tx,
    sql`select opening_date as date, opening as amount from bank_statement
      where bank_account_id = ${bank.id} order by closing_date, id limit 1`,
  );
  const inLedger = sql`journal_line n join journal j on j.id = n.journal_id
    join account a on a.id = n.account_id
    where j.company_id = ${bank.companyId} and a.number = ${bank.account} and j.date <= ${day}
      and n.currency = ${bank.currency}`;
  const signed = sql`case n.side when 'D' then n.foreign_amount else -n.foreign_amount end`;
  const [held] = await rows<{ amount: bigint }>(
    tx,
    sql`select coalesce(sum(${signed}), 0)::bigint as amount from ${inLedger}`,
  );
  const notPosted = await rows<RawItem>(
    tx,
    sql`select l.id, l.booked as date, coalesce(nullif(l.party_name, ''), left(l.text, 80)) as label,
        s.number, l.amount
      from statement_line l join bank_statement s on s.id = l.statement_id
      where l.bank_account_id = ${bank.id} and l.state <> 'posted' and l.booked <= ${day}
      order by l.booked, l.id`,
  );
  // Before the first statement the bank's own balance stands for all that was there.
  const since = first?.date ?? null;
  const notOnStatement =
    since === null
      ? []
      : await rows<RawItem>(
          tx,
          sql`select j.id, j.date, j.description as label, j.number, sum(${signed})::bigint as amount
            from ${inLedger} and j.date > ${since} and not exists (
                select 1 from statement_line l where l.journal_id = j.id)
              and not exists (select 1 from statement_line l where l.journal_id = j.reverses_id)
            group by j.id having sum(${signed}) <> 0 order by j.date, j.id`,
        );
  const underWay = await rows<RawItem>(
    tx,
    sql`select i.id, i.date, coalesce(nullif(p.name, ''), i.reference) as label,
        coalesce(y.number, i.reference) as number, i.left_amount as amount
      from open_item i join account a on a.id = i.account_id
        left join partner p on p.code = i.partner
        left join lateral (select e.number, z.bank_account_id from document_link k
          join payment z on z.document_id = k.from_id join document e on e.id = z.document_id
          where k.to_id = i.journal_id and k.kind = 'made' limit 1) y on true
      where i.company_id = ${bank.companyId} and i.area = 'transit' and i.left_amount <> 0
        and i.currency = ${bank.currency} and i.date <= ${day}
        and a.number = ${bank.underWayAccount}
        and coalesce(y.bank_account_id, ${bank.id}) = ${bank.id} order by i.date, i.id`,
  );
  const sum = (of: readonly RawItem[]) => of.reduce((t, i) => t + i.amount, 0n);
  const ledger = minor(held?.amount ?? 0n);
  const explained = ledger + sum(notPosted) - sum(notOnStatement);
  return {
    code: bank.code,
    name: bank.name,
    currency: bank.currency,
    account: bank.account,
    bank: last ? { amount: minor(last.amount), date: last.date, statement: last.number } : null,
    ledger,
    notPosted: notPosted.map((i) => aged(i, day)),
    notOnStatement: notOnStatement.map((i) => aged(i, day)),
    underWay: underWay.map((i) => aged(i, day)),
    unexplained: minor(last ? last.amount - explained : 0n),
  };
}

interface RawItem {
  id: bigint;
  date: string;
  label: string;
  number: string;
  amount: bigint;
}

const aged = (i: RawItem, day: CalendarDate): PositionItem => ({
  ...i,
  id: Number(i.id),
  amount: minor(i.amount),
  age: daysBetween(i.date, day),
});
