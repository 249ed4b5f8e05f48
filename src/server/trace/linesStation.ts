import { sql } from "drizzle-orm";
import type { Account } from "@/core/ledger";
import { periodName, type Period } from "@/core/organisation";
import { measured, type Part } from "@/core/trace";
import { dateText, ok, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import type { Context } from "../access";
import { visibleBranch, type ReportPlace } from "../ledger";
import { journalStations } from "./journalStations";
import { meets } from "./loadCells";
import { MOST_ROWS, stationOf, type Station } from "./station";
import type { Way } from "./walk";

/** The journals of an account in a period, and the one that the path enters. */
export async function linesStation(
  way: Way,
  part: Part,
  account: Account,
  period: Period,
): Promise<Result<string[]>> {
  const { context, place, path, taken, values, stations } = way;
  const own = visibleBranch(context, place.company.code);
  const span = part.spans.find(
    (s) => s.yearId === period.yearId && s.from <= period.no && period.no <= s.to,
  )!;
  const found = await rows<{
    journalId: bigint;
    number: string;
    date: string;
    type: string;
    description: string;
    debit: bigint;
    credit: bigint;
    n: number;
  }>(
    context.tx,
    sql`select l.journal_id as "journalId", j.number, j.date, t.name as type,
      min(l.description) as description, coalesce(sum(l.amount) filter (where l.side = 'D'),
      0)::bigint as debit, coalesce(sum(l.amount) filter (where l.side = 'C'), 0)::bigint as credit,
      (count(*) over ())::int as n
        from journal_line l join journal j on j.id = l.journal_id
          join journal_type t on t.id = j.type_id join coding k on k.id = l.coding_id
        where l.company_id = ${place.company.id} and l.account_id = ${account.id}
          and l.year_id = ${period.yearId} and l.period_no = ${period.no} and l.book_id in (0,
          ${place.book.id}) ${span.withClosing ? sql`` : sql`and not l.closing`}
          ${place.asKnownSeq === undefined ? sql`` : sql`and l.seq <= ${place.asKnownSeq}`} ${meets(values)}
        group by l.journal_id, j.number, j.date, t.name, l.seq order by j.date, l.seq`,
  );
  const list = found
    .map((f) => ({ ...f, amount: measured(part, f.debit, f.credit) }))
    .filter((f) => f.amount !== 0n || part.measure === "net");
  const shown = list.slice(0, MOST_ROWS);
  const chosen = list.length === 1 ? list[0] : list.find((f) => path[0] === `j.${f.journalId}`);
  stations.push(
    stationOf(
      `Journals in ${account.number}, ${periodName(period)}, ${list.length}`,
      shown.map((f) => ({
        step: `j.${f.journalId}`,
        label: f.number,
        note: `${dateText(f.date).slice(0, -5)} · ${f.description}`,
        amount: f.amount,
        chosen: f === chosen,
        href: own ? null : `/ledger/journals/${f.journalId}?company=${place.company.code}`,
      })),
      list.length - shown.length,
    ),
  );
  if (!chosen) return ok(taken);
  if (path[0] === `j.${chosen.journalId}`) taken.push(path.shift()!);
  if (own) {
    stations.push(await ownLinesStation(context, place, chosen, account.number, own));
    return ok(taken);
  }
  const journal = await journalStations(context, place, String(chosen.journalId), account.number);
  if (!journal.ok) return journal;
  stations.push(...journal.value);
  return ok(taken);
}

/**
 * For the head of a branch the way down ends at the journal's lines of that branch; the rest of the
 * journal is not theirs to see.
 */
async function ownLinesStation(
  context: Context,
  place: ReportPlace,
  journal: { journalId: bigint; number: string; date: string; type: string },
  from: string,
  own: readonly number[],
): Promise<Station> {
  const { masters } = context;
  const lines = await rows<{
    accountId: number;
    side: string;
    amount: bigint;
    description: string;
    valueIds: number[] | null;
  }>(
    context.tx,
    sql`select l.account_id as "accountId", l.side, l.amount, l.description,
      k.value_ids as "valueIds" from journal_line l join coding k on k.id = l.coding_id
        where l.journal_id = ${journal.journalId} and k.value_ids && ${arrayOf(own)}::int[]
          and l.book_id in (0, ${place.book.id}) order by l.line_no limit ${MOST_ROWS}`,
  );
  return {
    kind: `${journal.type} journal, the lines of your branch`,
    title: journal.number,
    facts: [{ label: "Date", text: dateText(journal.date) }],
    amount: null,
    more: 0,
    rows: lines.map((l) => {
      const account = masters.accountById.get(l.accountId)!;
      const codes = (l.valueIds ?? []).map(
        (id) => masters.dimensionValues.find((v) => v.id === id)?.code ?? "",
      );
      return {
        step: "",
        label: `${account.number} ${account.name}`,
        note: [...codes, l.description].filter(Boolean).join(" · "),
        amount: l.side === "D" ? l.amount : -l.amount,
        chosen: account.number === from,
        href: null,
      };
    }),
  };
}
