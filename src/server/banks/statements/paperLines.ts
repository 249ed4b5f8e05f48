import { sql } from "drizzle-orm";
import { array, boolean, number, object, string } from "yup";
import { NO_KEYS, NO_PARTY, type OpenedLine, type StatementLine } from "@/core/banks/statements";
import { addDays, dateText, fail, isCalendarDate, minor, ok, readAmount } from "@/core/shared";
import type { CalendarDate, Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { lineRow } from "./lineRow";
import { matchOpenLines } from "./matchOpenLines";
import { paperLocks, paperToWorkOn, tickableJournals, type PaperHead } from "./paperHead";

const WORK = {
  kind: "write",
  rights: ["prepare.banks"],
  what: "copy bank statements from paper",
  of: "checked",
  locks: paperLocks,
} as const;

/** The first day on which something of a statement may still change. */
const firstFree = (head: PaperHead): CalendarDate => addDays(head.heldUntil ?? head.openingDate, 1);

const later = (a: CalendarDate, b: CalendarDate): CalendarDate => (a > b ? a : b);

/** A line of a statement from paper, of which nothing is known but what is given. */
const paperLine = (
  given: Pick<StatementLine, "booked" | "valued" | "amount" | "text">,
  bank = "",
): OpenedLine => ({
  ...given,
  takesBack: false,
  code: "",
  party: NO_PARTY,
  keys: { ...NO_KEYS, bank },
  returnReason: "",
  details: [],
  batch: null,
  from: 0,
  to: 0,
});

/** Where the next lines of a statement belong. */
async function nextPlace({ tx }: Context, head: PaperHead) {
  const [last] = await rows<{ position: number | null }>(
    tx,
    sql`select max(position) as position from statement_line where statement_id = ${head.id}`,
  );
  return (i: number) => ({
    statementId: Number(head.id),
    companyId: head.companyId,
    bankAccountId: head.bankId,
    position: (last!.position ?? -1) + 1 + i,
  });
}

/** Says of journals that they are on a statement from paper, or takes that back. */
export const tickJournals = defineUseCase({
  name: "tickJournals",
  ...WORK,
  schema: object({
    id: number().integer().required(),
    journals: array(number().integer().required()).min(1).max(5000).required(),
    on: boolean().required(),
  }),
  run: async (context, input): Promise<Result<{ ticked: number }>> => {
    const found = await paperToWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    const { tx } = context;
    if (!input.on) {
      const [held] = await rows<{ number: string }>(
        tx,
        sql`select j.number from statement_line l join journal j on j.id = l.journal_id
          where l.statement_id = ${head.id} and l.booked < ${firstFree(head)}
            and l.journal_id = any(${arrayOf(input.journals)}::bigint[]) limit 1`,
      );
      if (held)
        return fail({
          code: "INVALID",
          what: `${held.number} is reconciled; reopen the reconciliation first`,
        });
      await tx.execute(
        sql`delete from statement_line where statement_id = ${head.id} and run_id is null
          and journal_id = any(${arrayOf(input.journals)}::bigint[])`,
      );
      return ok({ ticked: 0 });
    }
    const asked = new Set(input.journals);
    const there = new Set(
      (
        await rows<{ id: bigint }>(
          tx,
          sql`select journal_id as id from statement_line
            where statement_id = ${head.id} and journal_id is not null`,
        )
      ).map((l) => l.id),
    );
    // What somebody else has ticked meanwhile is on another statement: it is not there to tick.
    const ticked = (await tickableJournals(tx, head)).filter(
      (j) => asked.has(Number(j.id)) && !there.has(j.id),
    );
    const place = await nextPlace(context, head);
    await insertAll(
      tx,
      schema.statementLine,
      ticked.map((j, i) => ({
        ...lineRow(
          place(i),
          paperLine(
            {
              booked: later(j.date, firstFree(head)),
              valued: j.date,
              amount: minor(j.amount),
              text: j.description,
            },
            j.number,
          ),
        ),
        state: "posted" as const,
        journalId: Number(j.id),
      })),
    );
    return ok({ ticked: ticked.length });
  },
});

/** Adds a movement that only the bank knows: it is explained, then posted. */
export const addPaperLine = defineUseCase({
  name: "addPaperLine",
  ...WORK,
  schema: object({
    id: number().integer().required(),
    date: string().required("Say on which day"),
    /** As typed; below nil for money out. */
    amount: string().trim().required("Type the amount"),
    text: string().trim().required("Say what it is").max(200),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await paperToWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date < firstFree(head) || input.date > head.closingDate)
      return fail({
        code: "INVALID",
        what: `It lies from ${dateText(firstFree(head))} to ${dateText(head.closingDate)}`,
        field: "date",
      });
    const amount = readAmount(input.amount, head.currency);
    if (!amount.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: input.amount, field: "amount" });
    if (amount.amount === 0n)
      return fail({ code: "INVALID", what: "An amount of nil moves nothing", field: "amount" });
    const place = (await nextPlace(context, head))(0);
    const line = paperLine({
      booked: input.date,
      valued: input.date,
      amount: amount.amount,
      text: input.text,
    });
    await insertAll(context.tx, schema.statementLine, [lineRow(place, line)]);
    const [made] = await rows<{ id: bigint }>(
      context.tx,
      sql`select id from statement_line
        where statement_id = ${head.id} and position = ${place.position}`,
    );
    await matchOpenLines(context, [head.bankId]);
    return ok({ id: Number(made!.id) });
  },
});

/** Deletes a statement from paper, or one line of it that only the bank knows; nothing that is posted. */
export const dropPaperStatement = defineUseCase({
  name: "dropPaperStatement",
  ...WORK,
  schema: object({ id: number().integer().required(), line: number().integer() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await paperToWorkOn(context, input.id);
    if (!found.ok) return found;
    const head = found.value;
    const { tx } = context;
    const [posted] = await rows<{ journal: string }>(
      tx,
      sql`select j.number as journal from statement_line l join journal j on j.id = l.journal_id
        where l.statement_id = ${head.id} and l.run_id is not null
          and ${input.line ?? 0}::bigint in (0, l.id) limit 1`,
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
    if (head.heldUntil !== null)
      return fail({
        code: "INVALID",
        what: `${head.bank} is reconciled up to ${dateText(head.heldUntil)}; reopen the reconciliation first`,
      });
    const [once] = await rows<{ date: string }>(
      tx,
      sql`select date from reconciliation where statement_id = ${head.id} limit 1`,
    );
    if (once)
      return fail({
        code: "INVALID",
        what: `The reconciliation of ${dateText(once.date)} was closed on it: it stays`,
      });
    const [after] = await rows<{ number: string }>(
      tx,
      sql`select number from bank_statement where bank_account_id = ${head.bankId}
        and closing_date > ${head.closingDate} order by closing_date limit 1`,
    );
    if (after) return fail({ code: "INVALID", what: `Statement ${after.number} follows it` });
    await tx.execute(sql`delete from statement_line where statement_id = ${head.id}`);
    await tx.execute(sql`delete from bank_statement where id = ${head.id}`);
    await context.audit({
      action: "deleted",
      kind: "bank statement",
      recordId: input.id,
      label: `${head.bank} ${head.number}`,
      companyId: head.companyId,
    });
    return ok({ id: input.id });
  },
});
