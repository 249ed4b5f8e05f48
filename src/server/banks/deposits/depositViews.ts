import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { DepositKind, DepositState, SlipRequest } from "@/core/banks";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";

const READ = ["read.banks", "read.receivables"] as const;

/** A slip with how far it has come. */
export interface DepositRow {
  id: number;
  number: string;
  status: string;
  date: CalendarDate;
  bank: string;
  currency: string;
  amount: Minor;
  parts: number;
  /** What of it the bank has not on a statement yet. */
  underWay: Minor;
  /** Whether the bank has had all of it on statements, what came back included. */
  cleared: boolean;
  by: string;
}

export interface DepositPartView {
  no: number;
  kind: DepositKind;
  partner: string;
  payer: string;
  cheque: string;
  amount: Minor;
  /** When a bill or note is to be paid; null for what is paid at sight. */
  dueDate: CalendarDate | null;
  /** What of the amount is a fee for paying later. */
  fee: Minor;
  state: DepositState;
  reason: string;
  journal: { id: number; number: string };
  returnJournal: { id: number; number: string } | null;
  /** What it pays, or paid: references of the items. */
  pays: string[];
}

export interface DepositView extends DepositRow {
  company: string;
  bankName: string;
  reason: string;
  /** What a second person is asked to do with it; null for nothing. */
  request: (SlipRequest & { by: string; login: string }) | null;
  of: DepositPartView[];
}

type Row = Omit<DepositRow, "id" | "amount" | "underWay"> & {
  id: bigint;
  amount: bigint;
  underWay: bigint;
  company: string;
  bankName: string;
  reason: string;
  request: DepositView["request"];
};

const COLUMNS = sql`d.id, d.number, d.status, d.date, b.code as bank, d.currency, d.amount,
  (select count(*)::int from deposit_part y where y.document_id = d.id) as parts,
  z."underWay", z.cleared,
  p.name as by, c.code as company, b.bank_name as "bankName", t.reason,
  (select q.request || jsonb_build_object('by', w.name, 'login', w.login) from deposit_request q
    join person w on w.id = q.asked_by where q.document_id = d.id) as request
  from deposit t join document d on d.id = t.document_id
    join bank_account b on b.id = t.bank_account_id join company c on c.id = d.company_id
    join person p on p.id = d.created_by
    cross join lateral (select coalesce(sum(i.left_amount), 0)::bigint as "underWay",
        coalesce(bool_and(i.left_amount = 0), false) as cleared
      from deposit_part y join open_item i
        on i.journal_id in (y.journal_id, y.return_journal_id) and i.area = 'transit'
      where y.document_id = d.id) z`;

const toRow = (r: Row) => ({
  ...r,
  id: Number(r.id),
  amount: minor(r.amount),
  underWay: minor(r.underWay),
});

/** The slips of a company, the newest first. */
export const listDeposits = defineUseCase({
  name: "listDeposits",
  kind: "read",
  rights: READ,
  what: "see deposits",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx }, input): Promise<Result<DepositRow[]>> =>
    ok(
      (
        await rows<Row>(
          tx,
          sql`select ${COLUMNS} where c.code = ${input.company} order by d.id desc limit 2000`,
        )
      ).map(toRow),
    ),
});

export async function readDeposit(
  { tx }: Context,
  id: number,
  lock = false,
): Promise<DepositView | undefined> {
  const [row] = await rows<Row>(
    tx,
    sql`select ${COLUMNS} where d.id = ${id}::bigint ${lock ? sql`for update of t` : sql``}`,
  );
  if (!row) return undefined;
  const parts = await rows<
    Omit<DepositPartView, "amount" | "fee" | "journal" | "returnJournal"> & {
      amount: bigint;
      fee: bigint;
      journal: { id: number; number: string };
      returnJournal: { id: number; number: string } | null;
    }
  >(
    tx,
    sql`select y.no, y.kind, y.partner, y.payer, y.cheque, y.amount, y.due_date as "dueDate",
        y.fee, y.state, y.reason,
        jsonb_build_object('id', j.id, 'number', j.number) as journal,
        case when r.id is not null then jsonb_build_object('id', r.id, 'number', r.number) end
          as "returnJournal",
        coalesce((select jsonb_agg(distinct i.reference) from allocation a
          join allocation_line l on l.allocation_id = a.id join open_item i on i.id = l.item_id
          where a.journal_id = y.journal_id and a.kind = 'payment'
            and i.journal_id <> y.journal_id), '[]'::jsonb) as pays
      from deposit_part y join journal j on j.id = y.journal_id
        left join journal r on r.id = y.return_journal_id
      where y.document_id = ${row.id} order by y.no`,
  );
  return {
    ...toRow(row),
    of: parts.map((p) => ({ ...p, amount: minor(p.amount), fee: minor(p.fee) })),
  };
}

export const getDeposit = defineUseCase({
  name: "getDeposit",
  kind: "read",
  rights: READ,
  what: "see deposits",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<DepositView>> => {
    const found = await readDeposit(context, input.id);
    if (!found) return fail({ code: "NOT_FOUND", what: "such deposit slip" });
    return READ.some((r) => context.may(r, found.company))
      ? ok(found)
      : fail({ code: "FORBIDDEN", what: `see deposits of ${found.company}` });
  },
});
