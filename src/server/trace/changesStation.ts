import { sql } from "drizzle-orm";
import { byJournal, partsOf, type JournalCell, type TraceNode } from "@/core/trace";
import { dateText } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import { visibleBranch, type ReportPlace } from "../ledger";
import { meets } from "./loadCells";
import { MOST_ROWS, type Station } from "./station";

/**
 * What has become of a figure since the moment at which it is shown: each later journal with what
 * it does to it, and the figure now.
 */
export async function changesStation(
  context: Context,
  place: ReportPlace,
  root: TraceNode,
  then: bigint,
  values: readonly number[][],
): Promise<Station> {
  const parts = partsOf(root);
  const own = visibleBranch(context, place.company.code);
  const cells = await rows<
    Omit<JournalCell, "journalId"> & {
      journalId: bigint;
      number: string;
      date: string;
      description: string;
    }
  >(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, j.description, l.year_id as "yearId",
      l.period_no as "periodNo", l.closing, l.account_id as "accountId",
          coalesce(sum(l.amount) filter (where l.side = 'D'), 0)::bigint as debit,
            coalesce(sum(l.amount) filter (where l.side = 'C'), 0)::bigint as credit
        from journal_line l join journal j on j.id = l.journal_id join coding k on k.id = l.coding_id
        where l.company_id = ${place.company.id} and l.seq > ${place.asKnownSeq}
          and l.book_id in (0, ${place.book.id})
          and l.account_id = any(${arrayOf([...new Set(parts.map((p) => p.accountId))])}::int[])
          ${meets(values)}
        group by l.journal_id, j.number, j.date, j.description, l.seq, l.year_id, l.period_no,
          l.closing, l.account_id order by l.seq`,
  );
  const heads = new Map(cells.map((c) => [Number(c.journalId), c]));
  const changes = byJournal(
    parts,
    cells.map((c) => ({ ...c, journalId: Number(c.journalId) })),
  );
  const change = changes.reduce((sum, c) => sum + c.amount, 0n);
  return {
    kind:
      changes.length === 0
        ? "Nothing has changed it since"
        : `Changed since, by ${changes.length === 1 ? "1 journal" : `${changes.length} journals`}`,
    title: changes.length === 0 ? "" : "Now",
    facts: [],
    amount: changes.length === 0 ? null : then + change,
    more: Math.max(0, changes.length - MOST_ROWS),
    rows: changes.slice(0, MOST_ROWS).map(({ journalId, amount }) => {
      const head = heads.get(journalId)!;
      return {
        step: "",
        label: head.number,
        note: `${dateText(head.date).slice(0, -5)} · ${head.description}`,
        amount,
        chosen: false,
        href: own ? null : `/ledger/journals/${journalId}?company=${place.company.code}`,
      };
    }),
  };
}
