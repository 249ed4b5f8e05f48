import { sql } from "drizzle-orm";
import type { RunItem } from "@/core/runs";
import { fail, minor, ok, type Result } from "@/core/shared";
import { insertAll, rows, schema } from "../db";
import type { Context } from "../access";
import { registerPreview, setStatus } from "../documents";
import { basisOfDrafts, basisOfPart } from "./basis";
import type { RunInParts } from "./kind";
import { readRun, type StoredRun } from "./readRun";
import { storeHead, storeItems } from "./storedRun";
import { aloneWith } from "./taking";

/** Runs with at most so many things to look at are computed and posted while one waits. */
export const INLINE = 2000;

/** A run of a kind that is computed part by part. */
export type FoundInParts = StoredRun & { definition: RunInParts };

export async function runInParts(context: Context, run: number): Promise<Result<FoundInParts>> {
  const found = await readRun(context, String(run), true);
  if (!found.ok) return found;
  const { definition, ...stored } = found.value;
  return definition.parts
    ? ok({ ...stored, definition })
    : fail({ code: "NOT_FOUND", what: `run ${run} that is computed in parts` });
}

interface Part {
  no: number;
  after: string;
  next: string | null;
  firstItem: number;
  items: number;
  basis: string;
}
const PART = sql`no, after, next, first_item as "firstItem", items, basis`;

/**
 * Computes the next part of a run and keeps its items. It says how many items there are by now, and
 * whether that was the last part.
 */
export async function computePart(
  context: Context,
  run: FoundInParts,
): Promise<Result<{ items: number; last: boolean }>> {
  const { tx } = context;
  const [before] = await rows<Part>(
    tx,
    sql`select ${PART} from run_part where run_id = ${run.id} order by no desc limit 1`,
  );
  const first = before ? before.firstItem + before.items : 1;
  if (before?.next === null) return ok({ items: first - 1, last: true });
  const after = before ? before.next! : "";
  const { definition, params, overrides } = run;
  if (!before) await noteStand(context, run);
  await aloneWith(context, definition, params);
  const computed = await definition.parts.part(context, params, overrides, after);
  if (!computed.ok) return computed;
  const { items, next } = computed.value;
  const stored = await storeItems(tx, definition, run.id, items, overrides, first);
  if (!stored.ok) return stored;
  await insertAll(tx, schema.runPart, [
    {
      runId: run.id,
      no: (before?.no ?? 0) + 1,
      after,
      next,
      firstItem: first,
      items: items.length,
      basis: basisOfPart(items),
    },
  ]);
  return ok({ items: first - 1 + items.length, last: next === null });
}

/** Notes how all that the items rest on stands. */
async function noteStand(context: Context, run: FoundInParts): Promise<void> {
  const stand = await run.definition.parts.stand(context, run.params);
  await context.tx.execute(sql`update run set stand = ${stand} where id = ${run.id}`);
}

/** Makes the preview out of items that are all there: journals, figures, what it takes. */
export async function finishPreview(context: Context, run: FoundInParts): Promise<Result<unknown>> {
  const finished = await run.definition.parts.finish(context, run.params, run.id);
  if (!finished.ok) return finished;
  const { drafts, ...head } = finished.value;
  await storeHead(context.tx, run.id, head, drafts);
  // Parts that were computed while something moved are computed again before they are posted.
  const stand = await run.definition.parts.stand(context, run.params);
  await context.tx.execute(
    sql`update run set basis = ${basisOfDrafts(drafts)},
      stand = case when stand = ${stand} then stand end where id = ${run.id}`,
  );
  await registerPreview(context, run.id, minor(head.figures[0]?.amount ?? 0n));
  await setStatus(context.tx, [run.id], "preview");
  return ok({});
}

/** Computes a small run at once. */
export async function computeAll(context: Context, id: number): Promise<Result<unknown>> {
  const run = await runInParts(context, id);
  if (!run.ok) return run;
  for (;;) {
    const part = await computePart(context, run.value);
    if (!part.ok) return part;
    if (part.value.last) return finishPreview(context, run.value);
  }
}

/** Computes those parts anew that hold an item with one of the keys, and the preview from them. */
export async function computeAgain(
  context: Context,
  run: FoundInParts,
  keys: readonly string[],
): Promise<Result<unknown>> {
  const { tx } = context;
  const parts = await rows<Part>(
    tx,
    sql`select ${PART} from run_part p where run_id = ${run.id} and exists (
      select 1 from run_item i where i.run_id = p.run_id
      and i.no >= p.first_item and i.no < p.first_item + p.items
      and (i.key in (select jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb))
        or exists (select 1 from jsonb_array_elements(i.asks) a
          where a->>'key' in (select jsonb_array_elements_text(${JSON.stringify(keys)}::jsonb)))))`,
  );
  for (const part of parts) {
    const computed = await itemsAgain(context, run, part);
    if (!computed.ok) return computed;
    await tx.execute(
      sql`delete from run_item where run_id = ${run.id} and no >= ${part.firstItem}
        and no < ${part.firstItem + part.items}`,
    );
    const stored = await storeItems(
      tx,
      run.definition,
      run.id,
      computed.value,
      run.overrides,
      part.firstItem,
    );
    if (!stored.ok) return stored;
    await tx.execute(
      sql`update run_part set basis = ${basisOfPart(computed.value)}
        where run_id = ${run.id} and no = ${part.no}`,
    );
  }
  return finishPreview(context, run);
}

/** The items of a part as they come out now; refused where they are not as many, or others. */
async function itemsAgain(
  context: Context,
  { definition, params, overrides }: FoundInParts,
  part: Part,
): Promise<Result<RunItem[]>> {
  const computed = await definition.parts.part(context, params, overrides, part.after);
  if (!computed.ok) return computed;
  const { items, next } = computed.value;
  return items.length === part.items && next === part.next
    ? ok(items)
    : fail({ code: "RUN_MOVED", what: "The data have changed" });
}

/**
 * Lets its kind write what the next part leaves that is not written yet; where anything has moved
 * since it was computed (`standing` says no), only after holding it against what comes out now. It
 * says how many items are written by now, and whether that was the last part.
 */
export async function writePart(
  context: Context,
  run: FoundInParts,
  standing: boolean,
): Promise<Result<{ items: number; last: boolean }>> {
  const { tx } = context;
  const [part] = await rows<Part>(
    tx,
    sql`select ${PART} from run_part where run_id = ${run.id} and not written order by no limit 1`,
  );
  if (!part) return ok({ items: 0, last: true });
  if (!standing) {
    const computed = await itemsAgain(context, run, part);
    if (!computed.ok) return computed;
    if (basisOfPart(computed.value) !== part.basis)
      return fail({ code: "RUN_MOVED", what: "The data have changed" });
  }
  const items = { from: part.firstItem, to: part.firstItem + part.items - 1 };
  await run.definition.parts.write?.(context, run.id, items);
  await tx.execute(
    sql`update run_part set written = true where run_id = ${run.id} and no = ${part.no}`,
  );
  return ok({ items: items.to, last: part.next === null });
}

/** Takes back what was written of a run that does not come to be posted. */
export async function unwrite({ tx, ...context }: Context, run: FoundInParts): Promise<void> {
  await run.definition.parts.unwrite?.({ tx, ...context }, run.id);
  await tx.execute(sql`update run_part set written = false where run_id = ${run.id}`);
}
