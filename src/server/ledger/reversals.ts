import { sql } from "drizzle-orm";
import { object, string } from "yup";
import {
  reversalDateTogether,
  reversalOf,
  type JournalDraft,
  type Masters,
  type PostedForReversal,
} from "@/core/ledger";
import { periodKey, type Period } from "@/core/organisation";
import { fail, isCalendarDate, ok, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase, type Context, lockChains } from "../access";
import { loadPeriods } from "../organisation/periods";
import { journalNotFound, postDrafts } from "./posting";
import { readLines, readPosted, byKey } from "./journalView";
import { linkedJournals, linkJournals } from "./linkedJournals";

/** Journals with all that undoing them needs. */
export async function readForReversal(
  tx: Db,
  journalIds: readonly (bigint | number)[],
  masters: Masters,
  periods: readonly Period[],
): Promise<(PostedForReversal & { typeId: number; bookId: number })[]> {
  const heads = await rows<{
    id: bigint;
    number: string;
    companyId: number;
    typeId: number;
    bookId: number;
    date: string;
    yearId: number;
    periodNo: number;
    description: string;
    reference: string;
    closing: boolean;
    dueAgain: string | null;
  }>(
    tx,
    sql`select j.id, j.number, (select o.reverse_on from journal o
      where o.id = j.reverses_id) as "dueAgain", j.company_id as "companyId", j.type_id as "typeId",
      j.book_id as "bookId", j.date, j.year_id as "yearId", j.period_no as "periodNo",
      j.description, j.reference, j.closing from journal j
      where j.id = any(${arrayOf(journalIds)}::bigint[]) order by j.id`,
  );
  const lines = await readLines(
    tx,
    heads.map((h) => h.id),
    masters,
  );
  return heads.map((j) => {
    const company = masters.companyById.get(j.companyId)!;
    const own = lines.get(Number(j.id))!;
    return {
      id: Number(j.id),
      number: j.number,
      company: company.code,
      type: masters.typeById.get(j.typeId)!.code,
      book: j.bookId === 0 ? null : masters.bookById.get(j.bookId)!.code,
      date: j.date,
      period: periods.find((p) => p.yearId === j.yearId && p.no === j.periodNo)!,
      description: j.description,
      reference: j.reference,
      closing: j.closing,
      dueAgain: j.dueAgain,
      currency: own.find((l) => !l.units && l.currency !== company.currency)?.currency ?? null,
      lines: own,
      typeId: j.typeId,
      bookId: j.bookId,
    };
  });
}

export const reverseJournal = defineUseCase({
  name: "reverseJournal",
  kind: "write",
  rights: [
    "reverse.ledger",
    "reverse.payables",
    "reverse.receivables",
    "reverse.banks",
    "reverse.assets",
  ],
  what: "reverse journals",
  of: "checked",
  schema: object({ key: string().required().max(40), date: string().nullable().default(null) }),
  run: async (context, input): Promise<Result<{ id: number; number: string; date: string }>> => {
    const { tx, masters, may } = context;
    const row = await readPosted(tx, byKey(input.key, { id: sql`j.id`, number: sql`j.number` }));
    if (!row) return journalNotFound(input.key);
    const type = masters.typeByCode.get(row.type)!;
    const area = type.area === "stock" ? "ledger" : type.area;
    if (!may(`reverse.${area}`, row.company))
      return fail({
        code: "FORBIDDEN",
        what: `reverse ${type.name.toLowerCase()} journals of ${row.companyName}`,
      });
    if (row.reversedByNumber) return fail({ code: "ALREADY_REVERSED", by: row.reversedByNumber });
    if (row.reversesId) return fail({ code: "REVERSAL_NOT_REVERSED", number: row.number });
    if (row.originId) return fail({ code: "REVERSE_BY_RUN", run: row.originNumber ?? "a run" });
    // Journals of several companies were posted together and go together.
    const linked = (await linkedJournals(tx, [row.id])).get(Number(row.id))!;
    for (const l of linked)
      if (!may(`reverse.${area}`, l.company))
        return fail({
          code: "FORBIDDEN",
          what: `reverse journals of ${masters.companyByCode.get(l.company)!.name}, which belong to this one`,
        });
    if (input.date !== null && !isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date !== null && input.date < row.date)
      return fail({
        code: "INVALID",
        what: "A reversal lies on or after the day of what it reverses",
        field: "date",
      });
    const result = await reverseJournals(context, [Number(row.id)], input.date);
    return result.ok ? ok(result.value[0]!) : result;
  },
});

