import { sql } from "drizzle-orm";
import type { ControlKind, PreparedJournal } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access/useCase";
import { arrayOf, rows, type Db } from "../db";

/** The control accounts behind which the list of assets stands, and what waits to become one. */
const ASSET_CONTROLS: ReadonlySet<ControlKind | null> = new Set(["asset", "intake"]);

/**
 * Whether what is to be reversed still waits as a whole: what became part of an asset is taken back
 * first.
 */
export async function checkIntakeReversible(
  tx: Db,
  journals: readonly PreparedJournal[],
): Promise<Result<unknown>> {
  const ids = journals.flatMap((j) => (j.reverses === null ? [] : [j.reverses]));
  if (ids.length === 0) return ok({});
  const [taken] = await rows<{ number: string; by: string | null }>(
    tx,
    sql`select j.number, (select d.number from asset_entry t join document d on d.id = t.run_id
        where t.intake_id = i.id and t.part = 'waiting' order by t.id desc limit 1) as by
      from asset_intake i join journal j on j.id = i.journal_id
      where i.journal_id = any(${arrayOf(ids)}::bigint[]) and i.amount <> (
        select sum(e.amount) from asset_entry e where e.intake_id = i.id and e.part = 'waiting')
      order by i.id limit 1`,
  );
  return taken
    ? fail({
        code: "RUN_STANDS_IN_WAY",
        what: `Assets have taken in what ${taken.number} booked${taken.by ? `; reverse ${taken.by} first` : ""}`,
      })
    : ok({});
}

/**
 * Lists what posted journals move on accounts of assets: each line waits for its asset, unless
 * whoever posts it says which it is. A reversal takes back what its journal moved.
 */
export async function storeAssetEntries(
  { tx, person }: Context,
  journals: readonly PreparedJournal[],
  ids: readonly number[],
): Promise<void> {
  const places = journals.flatMap((journal, i) =>
    journal.reverses !== null
      ? []
      : journal.lines
          .filter((l) => ASSET_CONTROLS.has(l.account.control) && !l.listed)
          .map((l) => ({ journal: ids[i]!, line: l.lineNo })),
  );
  if (places.length > 0)
    await tx.execute(sql`
      with line as (
        select l.*, j.posted_at, j.posted_by,
          case l.side when 'D' then l.amount else -l.amount end as moved
        from unnest(${arrayOf(places.map((p) => p.journal))}::bigint[],
            ${arrayOf(places.map((p) => p.line))}::int[]) as p(journal_id, line_no)
          join journal_line l on l.journal_id = p.journal_id and l.line_no = p.line_no
          join journal j on j.id = l.journal_id),
      made as (
        insert into asset_intake (company_id, journal_id, line_no, amount, content)
        select company_id, journal_id, line_no, moved, '{}' from line
          order by journal_id, line_no
        returning id, journal_id, line_no)
      insert into asset_entry (company_id, book_id, account_id, intake_id, part, movement, date,
        amount, journal_id, line_no, made_by, made_at)
      select l.company_id, l.book_id, l.account_id, m.id, 'waiting', 'booked', l.date, l.moved,
        l.journal_id, l.line_no, l.posted_by, l.posted_at
      from line l join made m on m.journal_id = l.journal_id and m.line_no = l.line_no
      order by m.id`);
  const reversing = ids.filter((_, i) => journals[i]!.reverses !== null);
  if (reversing.length === 0) return;
  // What was merged into a line that goes is its own again.
  await tx.execute(sql`
    update asset_intake i set merged_into = null, version = i.version + 1
    from asset_intake gone join journal j on j.reverses_id = gone.journal_id
    where i.merged_into = gone.id and j.id = any(${arrayOf(reversing)}::bigint[])`);
  // What waits is taken back by its parts; everything else as it was moved.
  await tx.execute(sql`
    insert into asset_entry (company_id, book_id, account_id, asset_id, intake_id, part, movement,
      date, counts_from, amount, journal_id, line_no, run_id, made_by, made_at)
    select e.company_id, e.book_id, e.account_id, e.asset_id, e.intake_id, e.part, e.movement,
      j.date, e.counts_from, -e.amount, j.id, e.line_no, e.run_id, ${person.id}::int, j.posted_at
    from journal j join asset_entry e on e.journal_id = j.reverses_id
      left join asset_intake i on i.id = e.intake_id
    where j.id = any(${arrayOf(reversing)}::bigint[])
      and (e.part <> 'waiting' or i.journal_id <> e.journal_id)
    union all
    select i.company_id, j.book_id, e.account_id, null, i.id, 'waiting', 'booked', j.date, null,
      -i.amount, j.id, i.line_no, null, ${person.id}::int, j.posted_at
    from journal j join asset_intake i on i.journal_id = j.reverses_id
      join asset_entry e on e.id = (select min(x.id) from asset_entry x
        where x.journal_id = i.journal_id and x.line_no = i.line_no and x.part = 'waiting')
    where j.id = any(${arrayOf(reversing)}::bigint[])`);
}
