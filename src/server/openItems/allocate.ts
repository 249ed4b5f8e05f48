import { sql } from "drizzle-orm";
import { dayProblems, ITEM_CONTROLS } from "@/core/ledger";
import { settleMany, settlementDrafts, type Pairing } from "@/core/openItems";
import { fail, ok, type CalendarDate, type Result } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { linkJournals, loadPostingContext, postDrafts } from "../ledger";
import { JOURNAL_TYPE, lockItems } from "./lockItems";
import { knownAt, storeLines } from "./storeAllocation";

/**
 * Sets items against each other, pair by pair, on a day, and posts what their values differ by to
 * exchange gain or loss.
 * All or nothing. Errors: those of `settle`, of posting, and for items that are not there.
 */
export async function allocate(
  context: Context,
  kind: string,
  date: CalendarDate,
  pairings: readonly Pairing[],
  options: { origin?: number; journalId?: number } = {},
): Promise<Result<{ id: number; journal: string | null }>> {
  const { tx, masters, person, now } = context;
  const items = await lockItems(
    context,
    pairings.flatMap((p) => [p.first, p.second]),
  );
  const of = items.get(pairings[0]?.first ?? -1);
  if (pairings.length === 0)
    return fail({ code: "INVALID", what: "Choose the items that settle each other" });
  if (!of || pairings.some((p) => !items.has(p.first) || !items.has(p.second)))
    return fail({ code: "NOT_FOUND", what: "such open item" });
  const all = [...items.values()];
  if (all.some((i) => i.companyId !== of.companyId || i.area !== of.area))
    return fail({
      code: "INVALID",
      what: "Items of several companies or areas cannot be set against each other",
    });
  if (all.some((i) => date < i.date))
    return fail({
      code: "INVALID",
      what: "An allocation lies on or after the days of its items",
      field: "date",
    });
  const settled = settleMany(items, pairings);
  if (!settled.ok) return settled;
  const company = masters.companyById.get(of.companyId)!;
  const drafts = settlementDrafts(settled.value.taken, {
    company,
    type: JOURNAL_TYPE[of.area],
    date,
    ...(options.origin === undefined ? {} : { origin: options.origin }),
    purposes: masters.purposes,
  });
  if (!drafts.ok) return drafts;
  if (drafts.value.length === 0 && options.journalId === undefined) {
    const shut = dayProblems(
      date,
      company,
      ITEM_CONTROLS[of.area].area,
      await loadPostingContext(context, [
        { company: company.code, date, type: JOURNAL_TYPE[of.area] },
      ]),
    );
    if (shut[0]) return fail(shut[0], ...shut.slice(1));
  }
  const posted = await postDrafts(context, drafts.value);
  if (!posted.ok) return posted;
  // Where several are needed the first one names the others, so that they are undone together.
  if (posted.value.length > 1) await linkJournals(tx, [posted.value.map((p) => p.id)]);
  const journal = posted.value[0] ?? null;
  const [made] = await rows<{ id: bigint }>(
    tx,
    sql`insert into allocation (company_id, kind, date, seq, journal_id, made_by, made_at)
      select company_id, ${kind}, ${date}, seq, ${journal?.id ?? options.journalId ?? null}::bigint,
        ${person.id}, ${knownAt(now)} from chain where company_id = ${company.id} returning id`,
  );
  await storeLines(context, made!.id, settled.value.lines);
  return ok({ id: Number(made!.id), journal: journal?.number ?? null });
}
