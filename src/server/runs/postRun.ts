import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import type { Proposal } from "@/core/runs";
import { decodeJson, describeProblem, fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { companiesOf, defineUseCase, lockChains } from "../access";
import { writersOf, setStatus } from "../documents";
import { linkJournals, postDrafts } from "../ledger";
import { approvalOfRun } from "./approvalOfRun";
import { basisOf } from "./basis";
import { readRun, runOf } from "./readRun";

export const postRun = defineUseCase({
  name: "postRun",
  kind: "write",
  rights: [
    "post.ledger",
    "post.payables",
    "post.receivables",
    "post.banks",
    "post.assets",
    "period.ledger",
  ],
  what: "post runs",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({ key: string().required().max(40) }),
  run: async (
    context,
    { key },
  ): Promise<Result<{ id: number; number: string; journals: string[] }>> => {
    const found = await readRun(context, key, true);
    if (!found.ok) return found;
    const { definition, ...row } = found.value;
    if (!context.may(definition.right, row.company))
      return fail({ code: "FORBIDDEN", what: `post this run in ${row.company}` });
    if (row.status !== "preview") return fail({ code: "RUN_STATE", state: row.status });
    // The ledger stands still from here on, so what is computed now is what will be posted.
    await lockChains(context.tx, [row.company]);
    const again = await definition.propose(context, row.params, row.overrides, Number(row.id));
    if (!again.ok)
      return fail({
        code: "RUN_MOVED",
        what: `The ledger has changed (${again.problems.map(describeProblem).join(" ")})`,
      });
    if (basisOf(again.value) !== row.basis)
      return fail({ code: "RUN_MOVED", what: "The ledger has changed" });
    const id = Number(row.id);
    const proposal = decodeJson<Proposal>(row.proposal);
    if (proposal.blocks?.length)
      return fail(
        ...(proposal.blocks.map(
          (what) => ({ code: "RUN_STANDS_IN_WAY", what: what.replace(/\.$/, "") }) as const,
        ) as [{ code: "RUN_STANDS_IN_WAY"; what: string }]),
      );
    const approval = await approvalOfRun(context, definition, proposal);
    const [own] = await rows(
      context.tx,
      sql`select 1 from ${writersOf(sql`${row.id}::bigint`)} z
        where z.person_id = ${context.person.id}`,
    );
    if (
      approval &&
      (own !== undefined ||
        row.proposerId === context.person.id ||
        !context.person.grants.some(
          (g) => g.role === approval.role && (g.company === null || g.company === row.company),
        ))
    )
      return fail({ code: "RUN_APPROVAL", why: approval.why });
    const posted = await postDrafts(
      context,
      proposal.drafts.map((d): JournalDraft => ({ ...d, origin: id })),
    );
    if (!posted.ok) return posted;
    for (const places of proposal.together ?? [])
      await linkJournals(
        context.tx,
        places.map((p) => posted.value[p]!.id),
      );
    const after = await definition.posted?.(context, {
      id,
      params: row.params,
      proposal,
      journals: posted.value,
      approved: approval !== null,
    });
    if (after && !after.ok) return after;
    await context.tx.execute(
      sql`update run set posted_by = ${context.person.id}, posted_at = ${context.now.toISOString()}
        where id = ${id}`,
    );
    await setStatus(context.tx, [id], "posted");
    await context.audit({
      action: "posted",
      kind: "run",
      recordId: id,
      label: row.number,
      companyId: context.masters.companyByCode.get(row.company)!.id,
      after: { journals: posted.value.map((p) => p.number) },
    });
    return ok({ id, number: row.number, journals: posted.value.map((p) => p.number) });
  },
});
