import { sql } from "drizzle-orm";
import type { FigureRef } from "@/core/trace";
import { dateText, fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import type { Context } from "../access";
import type { ReportPlace } from "../ledger";
import { journalStations } from "./journalStations";
import { MOST_ROWS, type Station } from "./station";

/**
 * What stands between two companies: the journals that made it, and the one that the path enters.
 */
export async function betweenStations(
  context: Context,
  place: ReportPlace,
  ref: Extract<FigureRef, { kind: "between" }>,
  path: readonly string[],
): Promise<Result<Station[]>> {
  const other = context.masters.companyByCode.get(ref.other);
  if (!other) return fail({ code: "COMPANY_UNKNOWN", company: ref.other });
  const found = await rows<{
    journalId: bigint;
    number: string;
    date: string;
    description: string;
    amount: bigint;
  }>(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, j.description,
      sum(case when l.side = 'D' then l.foreign_amount else -l.foreign_amount end)::bigint as amount
        from journal_line l join journal j on j.id = l.journal_id
        where l.company_id = ${place.company.id} and l.counterparty_id = ${other.id}
          and l.currency = ${ref.currency} and l.date <= ${place.to.end} and l.book_id in (0,
          ${place.book.id}) and l.account_id in (select id from account
          where control = 'intercompany')
        group by l.journal_id, j.number, j.date, j.description, l.seq order by j.date desc, l.seq desc`,
  );
  const chosen = found.length === 1 ? found[0] : found.find((f) => path[0] === `j.${f.journalId}`);
  const stations: Station[] = [
    {
      kind: "Figure",
      title: `${place.company.name} with ${other.name}, in ${ref.currency}`,
      facts: [],
      rows: [],
      amount: found.reduce((sum, f) => sum + f.amount, 0n),
      more: 0,
    },
    {
      kind: `Journals, ${found.length}`,
      title: "",
      facts: [],
      amount: null,
      more: Math.max(0, found.length - MOST_ROWS),
      rows: found.slice(0, MOST_ROWS).map((f) => ({
        step: `j.${f.journalId}`,
        label: f.number,
        note: `${dateText(f.date).slice(0, -5)} · ${f.description}`,
        amount: f.amount,
        chosen: f === chosen,
        href: `/ledger/journals/${f.journalId}?company=${place.company.code}`,
      })),
    },
  ];
  if (!chosen) return ok(stations);
  const journal = await journalStations(context, place, String(chosen.journalId), null);
  return journal.ok ? ok([...stations, ...journal.value]) : journal;
}
