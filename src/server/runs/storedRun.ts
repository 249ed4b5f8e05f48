import { eq, sql } from "drizzle-orm";
import {
  itemState,
  type Proposal,
  type RunHead,
  type RunItem,
  type RunOverrides,
} from "@/core/runs";
import type { JournalDraft } from "@/core/ledger";
import { decodeJson, encodeJson, fail, ok, type Result } from "@/core/shared";
import { insertAll, isDuplicate, rows, schema, type Db } from "../db";
import type { RunKind } from "./kind";
import { takenAs, whoHas } from "./taking";

/** So many items are written by one statement. */
const AT_ONCE = 5000;

/**
 * Writes items of a run, and keeps those that are part of it from others: what is left out stays
 * free. Refused where another run has taken one of them.
 */
export async function storeItems(
  tx: Db,
  kind: Pick<RunKind, "id" | "takesAs">,
  runId: number,
  items: readonly RunItem[],
  { dropped }: RunOverrides,
  first = 1,
): Promise<Result<unknown>> {
  const gone = new Set(dropped);
  const states = items.map((item) => itemState(item, gone));
  const takes = items.map((item, i) => item.takes !== false && states[i] === "in");
  const stored = items.map((item, i) => ({
    runId,
    no: first + i,
    key: item.key,
    label: item.label,
    grouping: item.group,
    amount: item.amount,
    why: item.why,
    state: states[i]!,
    takenAs: takes[i] ? takenAs(kind) : null,
    leftOut: item.leftOut ?? null,
    takes: item.takes !== false,
    droppable: item.droppable === true,
    asks: item.asks ?? null,
    drafts: item.drafts ?? null,
    explanation: item.explanation ?? null,
    detail: item.detail ?? null,
  }));
  try {
    // Apart, so that it can be said which other run has what it could not take.
    await tx.transaction(async (part) => {
      for (let at = 0; at < stored.length; at += AT_ONCE)
        await insertAll(part as unknown as Db, schema.runItem, stored.slice(at, at + AT_ONCE));
    });
    return ok({});
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    const wanted = items.filter((_, i) => takes[i]).map((item) => item.key);
    return fail(await whoHas(tx, kind, runId, wanted));
  }
}

/** Writes what is said of a run as a whole, and its journals in place of those that were there. */
export async function storeHead(
  tx: Db,
  runId: number,
  { warnings, blocks, figures, together, makes }: RunHead,
  drafts: readonly JournalDraft[],
): Promise<void> {
  await tx.delete(schema.runDraft).where(eq(schema.runDraft.runId, runId));
  for (let at = 0; at < drafts.length; at += AT_ONCE)
    await insertAll(
      tx,
      schema.runDraft,
      drafts.slice(at, at + AT_ONCE).map((content, i) => ({ runId, no: at + i, content })),
    );
  const head: RunHead = {
    warnings,
    figures,
    ...(blocks?.length ? { blocks } : {}),
    ...(together ? { together } : {}),
    ...(makes === undefined ? {} : { makes }),
  };
  await tx.execute(sql`update run set head = ${encodeJson(head)}::jsonb where id = ${runId}`);
}

/** Takes away what is stored of a proposal, for another one. */
export async function clearRun(tx: Db, runId: number): Promise<void> {
  await tx.delete(schema.runItem).where(eq(schema.runItem.runId, runId));
  await tx.delete(schema.runDraft).where(eq(schema.runDraft.runId, runId));
  await tx.delete(schema.runPart).where(eq(schema.runPart.runId, runId));
}

/** The journals that a run would post; those from a place on, so many. */
export async function readDrafts(
  tx: Db,
  runId: number,
  page?: { from: number; count: number },
): Promise<JournalDraft[]> {
  const found = await rows<{ content: string }>(
    tx,
    sql`select content::text as content from run_draft where run_id = ${runId}
      ${page ? sql`and no >= ${page.from} and no < ${page.from + page.count}` : sql``} order by no`,
  );
  return found.map((f) => decodeJson<JournalDraft>(f.content));
}

/** The whole proposal of a run that is computed at once, as it is stored. */
export async function readProposal(tx: Db, runId: number): Promise<Proposal> {
  const [run] = await rows<{ title: string; head: string; detail: string | null }>(
    tx,
    sql`select d.title, r.head::text as head, r.detail::text as detail from run r
      join document d on d.id = r.id where r.id = ${runId}`,
  );
  const items = await rows<{
    key: string;
    label: string;
    group: string;
    amount: bigint;
    why: string;
    leftOut: string | null;
    takes: boolean;
    droppable: boolean;
    more: string;
  }>(
    tx,
    sql`select key, label, grouping as "group", amount, why, left_out as "leftOut", takes, droppable,
      jsonb_strip_nulls(jsonb_build_object('asks', asks, 'drafts', drafts, 'detail', detail,
        'explanation', explanation))::text as more
      from run_item where run_id = ${runId} order by no`,
  );
  return {
    title: run!.title,
    ...decodeJson<RunHead>(run!.head),
    items: items.map(({ more, takes, droppable, leftOut, ...item }) => ({
      ...item,
      ...(takes ? {} : { takes: false as const }),
      ...(droppable ? { droppable } : {}),
      ...(leftOut === null ? {} : { leftOut }),
      ...decodeJson<Pick<RunItem, "asks" | "drafts" | "detail" | "explanation">>(more),
    })),
    drafts: await readDrafts(tx, runId),
    ...(run!.detail === null ? {} : { detail: decodeJson(run!.detail) }),
  };
}
