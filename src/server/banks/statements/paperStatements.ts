import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { paperDifference, type LineState } from "@/core/banks";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";
import { readPaperHead, tickableJournals } from "./paperHead";

/** A line of the ledger that may be on a statement from paper, or a line that only the bank knows. */
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
  /** The last day of it that a reconciliation holds: nothing changes up to then. Null where none. */
  heldUntil: CalendarDate | null;
}

export const getPaperStatement = defineUseCase({
  name: "getPaperStatement",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, may }, input): Promise<Result<PaperStatement>> => {
    const head = await readPaperHead(tx, input.id);
    if (!head) return fail({ code: "NOT_FOUND", what: "such statement from paper" });
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
    const ledger = await tickableJournals(tx, head);
    const lineOf = new Map(own.flatMap((l) => (l.journalId === null ? [] : [[l.journalId, l]])));
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
      difference: paperDifference({
        opening: minor(head.opening),
        closing: minor(head.closing),
        lines: own.map((l) => ({ amount: minor(l.amount) })),
      }),
      heldUntil: head.heldUntil,
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
