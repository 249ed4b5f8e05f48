import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import {
  amountText,
  dateText,
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Minor,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows, type Db } from "../../db";
import type { LineState } from "@/core/banks";
import { matchOpenLines } from "./matchOpenLines";

/** A line of the ledger that may be on a statement of paper, or a line that only the bank knows. */
export interface PaperLine {
  /** The journal; null for what only the bank knows, until it is posted. */
  journal: { id: number; number: string } | null;
  /** The line of the statement; null where the journal is not ticked. */
  line: number | null;
  date: CalendarDate;
  description: string;
  amount: Minor;
  /** Where a line that only the bank knows stands; null for lines of the ledger. */
  state: LineState | null;
}

/** A statement that is copied from paper: what the ledger has is ticked until nothing is left. */
export interface PaperStatement {
  id: number;
  company: string;
  bank: string;
  bankName: string;
  number: string;
  currency: string;
  openingDate: CalendarDate;
  closingDate: CalendarDate;
  opening: Minor;
  closing: Minor;
  doubt: string;
  /** Opening and what is on it, less closing: nil where everything is there. */
  difference: Minor;
  lines: PaperLine[];
  /** Whether a reconciliation holds it: then nothing of it changes. */
  reconciled: boolean;
}

interface Head {
  id: bigint;
  companyId: number;
  company: string;
  bankId: number;
  bank: string;
  bankName: string;
  account: string;
  number: string;
  currency: string;
  openingDate: string;
  closingDate: string;
  opening: bigint;
  closing: bigint;
  doubt: string;
  isPaper: boolean;
  reconciled: boolean;
}

async function readHead(tx: Db, id: number, lock = false): Promise<Head | undefined> {
  const [head] = await rows<Head>(
    tx,
    sql`select s.id, s.company_id as "companyId", c.code as company, b.id as "bankId",
        b.code as bank, b.name as "bankName", b.account, s.number, s.currency,
        s.opening_date as "openingDate", s.closing_date as "closingDate", s.opening, s.closing,
        s.doubt, s.file_id is null as "isPaper", exists (select 1 from reconciliation r
          where r.bank_account_id = b.id and r.reopened_at is null
            and r.date >= s.closing_date) as reconciled
      from bank_statement s join bank_account b on b.id = s.bank_account_id
        join company c on c.id = s.company_id where s.id = ${id}
      ${lock ? sql`for update of s` : sql``}`,
  );
  return head;
}

/** A statement of paper that may be worked on. */
async function toWorkOn({ tx, may }: Context, id: number): Promise<Result<Head>> {
  const head = await readHead(tx, id, true);
  if (!head || !head.isPaper) return fail({ code: "NOT_FOUND", what: "such statement of paper" });
  if (!may("prepare.banks", head.company))
    return fail({ code: "FORBIDDEN", what: `work on bank statements of ${head.company}` });
  if (head.reconciled)
    return fail({
      code: "INVALID",
      what: `${head.bank} is reconciled up to that day; reopen the reconciliation first`,
    });
  return ok(head);
}