/**
 * Reverses journals with those that were posted together with them, all or none: each on the date
 * given, else on its own while that is open, else on the first open day after it.
 */
export async function reverseJournals(
  context: Context,
  ids: readonly number[],
  date: string | null,
  /** The type of the reversals, where it is not that of what they reverse. */
  type?: string,
): Promise<Result<{ id: number; number: string; date: string }[]>> {
  const { tx, masters } = context;
  const linked = await linkedJournals(tx, ids);
  const groups = ids.map((id) => [id, ...linked.get(id)!.map((l) => l.id)]);
  const all = groups.flat();
  const companies = await rows<{ code: string; id: number }>(
    tx,
    sql`select distinct c.code, c.id from journal j join company c on c.id = j.company_id
      where j.id = any(${arrayOf(all)}::bigint[])`,
  );
  await lockChains(
    tx,
    companies.map((c) => c.code),
  );
  const plans = await reversalPlans(context, all);
  const drafts: JournalDraft[] = [];
  for (const id of all) {
    const { posted, when: own } = plans.get(id)!;
    const when = date !== null ? { date } : own;
    if (!when) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: posted.date });
    const reversal = reversalOf(
      posted,
      when.date,
      when.period,
      masters.typeById.get(posted.typeId)!.reversal,
    );
    drafts.push(type === undefined ? reversal : { ...reversal, type });
  }
  const result = await postDrafts(context, drafts);
  if (!result.ok) return result;
  let at = 0;
  const first: { id: number; number: string; date: string }[] = [];
  for (const group of groups) {
    first.push({
      id: result.value[at]!.id,
      number: result.value[at]!.number,
      date: drafts[at]!.date,
    });
    await linkJournals(tx, [result.value.slice(at, at + group.length).map((p) => p.id)]);
    at += group.length;
  }
  return ok(first);
}

export interface PlannedReversal {
  posted: Awaited<ReturnType<typeof readForReversal>>[number];
  /** Null where no open day is left for it. */
  when: { date: string; period?: string } | null;
}

/**
 * On which day each of these journals is undone by itself: its own while that is open in all
 * companies that it was posted with, else the first day after it that is. A closing entry stays in
 * the period that it closes.
 */
export async function reversalPlans(
  { tx, masters }: Context,
  ids: readonly number[],
): Promise<Map<number, PlannedReversal>> {
  const linked = await linkedJournals(tx, ids);
  const everything = [...new Set([...ids, ...[...linked.values()].flat().map((l) => l.id)])];
  const companies = await rows<{ id: number }>(
    tx,
    sql`select distinct company_id as id from journal
      where id = any(${arrayOf(everything)}::bigint[])`,
  );
  const periods = await loadPeriods(
    tx,
    companies.map((c) => c.id),
    { areas: ["ledger"] },
  );
  const found = new Map(
    (await readForReversal(tx, everything, masters, periods)).map((j) => [j.id, j]),
  );
  return new Map(
    ids.map((id) => {
      const posted = found.get(id)!;
      const group = [id, ...linked.get(id)!.map((l) => l.id)].map((i) => found.get(i)!);
      const when = posted.closing
        ? { date: posted.date, period: periodKey(posted.period) }
        : reversalDateTogether(
            group.map((j) => ({
              date: j.date,
              period: j.period,
              periods: periods.filter(
                (p) => p.companyId === masters.companyByCode.get(j.company)!.id,
              ),
              bookIds: j.bookId === 0 ? masters.books.map((b) => b.id) : [j.bookId],
            })),
          );
      return [id, { posted, when }];
    }),
  );
}

/** The day on which the reversal of a journal would lie by itself; null where there is none. */
export const dayOfReversal = async (context: Context, id: number): Promise<string | null> =>
  (await reversalPlans(context, [id])).get(id)?.when?.date ?? null;
