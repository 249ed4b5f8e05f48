import { sql, type SQL } from "drizzle-orm";
import { STATE_WORDS } from "@/core/documents";
import type { CalendarDate, Minor } from "@/core/shared";

/** A column of a list: what it holds, as SQL over the table of the list and what is joined. */
export interface ListColumn<T> {
  kind: "text" | "day" | "instant" | "amount" | "count";
  of: SQL;
  /** What people read for it, where that is another text: it is found and ordered by that. */
  shown?: SQL;
  /** The currency of an amount, where it is not that of the list. */
  currency?: SQL;
  /** Of the type alone: no value has it. */
  type?: T;
}
export type ListColumns = Readonly<Record<string, ListColumn<unknown>>>;

/** A row of a list, with the identity of its document. */
export type RowOf<C extends ListColumns> = { id: number } & {
  -readonly [K in keyof C]: C[K] extends ListColumn<infer T> ? T : never;
};

export const text = <T extends string = string>(of: SQL): ListColumn<T> => ({
  kind: "text",
  of: sql`coalesce((${of}), '')`,
});
const WORDS = sql.raw(
  Object.entries(STATE_WORDS)
    .map(([code, word]) => `when '${code}' then '${word}'`)
    .join(" "),
);
/** A state: a code that people read as a word; `read` is the code that they read, if another. */
export const state = (of: SQL, read: SQL = of): ListColumn<string> => ({
  kind: "text",
  of,
  shown: sql`case ${read} ${WORDS} else ${read} end`,
});
export const maybeText = (of: SQL): ListColumn<string | null> => ({ kind: "text", of });
export const day = (of: SQL): ListColumn<CalendarDate | null> => ({ kind: "day", of });
/** An instant, as the database writes it. */
export const instant = (of: SQL): ListColumn<string | null> => ({ kind: "instant", of });
/** In minor units of the document's currency. */
export const amount = (of: SQL): ListColumn<Minor> => ({
  kind: "amount",
  of: sql`coalesce(${of}, 0)::bigint`,
});
export const maybeAmount = (of: SQL): ListColumn<Minor | null> => ({
  kind: "amount",
  of: sql`(${of})::bigint`,
});
/** In minor units of the functional currency of the document's company. */
export const functional = (of: SQL): ListColumn<Minor | null> => ({
  kind: "amount",
  of: sql`(${of})::bigint`,
  currency: sql`(select f.currency from company f where f.id = d.company_id)`,
});
export const count = (of: SQL): ListColumn<number> => ({
  kind: "count",
  of: sql`coalesce((${of}), 0)::int`,
});