export const startPaperStatement = defineUseCase({
  name: "startPaperStatement",
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    bank: string().required("Choose a bank account"),
    number: string().trim().required("A statement has a number").max(35),
    openingDate: string().trim().default(""),
    closingDate: string().required("Say up to which day it goes"),
    /** As typed; empty where the statement before it says so. */
    opening: string().trim().default(""),
    closing: string().trim().required("Type the closing balance"),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [bank] = await rows<{ id: number; code: string; currency: string; until: string | null }>(
      tx,
      sql`select b.id, b.code, b.currency, (select max(r.date) from reconciliation r
          where r.bank_account_id = b.id and r.reopened_at is null) as until
        from bank_account b where b.company_id = ${company.id} and b.code = ${input.bank}
        for update of b`,
    );
    if (!bank)
      return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
    if (!isCalendarDate(input.closingDate))
      return fail({ code: "DATE_INVALID", text: input.closingDate, field: "closingDate" });
    if (input.closingDate > context.today)
      return fail({ code: "INVALID", what: "That day has not come yet", field: "closingDate" });
    const [last] = await rows<{ number: string; date: string; closing: bigint }>(
      tx,
      sql`select number, closing_date as date, closing from bank_statement
        where bank_account_id = ${bank.id} order by closing_date desc, id desc limit 1`,
    );
    const openingDate = input.openingDate || last?.date || "";
    if (openingDate === "")
      return fail({
        code: "INVALID",
        what: "It is the first statement of the account: say from which day it goes",
        field: "openingDate",
      });
    if (!isCalendarDate(openingDate))
      return fail({ code: "DATE_INVALID", text: openingDate, field: "openingDate" });
    if (openingDate >= input.closingDate)
      return fail({
        code: "INVALID",
        what: "A statement closes after the day on which it opens",
        field: "closingDate",
      });
    if (bank.until !== null && openingDate < bank.until)
      return fail({
        code: "INVALID",
        what: `${bank.code} is reconciled up to ${dateText(bank.until)}; a statement opens there, or later`,
        field: "openingDate",
      });
    const from = last && last.date > openingDate ? last.date : bank.until;
    if (from !== null && input.closingDate <= from)
      return fail({
        code: "INVALID",
        what: `There are statements of ${bank.code} up to ${dateText(from)} already`,
        field: "closingDate",
      });
    const closing = readAmount(input.closing, bank.currency);
    if (!closing.ok)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.closing, field: "closing" });
    const opening =
      input.opening === "" && last ? last.closing : typed(input.opening, bank.currency);
    if (opening === null)
      return input.opening === ""
        ? fail({
            code: "INVALID",
            what: "It is the first statement of the account: type the opening balance",
            field: "opening",
          })
        : fail({ code: "AMOUNT_NOT_NUMBER", text: input.opening, field: "opening" });
    const [twice] = await rows<{ id: bigint }>(
      tx,
      sql`select id from bank_statement where bank_account_id = ${bank.id}
        and number = ${input.number} and closing_date = ${input.closingDate}`,
    );
    if (twice)
      return fail({
        code: "INVALID",
        what: `Statement ${input.number} of ${bank.code} to ${dateText(input.closingDate)} is there already`,
        field: "number",
      });
    const doubt =
      last && last.closing !== opening
        ? `It opens with ${amountText(minor(opening), bank.currency)}; statement ${last.number} closed with ${amountText(minor(last.closing), bank.currency)}`
        : "";
    const [kept] = await rows<{ id: bigint }>(
      tx,
      sql`insert into bank_statement (made_by, made_at, company_id, bank_account_id, number,
          currency, opening_date, opening, closing_date, closing, doubt)
        values (${person.id}, ${now.toISOString()}, ${company.id}, ${bank.id}, ${input.number},
          ${bank.currency}, ${openingDate}, ${opening}, ${input.closingDate}, ${closing.amount},
          ${doubt}) returning id`,
    );
    await context.audit({
      action: "statement copied from paper",
      kind: "bank statement",
      recordId: Number(kept!.id),
      label: `${bank.code} ${input.number}`,
      companyId: company.id,
      after: { closing: input.closing },
    });
    return ok({ id: Number(kept!.id) });
  },
});

const typed = (text: string, currency: string): bigint | null => {
  const read = text === "" ? null : readAmount(text, currency);
  return read?.ok ? read.amount : null;
};

const SIGNED = sql`case n.side when 'D' then n.foreign_amount else -n.foreign_amount end`;

/**
 * Journals that stand on the bank's account and on no other statement, with their amounts. A tick is
 * a line of the statement that no run has posted: its journal was there before.
 */
