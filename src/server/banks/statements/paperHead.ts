import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { rows, type Db } from "../../db";
import { IN_LEDGER_SINCE, SIGNED } from "./inLedger";
import { reconciledUntil } from "./reconciledUntil";

/** A statement that is copied from paper, without its lines. */
export interface PaperHead {
  id: bigint;
  companyId: number;
  company: string;
  bankId: number;
  bank: string;
  bankName: string;
  number: string;
  currency: string;
  openingDate: string;
  closingDate: string;
  opening: bigint;
  closing: bigint;
  doubt: string;
  /** The last day of it that a reconciliation holds; null where none of it is held. */
  heldUntil: string | null;
}

export async function readPaperHead(tx: Db, id: number): Promise<PaperHead | undefined> {
  const [head] = await rows<PaperHead>(
    tx,
    sql`select s.id, s.company_id as "companyId", c.code as company, b.id as "bankId",
        b.code as bank, b.name as "bankName", s.number, s.currency,
        s.opening_date as "openingDate", s.closing_date as "closingDate", s.opening, s.closing,
        s.doubt, nullif(greatest(${reconciledUntil(sql`b.id`)}, s.opening_date),
          s.opening_date) as "heldUntil"
      from bank_statement s join bank_account b on b.id = s.bank_account_id
        join company c on c.id = s.company_id where s.id = ${id} and s.file_id is null`,
  );
  return head;
}

/** The company of a statement of paper: whoever works on it, or closes on it, comes one by one. */
export const paperLocks = async ({ tx }: Context, input: { id: number }): Promise<string[]> => {
  const head = await readPaperHead(tx, input.id);
  return head ? [head.company] : [];
};

/** A statement of paper of which something is still to be done. */
export async function paperToWorkOn({ tx, may }: Context, id: number): Promise<Result<PaperHead>> {
  const head = await readPaperHead(tx, id);
  if (!head) return fail({ code: "NOT_FOUND", what: "such statement from paper" });
  if (!may("prepare.banks", head.company))
    return fail({ code: "FORBIDDEN", what: `work on bank statements of ${head.company}` });
  if (head.heldUntil !== null && head.heldUntil >= head.closingDate)
    return fail({
      code: "INVALID",
      what: `${head.bank} is reconciled up to that day; reopen the reconciliation first`,
    });
  return ok(head);
}

/** A journal of the ledger that may be on a statement from paper. */
export interface TickableJournal {
  id: bigint;
  number: string;
  date: string;
  description: string;
  amount: bigint;
}

/**
 * Journals that stand on the bank's account and on no other statement of it, with their amounts: what
 * moves money between two accounts stands on a statement of each. A tick is
 * a line of the statement that no run has posted: its journal was there before.
 */
export const tickableJournals = (tx: Db, head: PaperHead): Promise<TickableJournal[]> =>
  rows<TickableJournal>(
    tx,
    sql`select j.id, j.number, j.date, j.description, sum(${SIGNED})::bigint as amount
      from ${IN_LEDGER_SINCE} and b.id = ${head.bankId} and j.date <= ${head.closingDate}
        and not exists (select 1 from statement_line o
          where o.journal_id = j.id and o.bank_account_id = b.id
            and o.statement_id <> ${head.id})
      group by j.id having sum(${SIGNED}) <> 0 order by j.date, j.id`,
  );
