import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { Ask, RunItem, RunKindId } from "../src/core/runs";
import { minor, ok, textRecord } from "../src/core/shared";
import { rows, type Db } from "../src/server/db";
import { RUN_KINDS } from "../src/server/kinds";
import { defineRunInParts, type RunKind } from "../src/server/runs";

/** Things that a large run of tests looks at, and what it leaves of them. */
export async function makeThings(db: Db, count: number): Promise<void> {
  await db.execute(sql`create table thing (id int primary key, amount bigint not null)`);
  await db.execute(
    sql`create table thing_entry (run_id bigint, no int, amount bigint, primary key (run_id, no))`,
  );
  await db.execute(
    sql`insert into thing select g, 100 + g % 7 from generate_series(1, ${count}) g`,
  );
}

/** What tests do at certain moments of a run. */
export interface Moments {
  /** Before a part is computed, in its transaction. */
  part?: (after: string, tx: Db) => Promise<unknown>;
  /** Before what items leave is written, from the first of them on. */
  write?: (from: number, tx: Db) => Promise<unknown>;
}

const askOf = (id: number, given = ""): Ask => ({
  key: `amount|${id}`,
  label: "Amount",
  currency: "EUR",
  given,
  optional: true,
});

/** A run over all things: each is an item, in one of ten groups; one journal comes of them. */
export const syntheticRun = (atOnce: number, moments: Moments = {}) =>
  defineRunInParts({
    id: "accrual",
    right: "post.payables",
    schema: object({
      company: string().default("ALP"),
      yearId: number().required(),
      account: string().required(),
      counter: string().required(),
      dimensions: textRecord(),
    }),
    parts: {
      async begin({ tx }, { company, yearId }) {
        const [{ size }] = (await rows<{ size: number }>(
          tx,
          sql`select count(*)::int as size from thing`,
        )) as [{ size: number }];
        return ok({ company, yearId, date: "2026-10-31", title: "All things", size });
      },
      async stand({ tx }) {
        const [found] = await rows<{ stand: string }>(
          tx,
          sql`select count(*) || '.' || sum(amount) as stand from thing`,
        );
        return found!.stand;
      },
      async part({ tx }, _params, overrides, after) {
        await moments.part?.(after, tx);
        const found = await rows<{ id: number; amount: bigint }>(
          tx,
          sql`select id, amount from thing where id > ${Number(after)} order by id limit ${atOnce}`,
        );
        const items = found.map(({ id, amount }): RunItem => {
          const given = overrides.amounts[`amount|${id}`];
          return {
            key: `thing|${id}`,
            label: `Thing ${id}`,
            group: `Group ${id % 10}`,
            amount: given === undefined ? amount : BigInt(given),
            why: "it is there",
            droppable: true,
            // One in ten can be changed.
            ...(id % 10 === 2 ? { asks: [askOf(id, given)] } : {}),
          };
        });
        return ok({ items, next: found.length < atOnce ? null : String(found.at(-1)!.id) });
      },
      explain: (_context, _params, key) =>
        Promise.resolve({ title: key, steps: [{ label: "Counted", text: "once" }] }),
      async finish({ tx }, { company, account, counter, dimensions }, run) {
        const [found] = await rows<{ total: bigint }>(
          tx,
          sql`select coalesce(sum(amount), 0)::bigint as total from run_item
            where run_id = ${run} and state = 'in'`,
        );
        const amount = minor(found!.total);
        return ok({
          warnings: [],
          figures: [{ label: "Together", amount }],
          drafts: [
            {
              company,
              type: "general",
              book: null,
              date: "2026-10-31",
              description: "All things",
              lines: [
                { account, dimensions, description: "", side: "debit" as const, amount },
                {
                  account: counter,
                  dimensions: {},
                  description: "",
                  side: "credit" as const,
                  amount,
                },
              ],
            },
          ],
        });
      },
      async write({ tx }, run, { from, to }) {
        await moments.write?.(from, tx);
        await tx.execute(
          sql`insert into thing_entry select run_id, no, amount from run_item
            where run_id = ${run} and no between ${from} and ${to} and state = 'in'`,
        );
      },
      async unwrite({ tx }, run) {
        await tx.execute(sql`delete from thing_entry where run_id = ${run}`);
      },
    },
  });

/** Lets a kind of run be another one meanwhile, and gives the way back. */
export function replaceKind(id: RunKindId, kind: RunKind): () => void {
  const kinds = RUN_KINDS as Record<RunKindId, RunKind>;
  const before = kinds[id];
  kinds[id] = kind;
  return () => {
    kinds[id] = before;
  };
}