const tickable = (head: Head) => sql`select j.id, j.number, j.date, j.description,
    sum(${SIGNED})::bigint as amount
  from journal_line n join journal j on j.id = n.journal_id
    join account a on a.id = n.account_id
  where j.company_id = ${head.companyId} and a.number = ${head.account}
    and n.currency = ${head.currency} and j.date <= ${head.closingDate}
    and not exists (select 1 from statement_line l
      where l.journal_id = j.id and l.statement_id <> ${head.id})
    and (j.date > (select least(min(s.opening_date), min(x.booked) - 1) from bank_statement s
      left join statement_line x on x.statement_id = s.id where s.bank_account_id = ${head.bankId}))
  group by j.id having sum(${SIGNED}) <> 0`;

export const getPaperStatement = defineUseCase({
  name: "getPaperStatement",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, may }, input): Promise<Result<PaperStatement>> => {
    const head = await readHead(tx, input.id);
    if (!head || !head.isPaper) return fail({ code: "NOT_FOUND", what: "such statement of paper" });
    if (!may("read.banks", head.company))
      return fail({ code: "FORBIDDEN", what: `see bank statements of ${head.company}` });
    const own = await rows<{
      id: bigint;
      booked: string;
      text: string;
      amount: bigint;
      state: LineState;
      journalId: bigint | null;
      journal: string | null;
      ticked: boolean;
    }>(
      tx,
      sql`select l.id, l.booked, l.text, l.amount, l.state, l.journal_id as "journalId",
          j.number as journal, l.journal_id is not null and l.run_id is null as ticked
        from statement_line l left join journal j on j.id = l.journal_id
        where l.statement_id = ${head.id} order by l.booked, l.id`,
    );
    const ledger = await rows<{
      id: bigint;
      number: string;
      date: string;
      description: string;
      amount: bigint;
    }>(tx, sql`${tickable(head)} order by j.date, j.id`);
    const lineOf = new Map(own.flatMap((l) => (l.journalId === null ? [] : [[l.journalId, l]])));
    const onIt = own.reduce((t, l) => t + l.amount, 0n);
    return ok({
      id: input.id,
      company: head.company,
      bank: head.bank,
      bankName: head.bankName,
      number: head.number,
      currency: head.currency,
      openingDate: head.openingDate,
      closingDate: head.closingDate,
      opening: minor(head.opening),
      closing: minor(head.closing),
      doubt: head.doubt,
      difference: minor(head.opening + onIt - head.closing),
      reconciled: head.reconciled,
      lines: [
        ...ledger
          .filter((j) => lineOf.get(j.id)?.ticked !== false)
          .map((j) => ({
            journal: { id: Number(j.id), number: j.number },
            line: lineOf.has(j.id) ? Number(lineOf.get(j.id)!.id) : null,
            date: j.date,
            description: j.description,
            amount: minor(j.amount),
            state: null,
          })),
        ...own
          .filter((l) => !l.ticked)
          .map((l) => ({
            journal: l.journalId === null ? null : { id: Number(l.journalId), number: l.journal! },
            line: Number(l.id),
            date: l.booked,
            description: l.text,
            amount: minor(l.amount),
            state: l.state,
          })),
      ].sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0)),
    });
  },
});

/** Says of journals that they are on a statement of paper, or takes that back. */
export const tickJournals = defineUseCase({
  name: "tickJournals",
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    journals: array(number().integer().required()).min(1).max(5000).required(),
    on: boolean().required(),
  }),
  run: async (context, input): Promise<Result<{ ticked: number }>> => {
    const found = await toWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    const { tx } = context;
    const asked = arrayOf(input.journals);
    if (!input.on) {
      await tx.execute(
        sql`delete from statement_line where statement_id = ${head.id} and run_id is null
          and journal_id = any(${asked}::bigint[])`,
      );
      return ok({ ticked: 0 });
    }
    // What somebody else has ticked meanwhile is on the other statement: it is not there to tick.
    const made = await rows<{ id: bigint }>(
      tx,
      sql`with asked as (${tickable(head)})
        insert into statement_line (statement_id, company_id, bank_account_id, position, booked,
          valued, amount, takes_back, code, party_name, party_account, party_bic, end_to_end,
          creditor_reference, mandate, cheque, bank_reference, text, return_reason, from_line,
          to_line, state, journal_id)
        select ${head.id}, ${head.companyId}, ${head.bankId}, (select coalesce(max(position), -1)
            from statement_line where statement_id = ${head.id}) + row_number() over (order by id),
          greatest(date, ${head.openingDate}::date + 1), date, amount, false, '', '', '', '',
          '', '', '', '', number, left(description, 200), '', 0, 0, 'posted', id
        from asked a where id = any(${asked}::bigint[]) and not exists (select 1
          from statement_line l where l.journal_id = a.id) returning id`,
    );
    return ok({ ticked: made.length });
  },
});

