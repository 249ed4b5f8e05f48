import { sql } from "drizzle-orm";
import { array, object, string } from "yup";
import type { RunOverrides } from "@/core/runs";
import { encodeJson, ok, textRecord, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context } from "../access";
import { noteWriter, registerPreview } from "../documents";
import { ACT, runToActOn } from "./actOnRun";
import { basisOf } from "./basis";
import type { RunAtOnce } from "./kind";
import { computeAgain } from "./parts";
import { runOf, type StoredRun } from "./readRun";
import { clearRun, storeHead, storeItems } from "./storedRun";
import { aloneWith } from "./taking";

/** Takes over what a person has changed in a preview, and computes it again. */
export const changeRun = defineUseCase({
  name: "changeRun",
  kind: "write",
  rights: ACT,
  what: "change previews",
  of: "checked",
  locks: async ({ tx }, input) => companiesOf(tx, [await runOf(tx, input.key)]),
  schema: object({
    key: string().required().max(40),
    dropped: array(string().required().max(200)).max(50_000).default([]),
    amounts: textRecord(),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const found = await runToActOn(context, input.key, "change this preview");
    if (!found.ok) return found;
    const { definition, ...run } = found.value;
    const overrides: RunOverrides = {
      dropped: [...new Set(input.dropped)].sort(),
      amounts: Object.fromEntries(
        Object.entries(input.amounts)
          .filter(([, text]) => text.trim() !== "")
          .sort(),
      ),
    };
    await context.tx.execute(
      sql`update run set overrides = ${JSON.stringify(overrides)}::jsonb where id = ${run.id}`,
    );
    await aloneWith(context, definition, run.params);
    const changed = definition.parts
      ? await computeAgain(
          context,
          { ...run, overrides, definition },
          changedKeys(run.overrides, overrides),
        )
      : await proposeAgain(context, definition, { ...run, overrides });
    if (!changed.ok) return changed;
    // Whoever has proposed or changed it has written it: somebody else has to approve.
    await noteWriter(context, run.id);
    await context.audit({
      action: "changed",
      kind: "run",
      recordId: run.id,
      label: run.number,
      companyId: context.masters.companyByCode.get(run.company)!.id,
      before: run.overrides,
      after: overrides,
    });
    return ok({ id: run.id });
  },
});

async function proposeAgain(
  context: Context,
  definition: RunAtOnce,
  { id, params, overrides }: StoredRun,
): Promise<Result<unknown>> {
  const { tx } = context;
  const proposed = await definition.propose(context, params, overrides, id);
  if (!proposed.ok) return proposed;
  const { company: _company, yearId: _year, date: _date, ...proposal } = proposed.value;
  const free = await definition.changing?.(context, { id, params, next: proposal });
  if (free && !free.ok) return free;
  await clearRun(tx, id);
  const stored = await storeItems(tx, definition, id, proposal.items, overrides);
  if (!stored.ok) return stored;
  await storeHead(tx, id, proposal, proposal.drafts);
  await tx.execute(
    sql`update run set basis = ${basisOf(proposal)},
      detail = ${proposal.detail === undefined ? null : encodeJson(proposal.detail)}::jsonb
      where id = ${id}`,
  );
  await registerPreview(context, id, proposal.figures[0]?.amount ?? 0n);
  return ok({});
}

/** The keys of items and amounts for which something else is said than before. */
function changedKeys(before: RunOverrides, after: RunOverrides): string[] {
  const was = new Set(before.dropped);
  const is = new Set(after.dropped);
  const asked = new Set([...Object.keys(before.amounts), ...Object.keys(after.amounts)]);
  return [
    ...after.dropped.filter((key) => !was.has(key)),
    ...before.dropped.filter((key) => !is.has(key)),
    ...[...asked].filter((key) => before.amounts[key] !== after.amounts[key]),
  ];
}
