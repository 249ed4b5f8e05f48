import { sql } from "drizzle-orm";
import type { AllocationLine } from "@/core/openItems";
import { minor, type CalendarDate, type Minor } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, insertAll, rows, schema } from "../db";
import { knownAt } from "./storeAllocation";

/**
 * Items that settle each other as a whole: the item that a payment's journal left, and what it took
 * of others.
 */
export interface SettledTogether {
  companyId: number;
  date: CalendarDate;
  journalId: number;
  lines: readonly AllocationLine[];
}

/**
 * Settles items that a journal was made for, many at once. What is taken has to come to nothing in
 * both currencies, for the journal carries every difference itself.
 * The companies' chains are held by whoever has posted the journals.
 */
export async function settleTogether(
  { tx, person, now }: Context,
  kind: string,
  groups: readonly SettledTogether[],
): Promise<void> {
  if (groups.length === 0) return;
  for (const g of groups)
    if (
      g.lines.reduce((t, l) => t + l.amount, 0n) !== 0n ||
      g.lines.reduce((t, l) => t + l.functional, 0n) !== 0n
    )
      throw new Error("items that do not settle each other");
  const made = await rows<{ id: bigint; journalId: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
      select x.company, ${kind}, x.date, c.seq, x.journal, ${person.id}, ${knownAt(now, sql`c.`)}
        from unnest(${arrayOf(groups.map((g) => g.companyId))}::int[],
          ${arrayOf(groups.map((g) => g.date))}::date[],
          ${arrayOf(groups.map((g) => g.journalId))}::bigint[]) as x(company, date, journal)
          join chain c on c.company_id = x.company returning id, journal_id as "journalId"`,
  );
  const idOf = new Map(made.map((m) => [Number(m.journalId), m.id]));
  const lines = groups.flatMap((g) =>
    g.lines.map((l) => ({ ...l, allocation: idOf.get(g.journalId)! })),
  );
  await insertAll(
    tx,
    schema.allocationLine,
    lines.map((l) => ({
      allocationId: Number(l.allocation),
      itemId: l.item,
      amount: l.amount,
      functional: l.functional,
    })),
  );
  await tx.execute(sql`update open_item i set left_amount = i.left_amount - x.amount,
    left_functional = i.left_functional - x.functional
    from (select item, sum(amount)::bigint as amount, sum(functional)::bigint as functional
      from unnest(${arrayOf(lines.map((l) => l.item))}::bigint[],
      ${arrayOf(lines.map((l) => l.amount))}::bigint[],
      ${arrayOf(lines.map((l) => l.functional))}::bigint[]) as y(item, amount, functional)
      group by item) x where i.id = x.item`);
}

/** What a journal was made to take of items. */
export interface SettledByJournal {
  companyId: number;
  date: CalendarDate;
  journalId: number;
  settles: readonly { item: number; taken: Minor; functional: Minor }[];
  /**
   * How many of its first lines leave items that settle those; all of them where nothing is said.
   */
  settling?: number;
}

/**
 * Settles what journals take of items by the items that their first lines have left, many at once.
 */
export async function settleByJournals(
  context: Context,
  kind: string,
  journals: readonly SettledByJournal[],
): Promise<void> {
  const settling = journals.filter((j) => j.settles.length > 0);
  const ids = settling.map((j) => j.journalId);
  const made = await rows<{
    id: bigint;
    journalId: bigint;
    lineNo: number;
    left: bigint;
    leftFunctional: bigint;
  }>(
    context.tx,
    sql`select id, journal_id as "journalId", line_no as "lineNo", left_amount as "left",
        left_functional as "leftFunctional" from open_item
      where journal_id = any(${arrayOf(ids)}::bigint[]) order by id`,
  );
  const byJournal = new Map<number, typeof made>();
  for (const m of made) {
    const of = Number(m.journalId);
    byJournal.set(of, [...(byJournal.get(of) ?? []), m]);
  }
  await settleTogether(
    context,
    kind,
    settling.map(({ companyId, date, journalId, settles, settling: upTo = Infinity }) => ({
      companyId,
      date,
      journalId,
      lines: [
        ...settles.map((s) => ({ item: s.item, amount: s.taken, functional: s.functional })),
        ...(byJournal.get(journalId) ?? [])
          .filter((m) => m.lineNo <= upTo)
          .map((m) => ({
            item: Number(m.id),
            amount: minor(m.left),
            functional: minor(m.leftFunctional),
          })),
      ],
    })),
  );
}

/**
 * Takes back what journals have settled, so that they can be reversed: their items and the others
 * are open again, each from the day of its reversal.
 */
export async function releaseItems(
  { tx, person, now }: Context,
  journals: readonly { id: number; date: CalendarDate }[],
): Promise<void> {
  if (journals.length === 0) return;
  const made = await rows<{ id: bigint; undoes: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, undoes_id, made_by, made_at)
      select a.company_id, 'undone', x.date, c.seq, a.id, ${person.id}, ${knownAt(now, sql`c.`)}
        from unnest(${arrayOf(journals.map((j) => j.id))}::bigint[],
          ${arrayOf(journals.map((j) => j.date))}::date[]) as x(journal, date)
          join allocation a on a.journal_id = x.journal and a.kind not in ('undone', 'reversal')
          join chain c on c.company_id = a.company_id
        where not exists (select 1 from allocation u where u.undoes_id = a.id)
          returning id, undoes_id as undoes`,
  );
  const ids = arrayOf(made.map((m) => m.id));
  await tx.execute(
    sql`insert into allocation_line (allocation_id, item_id, amount, functional)
      select a.id, l.item_id, -l.amount, -l.functional from allocation a
      join allocation_line l on l.allocation_id = a.undoes_id where a.id = any(${ids}::bigint[])`,
  );
  await tx.execute(sql`update open_item i set left_amount = i.left_amount - x.amount,
    left_functional = i.left_functional - x.functional
    from (select l.item_id as item, sum(l.amount)::bigint as amount,
      sum(l.functional)::bigint as functional from allocation_line l
      where l.allocation_id = any(${ids}::bigint[]) group by 1) x where i.id = x.item`);
}
