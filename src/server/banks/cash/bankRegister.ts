import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { AccountKind } from "@/core/banks";
import { fail, isCalendarDate, minor, ok } from "@/core/shared";
import type { CalendarDate, Minor, Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { IN_LEDGER, SIGNED } from "../statements/inLedger";

/** A movement of a bank account or cash box, with what it belongs to. */
export interface RegisterRow {
  id: number;
  date: CalendarDate;
  number: string;
  text: string;
  /** Signed: money in is positive. */
  amount: Minor;
  /** What the account holds after it. */
  balance: Minor;
  /** What it was made by: a payment, a slip, a run; null where it was written by hand. */
  document: { id: number; kind: string; number: string } | null;
  /** The line of the bank that it is; null while no statement has it. */
  line: { id: number; statement: string } | null;
  reversed: boolean;
}

export interface BankRegister {
  code: string;
  name: string;
  kind: AccountKind;
  currency: string;
  opening: Minor;
  closing: Minor;
  rows: RegisterRow[];
  /** How many there are in all; the rows are the newest of them. */
  of: number;
  /** What lines of the bank were posted as by their kind, by group of kinds. */
  groups: { name: string; in: Minor; out: Minor; lines: number }[];
}

/** So many movements are shown: more than a busy account has in a month or two. */
const SHOWN = 5_000;

/**
 * Every movement of a bank account or cash box between two days, from the ledger: what it was made
 * by, on which statement it stands, and what was held after it.
 */
export const bankRegister = defineUseCase({
  name: "bankRegister",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank accounts",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    bank: string().required("Choose a bank account"),
    from: string().required(),
    to: string().required(),
  }),
  run: async ({ tx, masters }, input): Promise<Result<BankRegister>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    for (const field of ["from", "to"] as const)
      if (!isCalendarDate(input[field]))
        return fail({ code: "DATE_INVALID", text: input[field], field });
    const [bank] = await rows<{
      id: number;
      code: string;
      name: string;
      kind: AccountKind;
      currency: string;
    }>(
      tx,
      sql`select id, code, name, kind, currency from bank_account
        where code = ${input.bank} and company_id = ${company.id}`,
    );
    if (!bank)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    const [sums] = await rows<{ opening: bigint; closing: bigint; of: number }>(
      tx,
      sql`select coalesce(sum(${SIGNED}) filter (where j.date < ${input.from}), 0)::bigint as opening,
          coalesce(sum(${SIGNED}), 0)::bigint as closing,
          count(*) filter (where j.date >= ${input.from} and n.foreign_amount <> 0)::int as of
        from ${IN_LEDGER} where b.id = ${bank.id} and j.date <= ${input.to}`,
    );
    const found = await rows<{
      id: bigint;
      date: string;
      number: string;
      text: string;
      amount: bigint;
      document: RegisterRow["document"];
      line: RegisterRow["line"];
      reversed: boolean;
    }>(
      tx,
      sql`select j.id, j.date, j.number, case when n.description = '' then j.description
            else n.description end as text, ${SIGNED} as amount, m.document, s.line,
          r.id is not null or j.reverses_id is not null as reversed
        from ${IN_LEDGER}
          left join journal r on r.reverses_id = j.id
          left join lateral (select jsonb_build_object('id', d.id, 'kind', d.kind,
              'number', coalesce(d.number, '')) as document
            from document d where d.id = coalesce((select k.from_id from document_link k
              join document e on e.id = k.from_id and e.kind in ('payment', 'deposit')
              where k.to_id = j.id and k.kind in ('made', 'cleared') order by k.from_id limit 1),
              j.origin_id)) m on true
          left join lateral (select jsonb_build_object('id', l.id, 'statement', t.number) as line
            from statement_line l join bank_statement t on t.id = l.statement_id
            where l.journal_id = j.id and l.bank_account_id = b.id limit 1) s on true
        where b.id = ${bank.id} and j.date between ${input.from} and ${input.to}
          and n.foreign_amount <> 0
        order by j.date desc, j.seq desc, n.line_no desc limit ${SHOWN}`,
    );
    const groups = await rows<{ name: string; in: bigint; out: bigint; lines: number }>(
      tx,
      sql`select coalesce(nullif(k."group", ''), k.name) as name,
          coalesce(sum(x.amount) filter (where x.amount > 0), 0)::bigint as in,
          coalesce(-sum(x.amount) filter (where x.amount < 0), 0)::bigint as out,
          count(*)::int as lines
        from statement_line l cross join lateral (
            select (l.outcome ->> 'rest')::bigint as amount) x
          join movement_kind k on k.code = l.outcome ->> 'kind'
        where l.bank_account_id = ${bank.id} and l.state = 'posted'
          and l.booked between ${input.from} and ${input.to} and x.amount <> 0
        group by 1 order by 1`,
    );
    let held: bigint = sums!.closing;
    const listed = found.map((f): RegisterRow => {
      const row = { ...f, id: Number(f.id), amount: minor(f.amount), balance: minor(held) };
      held -= f.amount;
      return row;
    });
    return ok({
      code: bank.code,
      name: bank.name,
      kind: bank.kind,
      currency: bank.currency,
      opening: minor(sums!.opening),
      closing: minor(sums!.closing),
      rows: listed.reverse(),
      of: sums!.of,
      groups: groups.map((g) => ({ ...g, in: minor(g.in), out: minor(g.out) })),
    });
  },
});
