import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { reversalDate, reversalOf, type JournalDraft } from "@/core/ledger";
import type { Company } from "@/core/organisation";
import { dateText, fail, isCalendarDate, ok, type CalendarDate, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { loadPeriods } from "../organisation/periods";
import type { WhenOpened } from "../organisation";
import { linkedJournals, linkJournals } from "./linkedJournals";
import { readForReversal } from "./reversals";
import { postDrafts } from "./posting";

export interface DueReversal {
  id: number;
  number: string;
  date: CalendarDate;
  reverseOn: CalendarDate;
  type: string;
  description: string;
  total: bigint;
}

const readDue = async (
  { tx }: Context,
  companyId: number,
  upTo: CalendarDate,
): Promise<(DueReversal & { autoReverse: boolean })[]> =>
  (
    await rows<Omit<DueReversal, "id"> & { id: bigint; autoReverse: boolean }>(
      tx,
      sql`select j.id, j.number, j.date, j.reverse_on as "reverseOn", t.name as type,
        t.auto_reverse as "autoReverse", j.description, j.total from journal j
        join journal_type t on t.id = j.type_id
          where j.company_id = ${companyId} and j.reverse_on <= ${upTo} and not exists (select 1
            from journal r where r.reverses_id = j.id) order by j.reverse_on, j.id`,
    )
  ).map((d) => ({ ...d, id: Number(d.id) }));

/** Journals whose day of reversal has come and that are not reversed yet. */
export const dueReversals = defineUseCase({
  name: "dueReversals",
  kind: "read",
  rights: ["read.ledger"],
  what: "see due reversals",
  company: (i) => i.company,
  schema: object({ company: string().required(), upTo: string().required() }),
  run: async (context, input): Promise<Result<DueReversal[]>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.upTo))
      return fail({ code: "DATE_INVALID", text: input.upTo, field: "upTo" });
    return ok(await readDue(context, company.id, input.upTo));
  },
});

export interface ReversalPlan {
  /** Each with the drafts that reverse it and what was posted with it. */
  due: (DueReversal & { autoReverse: boolean; drafts: JournalDraft[] })[];
  /** Due ones for which no open day lies on or after their date. */
  stuck: DueReversal[];
}

/** Groups of drafts as one list, with the places (from 0) of those that belong together. */
export function gather(groups: readonly { drafts: readonly JournalDraft[] }[]): {
  drafts: JournalDraft[];
  together: number[][];
} {
  const drafts: JournalDraft[] = [];
  const together: number[][] = [];
  for (const group of groups) {
    if (group.drafts.length > 1) together.push(group.drafts.map((_, i) => drafts.length + i));
    drafts.push(...group.drafts);
  }
  return { drafts, together };
}

/**
 * The reversals that are due in a company by a day, on their day where it is open, else on the
 * first open day after it. Journals posted together go together.
 */
export async function planReversals(
  context: Context,
  company: Company,
  upTo: CalendarDate,
): Promise<ReversalPlan> {
  const { tx, masters } = context;
  const plan: ReversalPlan = { due: [], stuck: [] };
  const due = await readDue(context, company.id, upTo);
  // Of every company: what was posted together may lie in any of them.
  const periods =
    due.length > 0
      ? await loadPeriods(
          tx,
          masters.companies.map((c) => c.id),
          { areas: ["ledger"] },
        )
      : [];
  const linked = await linkedJournals(
    tx,
    due.map((d) => d.id),
  );
  const found = new Map(
    (
      await readForReversal(
        tx,
        due.flatMap((d) => [d.id, ...linked.get(d.id)!.map((l) => l.id)]),
        masters,
        periods,
      )
    ).map((j) => [j.id, j]),
  );
  for (const d of due) {
    const journals = [d.id, ...linked.get(d.id)!.map((l) => l.id)].map((id) => found.get(id)!);
    const drafts: JournalDraft[] = [];
    for (const j of journals) {
      const companyId = masters.companyByCode.get(j.company)!.id;
      const own = periods.filter((p) => p.companyId === companyId);
      const target = own.find(
        (p) => !p.adjustment && p.start <= d.reverseOn && d.reverseOn <= p.end,
      );
      const bookIds = j.bookId === 0 ? masters.books.map((b) => b.id) : [j.bookId];
      const when = target
        ? reversalDate({ date: d.reverseOn, period: target }, own, bookIds)
        : null;
      if (when)
        drafts.push(
          reversalOf(j, when.date, when.period, masters.typeById.get(j.typeId)!.reversal),
        );
    }
    if (drafts.length < journals.length) plan.stuck.push(d);
    else plan.due.push({ ...d, drafts });
  }
  return plan;
}

// Types that say so are reversed by themselves as soon as the period of their reversal opens.
export const reverseDue: WhenOpened = async (context, company, periods) => {
  for (const period of periods.filter((p) => !p.adjustment)) {
    const due = (await planReversals(context, company, period.end)).due.filter(
      (d) => d.autoReverse && d.reverseOn >= period.start,
    );
    if (due.length === 0) continue;
    const { drafts, together } = gather(due);
    const posted = await postDrafts(context, drafts);
    if (!posted.ok) return posted;
    for (const places of together)
      await linkJournals(context.tx, [places.map((p) => posted.value[p]!.id)]);
    await context.audit({
      action: "reversed by itself",
      kind: "period",
      recordId: `${company.code} ${period.yearName}-${period.no}`,
      label: `${due.length} due by ${dateText(period.end)}`,
      companyId: company.id,
      after: { journals: posted.value.map((p) => p.number) },
    });
  }
  return ok({});
};