/** Adds a movement to a statement of paper that only the bank knows: it is explained, then posted. */
export const addPaperLine = defineUseCase({
  name: "addPaperLine",
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    date: string().required("Say on which day"),
    /** As typed; below nil for money out. */
    amount: string().trim().required("Type the amount"),
    text: string().trim().required("Say what it is").max(200),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await toWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date <= head.openingDate || input.date > head.closingDate)
      return fail({
        code: "INVALID",
        what: `The statement goes from after ${dateText(head.openingDate)} to ${dateText(head.closingDate)}`,
        field: "date",
      });
    const amount = typed(input.amount, head.currency);
    if (amount === null)
      return fail({ code: "AMOUNT_NOT_NUMBER", text: input.amount, field: "amount" });
    if (amount === 0n)
      return fail({ code: "INVALID", what: "An amount of nil moves nothing", field: "amount" });
    const [made] = await rows<{ id: bigint }>(
      context.tx,
      sql`insert into statement_line (statement_id, company_id, bank_account_id, position, booked,
          valued, amount, takes_back, code, party_name, party_account, party_bic, end_to_end,
          creditor_reference, mandate, cheque, bank_reference, text, return_reason, from_line,
          to_line)
        select ${head.id}, ${head.companyId}, ${head.bankId}, (select coalesce(max(position), -1)
            from statement_line where statement_id = ${head.id}) + 1, ${input.date}, ${input.date},
          ${amount}, false, '', '', '', '', '', '', '', '', '', ${input.text}, '', 0, 0
        returning id`,
    );
    await matchOpenLines(context, [head.bankId]);
    return ok({ id: Number(made!.id) });
  },
});

/** Throws a statement of paper away, or one line of it that only the bank knows and that is not posted. */
export const dropPaperStatement = defineUseCase({
  name: "dropPaperStatement",
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  of: "checked",
  schema: object({ id: number().integer().required(), line: number().integer() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await toWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    const { tx } = context;
    const [posted] = await rows<{ journal: string }>(
      tx,
      sql`select j.number as journal from statement_line l join journal j on j.id = l.journal_id
        where l.statement_id = ${head.id} and l.run_id is not null
          and ${input.line ?? 0} in (0, l.id) limit 1`,
    );
    if (posted)
      return fail({
        code: "INVALID",
        what: `It is posted as ${posted.journal}; reverse its run first`,
      });
    if (input.line !== undefined) {
      await tx.execute(
        sql`delete from statement_line where statement_id = ${head.id} and id = ${input.line}`,
      );
      return ok({ id: input.id });
    }
    const [later] = await rows<{ number: string }>(
      tx,
      sql`select number from bank_statement where bank_account_id = ${head.bankId}
        and closing_date > ${head.closingDate} order by closing_date limit 1`,
    );
    if (later) return fail({ code: "INVALID", what: `Statement ${later.number} follows it` });
    await tx.execute(sql`delete from statement_line where statement_id = ${head.id}`);
    await tx.execute(sql`delete from bank_statement where id = ${head.id}`);
    await context.audit({
      action: "statement thrown away",
      kind: "bank statement",
      recordId: input.id,
      label: `${head.bank} ${head.number}`,
      companyId: head.companyId,
    });
    return ok({ id: input.id });
  },
});
