import { sql } from "drizzle-orm";
import { canonicalJournal, type HashedLine } from "@/core/ledger";
import { NAMED, type Check } from "../../checks";
import { rows, sha256, type Db } from "../../db";

interface ChainRow {
  id: bigint;
  companyId: number;
  seq: bigint;
  number: string;
  typeId: number;
  bookId: number;
  date: string;
  yearId: number;
  periodNo: number;
  closing: boolean;
  description: string;
  reference: string;
  reverseOn: string | null;
  reverses: bigint | null;
  origin: bigint | null;
  postedBy: number;
  postedAt: string;
  previousHash: string;
  hash: string;
  lines: [
    number,
    number,
    string,
    string,
    string,
    string,
    string,
    string,
    string | null,
    string | null,
    string | null,
    number | null,
    string | null,
    string,
  ][];
}

/** Journals are read in pages, so that memory does not grow with the ledger. */
const PAGE = 2000;

/** Each company's chain of journals, every hash computed anew. */
export async function chains(tx: Db): Promise<Check[]> {
  const heads = await rows<{ companyId: number; code: string; seq: bigint; hash: string }>(
    tx,
    sql`select c.company_id as "companyId", k.code, c.seq, c.hash from chain c
      join company k on k.id = c.company_id order by k.code`,
  );
  const checks: Check[] = [];
  for (const head of heads) {
    const faults: string[] = [];
    let seq = 0n;
    let previous = "";
    for (;;) {
      const page = await rows<ChainRow>(
        tx,
        sql`select j.id, j.company_id as "companyId", j.seq, j.number, j.type_id as "typeId",
          j.book_id as "bookId", j.date, j.year_id as "yearId", j.period_no as "periodNo",
          j.closing, j.description, j.reference, j.reverse_on as "reverseOn",
              j.reverses_id as reverses, j.origin_id as origin, j.posted_by as "postedBy",
                to_char(j.posted_at at time zone 'UTC',
                'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "postedAt", j.previous_hash as "previousHash",
                j.hash,
              (select jsonb_agg(jsonb_build_array(l.line_no, l.account_id, k.key, l.side,
                l.amount::text, l.currency, l.foreign_amount::text, l.description, l.partner,
                l.due_date, l.rate::text, l.counterparty_id, l.quantity::text, coalesce(l.note, ''))
                order by l.line_no)
                 from journal_line l join coding k on k.id = l.coding_id where l.journal_id = j.id) as lines
            from journal j where j.company_id = ${head.companyId} and j.seq > ${seq} order by j.seq
              limit ${PAGE}`,
      );
      for (const j of page) {
        if (j.seq !== seq + 1n)
          faults.push(`${head.code}: journal ${seq + 1n} of the chain is missing`);
        if (j.previousHash !== previous) faults.push(`${j.number} does not follow its predecessor`);
        const lines = (j.lines ?? []).map(
          ([
            lineNo,
            accountId,
            coding,
            side,
            amount,
            currency,
            foreignAmount,
            description,
            partner,
            dueDate,
            rate,
            counterpartyId,
            quantity,
            note,
          ]): HashedLine => ({
            lineNo,
            accountId,
            coding,
            side: side === "D" ? "debit" : "credit",
            amount: BigInt(amount),
            currency,
            foreignAmount: BigInt(foreignAmount),
            description,
            partner,
            dueDate,
            rate,
            counterpartyId,
            quantity: quantity === null ? null : BigInt(quantity),
            note,
          }),
        );
        const { lines: _l, previousHash: _p, hash: _h, ...rest } = j;
        const text = canonicalJournal(
          {
            ...rest,
            id: Number(j.id),
            seq: Number(j.seq),
            reverses: j.reverses === null ? null : Number(j.reverses),
            origin: j.origin === null ? null : Number(j.origin),
            lines,
          },
          j.previousHash,
        );
        if (sha256(text) !== j.hash)
          faults.push(`${j.number} is not what was posted: its hash differs`);
        seq = j.seq;
        previous = j.hash;
      }
      if (page.length < PAGE) break;
    }
    if (head.seq !== seq || head.hash !== previous)
      faults.push(`${head.code}: the head of the chain is not its last journal`);
    checks.push({
      name: `Hash chain of ${head.code}`,
      looked: Number(seq),
      faults: faults.slice(0, NAMED),
    });
  }
  return checks;
}
