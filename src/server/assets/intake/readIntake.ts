import { sql, type SQL } from "drizzle-orm";
import {
  missingOf,
  proposedFor,
  type IntakeContent,
  type IntakeProposal,
  type IntakeSource,
} from "@/core/assets";
import type { Masters } from "@/core/ledger";
import { minor, readDate, type CalendarDate, type Minor } from "@/core/shared";
import { rows, type Db } from "../../db";
import { loadClasses, type KeptClass } from "../classes";

/** A line that waits for its asset. */
export interface IntakeLine {
  id: number;
  version: number;
  /** What of it waits, in functional minor units. */
  amount: Minor;
  source: IntakeSource & {
    journal: { id: number; number: string };
    /** The paper that booked it. */
    document: { id: number; kind: string; number: string } | null;
    partner: string;
    date: CalendarDate;
    /** The one book it belongs to, or 0 for all. */
    book: number;
    /** Whether it stands on a clearing account, or on an account of assets itself. */
    clearing: boolean;
  };
  written: IntakeContent;
  content: IntakeProposal;
  /** The line into whose asset it goes. */
  mergedInto: number | null;
  aside: string;
  /** What it still needs. */
  missing: string[];
}

interface Row {
  id: number;
  version: number;
  amount: bigint;
  written: IntakeContent;
  mergedInto: number | null;
  aside: string;
  account: string;
  clearing: boolean;
  book: number;
  date: CalendarDate;
  bought: CalendarDate;
  /** When it was supplied, as its paper says; empty where that was on its day. */
  delivered: string;
  description: string;
  values: number[];
  journalId: number;
  journalNumber: string;
  documentId: number | null;
  documentKind: string | null;
  documentNumber: string | null;
  partner: string;
  usual: string | null;
}

/** Reads what waits of a company, the oldest first, with what is proposed and what is missing. */
export async function readIntake(
  tx: Db,
  masters: Masters,
  companyId: number,
  within: SQL = sql`true`,
): Promise<{ lines: IntakeLine[]; classes: KeptClass[] }> {
  const found = await rows<Row>(
    tx,
    sql`select i.id::int as id, i.version, w.left as amount, i.content as written,
        i.merged_into::int as "mergedInto", i.aside, a.number as account,
        a.control = 'intake' as clearing, w.book, l.date,
        coalesce(o.date, l.date) as bought, coalesce((select v.content->>'deliveredOn'
          from invoice v where v.document_id = j.origin_id), '') as delivered,
        l.description, c.value_ids as values, j.id::int as "journalId",
        j.number as "journalNumber", o.id::int as "documentId", o.kind as "documentKind",
        o.number as "documentNumber", coalesce(p.name, '') as partner,
        (select t.content->>'class' from asset_intake t join journal tj on tj.id = t.journal_id
            join document td on td.id = tj.origin_id
          where td.partner_id = o.partner_id and t.content->>'class' <> '' and t.id <> i.id
          order by t.id desc limit 1) as usual
      from asset_intake i
        join lateral (select sum(e.amount)::bigint as left, min(e.account_id) as account,
            min(e.book_id)::int as book
          from asset_entry e where e.intake_id = i.id and e.part = 'waiting') w on w.left <> 0
        join account a on a.id = w.account
        join journal_line l on l.journal_id = i.journal_id and l.line_no = i.line_no
        join coding c on c.id = l.coding_id
        join journal j on j.id = i.journal_id
        left join document o on o.id = j.origin_id
        left join partner p on p.id = o.partner_id
      where i.company_id = ${companyId} and ${within}
      order by l.date, i.id`,
  );
  const classes = await loadClasses(tx);
  const byCode = new Map(classes.map((c) => [c.code, c]));
  const lines = found.map((row): IntakeLine => {
    const source = {
      account: row.account,
      clearing: row.clearing,
      book: row.book,
      date: row.date,
      bought: readDate(row.delivered, row.bought) ?? row.bought,
      description: row.description,
      dimensions: dimensionsOf(masters, row.values),
      journal: { id: row.journalId, number: row.journalNumber },
      document:
        row.documentId === null
          ? null
          : { id: row.documentId, kind: row.documentKind!, number: row.documentNumber ?? "" },
      partner: row.partner,
    };
    const content = proposedFor(row.written, source, classes, row.usual ?? undefined);
    return {
      id: row.id,
      version: row.version,
      amount: minor(row.amount),
      written: row.written,
      mergedInto: row.mergedInto,
      aside: row.aside,
      source,
      content,
      missing: missingOf(content, source, byCode.get(content.class), masters.dimensions),
    };
  });
  return { lines, classes };
}

function dimensionsOf(masters: Masters, values: readonly number[]): Record<string, string> {
  const dimensions: Record<string, string> = {};
  for (const id of values) {
    const value = masters.valueById.get(id);
    const dimension = value && masters.dimensionById.get(value.dimensionId);
    if (value && dimension) dimensions[dimension.code] = value.code;
  }
  return dimensions;
}
