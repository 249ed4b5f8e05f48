import { sql } from "drizzle-orm";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";
import { register, registerAgain } from "../documents";
import type { Identity, KeptStore, Paper, Written } from "./kind";

/**
 * Keeps papers, new or again, and brings the register up to them; their identities come in the same
 * order. The number of statements does not depend on how many they are.
 */
export async function keepAll<C extends Written, P>(
  store: KeptStore<C, P>,
  context: Context,
  papers: readonly Paper<C, P>[],
): Promise<Identity[]> {
  const { tx, person, now } = context;
  const said = await store.register(context, papers);
  const entries = papers.map((p, i) => ({ ...said[i]!, id: p.id, kind: p.kind ?? store.kinds[0] }));
  const isNew = (e: (typeof entries)[number]) => e.id === undefined;
  const made = await register(
    context,
    entries.filter(isNew).map((e) => ({ ...e, status: "draft" as const })),
  );
  await registerAgain(
    tx,
    entries.flatMap((e) => (e.id === undefined ? [] : [{ ...e, id: e.id }])),
  );
  let next = 0;
  const ids = entries.map((e) => e.id ?? made[next++]!);
  const columns = Object.entries({
    document_id: { type: "bigint", values: ids },
    content: { type: "jsonb", values: papers.map((p) => JSON.stringify(p.content)) },
    ...store.columns?.(papers, said),
  });
  const names = sql.raw(columns.map(([name]) => name).join(", "));
  const values = columns.map(([, c]) => sql`${arrayOf(c.values)}::${sql.raw(c.type)}[]`);
  const again = columns
    .filter(([name]) => name !== "document_id")
    .map(([name]) => sql.raw(`${name} = excluded.${name}`));
  const table = sql.raw(store.table);
  const kept = await rows<{ id: bigint; version: number }>(
    tx,
    sql`insert into ${table} (${names}, updated_by, updated_at)
      select x.*, ${person.id}, ${now.toISOString()}
        from unnest(${sql.join(values, sql`, `)}) as x(${names})
      on conflict (document_id) do update set ${sql.join(again, sql`, `)},
        version = ${table}.version + 1, updated_by = excluded.updated_by,
        updated_at = excluded.updated_at
      returning document_id as id, version`,
  );
  const versions = new Map(kept.map((k) => [Number(k.id), k.version]));
  await context.audit(
    ...entries.flatMap((e, i) =>
      isNew(e)
        ? [
            {
              action: "drafted",
              kind: e.kind,
              recordId: ids[i]!,
              label: e.title.slice(0, 80),
              companyId: e.companyId,
            },
          ]
        : [],
    ),
  );
  return ids.map((id) => ({ id, version: versions.get(id)! }));
}

export const keepOne = async <C extends Written, P>(
  store: KeptStore<C, P>,
  context: Context,
  paper: Paper<C, P>,
): Promise<Identity> => (await keepAll(store, context, [paper]))[0]!;
