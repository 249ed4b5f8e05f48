import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { JournalDraft } from "@/core/ledger";
import { runPages, type Proposal, type RunHead } from "@/core/runs";
import { describeProblem, fail, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, lockChains, type Context } from "../access";
import { setStatus } from "../documents";
import { askForJob } from "../jobs";
import { linkJournals, postDrafts, type PostedJournal } from "../ledger";
import { ACT, runToActOn } from "./actOnRun";
import { approvedToPost } from "./approvalOfRun";
import { basisOf, basisOfDrafts } from "./basis";
import type { RunAtOnce } from "./kind";
import { INLINE, writePart, type FoundInParts } from "./parts";
import { runOf, type FoundRun, type StoredRun } from "./readRun";
import { readDrafts } from "./storedRun";

/** A run that was posted; a large one is being posted. */
export interface PostedRun {
  id: number;
  number: string;
  status: "posting" | "posted";
  journals: string[];
}

export const postRun = defineUseCase({
  name: "postRun",
  kind: "write",
  rights: ACT,
  what: "post runs",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({ key: string().required().max(40) }),
  run: async (context, { key }): Promise<Result<PostedRun>> => {
    const found = await runToActOn(context, key, "post this run");
    if (!found.ok) return found;
    // The ledger stands still from here on, so what is computed now is what will be posted.
    await lockChains(context.tx, [found.value.company]);
    const { definition, ...run } = found.value;
    return definition.parts
      ? postInParts(context, { ...run, definition })
      : postAtOnce(context, { ...run, definition });
  },
});

async function postAtOnce(
  context: Context,
  run: StoredRun & { definition: RunAtOnce },
): Promise<Result<PostedRun>> {
  const { definition, id, params } = run;
  const again = await definition.propose(context, params, run.overrides, id);
  if (!again.ok)
    return fail({
      code: "RUN_MOVED",
      what: `The ledger has changed (${again.problems.map(describeProblem).join(" ")})`,
    });
  if (basisOf(again.value) !== run.basis)
    return fail({ code: "RUN_MOVED", what: "The ledger has changed" });
  const proposal: Proposal = again.value;
  const blocked = blockedBy(proposal);
  if (blocked) return blocked;
  const approval = await approvedToPost(context, run, proposal.drafts);
  if (!approval.ok) return approval;
  const posted = await postJournals(context, run, proposal, proposal.drafts);
  if (!posted.ok) return posted;
  const journals = posted.value;
  const approved = approval.value !== null;
  const after = await definition.posted?.(context, { id, params, proposal, journals, approved });
  return after && !after.ok ? after : notePosted(context, run, journals);
}

/** Posts a small run now, and lets a job post a large one. */
async function postInParts(context: Context, run: FoundInParts): Promise<Result<PostedRun>> {
  const blocked = blockedBy(run.head);
  if (blocked) return blocked;
  const approval = await approvedToPost(context, run, await readDrafts(context.tx, run.id));
  if (!approval.ok) return approval;
  const { parts } = run.definition;
  const begun = await parts.begin(context, run.params);
  if (!begun.ok) return begun;
  const stand = await parts.stand(context, run.params);
  const standing = stand === run.stand;
  if (begun.value.size <= INLINE) {
    for (;;) {
      const part = await writePart(context, run, standing);
      if (!part.ok) return part;
      if (part.value.last) return finishPosting(context, run);
    }
  }
  await setStatus(context.tx, [run.id], "posting");
  await askForJob(context, {
    kind: "post-run",
    company: run.company,
    title: `${run.number}: ${run.title}`,
    page: `${runPages(run.definition.id)}/${run.id}`,
    params: { run: run.id, stand, standing },
    alone: `post run ${run.company}`,
    total: begun.value.size,
  });
  return ok({ id: run.id, number: run.number, status: "posting", journals: [] });
}

/**
 * Posts the journals of a run whose parts are written: what they leave is seen from here on. The
 * chains are held; the rule for a second person is asked again.
 */
export async function finishPosting(
  context: Context,
  run: FoundInParts,
): Promise<Result<PostedRun>> {
  const { definition, id, params } = run;
  const finished = await definition.parts.finish(context, params, id);
  if (!finished.ok) return finished;
  const { drafts, ...head } = finished.value;
  if (basisOfDrafts(drafts) !== run.basis)
    return fail({ code: "RUN_MOVED", what: "The data have changed" });
  const blocked = blockedBy(head);
  if (blocked) return blocked;
  const approval = await approvedToPost(context, run, drafts);
  if (!approval.ok) return approval;
  const posted = await postJournals(context, run, head, drafts);
  if (!posted.ok) return posted;
  const after = await definition.parts.posted?.(context, { id, params, journals: posted.value });
  return after && !after.ok ? after : notePosted(context, run, posted.value);
}

function blockedBy({ blocks }: RunHead): Result<never> | null {
  const [first, ...others] = (blocks ?? []).map(
    (what) => ({ code: "RUN_STANDS_IN_WAY", what: what.replace(/\.$/, "") }) as const,
  );
  return first ? fail(first, ...others) : null;
}

async function postJournals(
  context: Context,
  { id }: Pick<FoundRun, "id">,
  { together }: RunHead,
  drafts: readonly JournalDraft[],
): Promise<Result<readonly PostedJournal[]>> {
  const posted = await postDrafts(
    context,
    drafts.map((d): JournalDraft => ({ ...d, origin: id })),
  );
  if (!posted.ok) return posted;
  for (const places of together ?? [])
    await linkJournals(context.tx, [places.map((p) => posted.value[p]!.id)]);
  return posted;
}

async function notePosted(
  context: Context,
  { id, number, company }: StoredRun,
  posted: readonly PostedJournal[],
): Promise<Result<PostedRun>> {
  const journals = posted.map((p) => p.number);
  await context.tx.execute(
    sql`update run set posted_by = ${context.person.id}, posted_at = ${context.now.toISOString()}
      where id = ${id}`,
  );
  await setStatus(context.tx, [id], "posted");
  await context.audit({
    action: "posted",
    kind: "run",
    recordId: id,
    label: number,
    companyId: context.masters.companyByCode.get(company)!.id,
    after: { journals },
  });
  return ok({ id, number, status: "posted", journals });
}
