import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { reversalOf, type JournalDraft } from "@/core/ledger";
import { fail, ok, type Result } from "@/core/shared";
import { againstReason, setStatus } from "../documents";
import { rows } from "../db";
import { companiesOf, defineUseCase, lockChains } from "../access";
import { linkedJournals, linkJournals, postDrafts, reversalPlans } from "../ledger";
import { runToActOn } from "./actOnRun";
import { runOf } from "./readRun";
import { releaseItems } from "./taking";

/**
 * Undoes a posted run as a unit: every journal that came from it, those that followed by themselves
 * included.
 */
export const reverseRun = defineUseCase({
  name: "reverseRun",
  kind: "write",
  rights: [
    "reverse.ledger",
    "reverse.payables",
    "reverse.receivables",
    "reverse.banks",
    "reverse.assets",
  ],
  what: "reverse runs",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({ key: string().required().max(40), reason: string().default("").max(500) }),
  run: async (context, input): Promise<Result<{ id: number; journals: string[] }>> => {
    const { tx, masters } = context;
    const found = await runToActOn(context, input.key, "reverse this run", "posted");
    if (!found.ok) return found;
    const { definition, id, ...row } = found.value;
    const unsaid = await againstReason(context, "runs", input.reason);
    if (unsaid) return fail(unsaid);
    const company = masters.companyByCode.get(row.company)!;
    const standing = await rows<{ id: bigint; companyId: number }>(
      tx,
      sql`select j.id, j.company_id as "companyId" from journal j
        where j.origin_id = ${id} and not exists (select 1 from journal r
        where r.reverses_id = j.id) order by j.id`,
    );
    const companyIds = [...new Set([company.id, ...standing.map((j) => j.companyId)])];
    await lockChains(
      tx,
      companyIds.map((c) => masters.companyById.get(c)!.code),
    );
    const plans = await reversalPlans(
      context,
      standing.map((j) => Number(j.id)),
    );
    const shut = [...plans.values()].find((p) => p.when === null);
    if (shut) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: shut.posted.date });
    const dayOf = (journal: number): string => plans.get(journal)!.when!.date;
    const before = await definition.reversing?.(context, { id, params: row.params, dayOf });
    if (before && !before.ok) return before;
    const journals = [...plans.values()].map((p) => p.posted);
    const posted = await postDrafts(
      context,
      [...plans.values()].map(({ posted: j, when }): JournalDraft => ({
        ...reversalOf(j, when!.date, when!.period, masters.typeById.get(j.typeId)!.reversal),
        origin: id,
      })),
    );
    if (!posted.ok) return posted;
    // What was posted together is undone together.
    const undoing = new Map(journals.map((j, i) => [j.id, posted.value[i]!.id]));
    for (const [leader, others] of await linkedJournals(
      tx,
      journals.map((j) => j.id),
    ))
      if (others.length > 0 && others.every((o) => o.id > leader))
        await linkJournals(tx, [[leader, ...others.map((o) => o.id)].map((j) => undoing.get(j)!)]);
    if (posted.value[0])
      await definition.reversed?.(context, {
        id,
        params: row.params,
        reason: input.reason.trim(),
        reversal: { id: posted.value[0].id, date: dayOf(journals[0]!.id) },
      });
    await tx.execute(
      sql`update run set reversed_by = ${context.person.id},
        reversed_at = ${context.now.toISOString()}, reversal_reason = ${input.reason.trim()}
        where id = ${id}`,
    );
    await setStatus(tx, [id], "reversed");
    await releaseItems(tx, id);
    await context.audit({
      action: "reversed",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: company.id,
      after: { reason: input.reason, journals: posted.value.map((p) => p.number) },
    });
    return ok({ id, journals: posted.value.map((p) => p.number) });
  },
});
