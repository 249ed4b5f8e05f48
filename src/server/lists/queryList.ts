import { sql, type SQL } from "drizzle-orm";
import { readAmountFilter, type ListAsked, type ListPage } from "@/core/lists";
import {
  CURRENCIES,
  exponentOf,
  fail,
  isCalendarDate,
  ok,
  type Found,
  type Result,
} from "@/core/shared";
import { likeText, rows, type Db } from "../db";
import type { ListColumn, ListColumns, RowOf } from "./columns";

/** A part of an order: never null. */
export interface OrderPart {
  of: SQL;
  type: "boolean" | "date" | "timestamptz" | "text" | "bigint";
}
/** What a list is ordered by: all in one direction, the last part unique. */
export interface Order {
  parts: readonly OrderPart[];
  down: boolean;
}

/** A list of rows of any table. */
export interface List<C extends ListColumns> {
  /** Where the rows come from, with what is joined to them. */
  from: SQL;
  /** What a row is known by: a whole number. */
  id: SQL;
  /** The currency of its amounts. */
  currency: SQL;
  columns: C;
  /** What is summed over all rows that count. */
  sums: readonly (keyof C & string)[];
  /** Which rows count in the sums. */
  counts: SQL;
  /** The order in which the list begins. */
  order: Order;
}
/** What is asked of any list. */
export type Asked = Pick<ListAsked, "sort" | "filters" | "after" | "limit">;

/**
 * A page of a list, as a column says or in the order in which it begins. Each page goes on where
 * the one before ended, however many rows there are. `currency` stands for a row that names none.
 * Errors: a column that there isn't, a page that no list has given.
 */
export async function queryList<C extends ListColumns>(
  tx: Db,
  list: List<C>,
  within: readonly SQL[],
  asked: Asked,
  currency: string,
): Promise<Result<ListPage<RowOf<C>>>> {
  const where = [...within];
  for (const [name, typed] of Object.entries(asked.filters)) {
    const column = columnOf(list, name);
    if (!column) return noColumn(name);
    if (typed.trim() !== "") where.push(meets(column, typed.trim(), list.currency));
  }
  const order = orderOf(list, asked.sort);
  if (!order) return noColumn(asked.sort.replace(/^-/, ""));
  const after = asked.after === "" ? null : readCursor(asked.after, order);
  if (after === undefined)
    return fail({ code: "INVALID", what: "No list gave such a place to go on", field: "after" });
  const whole = sql.join(where, sql` and `);
  const page = await rows<Record<string, unknown>>(
    tx,
    sql`select ${list.id} as id, ${columnsOf(list.columns)}, ${cursorOf(order)} as "after"
      from ${list.from}
      where ${whole} ${after ? sql`and ${beyond(order, after)}` : sql``}
      order by ${orderBy(order)} limit ${asked.limit + 1}`,
  );
  // What the whole comes to is said once, with its first page.
  const totals = after
    ? []
    : await rows<Record<string, bigint> & { currency: string | null; rows: number }>(
        tx,
        sql`select ${list.currency} as currency, count(*)::int as rows, ${sumsOf(list)}
          from ${list.from} where ${whole} group by 1 order by 1`,
      );
  const shown = page.slice(0, asked.limit);
  const last = shown.at(-1);
  return ok({
    rows: shown.map(({ after: _after, ...row }) => ({ ...row, id: Number(row.id) }) as RowOf<C>),
    next: page.length > asked.limit && last ? writeCursor(last.after as unknown[]) : null,
    count: after ? null : totals.reduce((n, t) => n + t.rows, 0),
    totals: totals
      .filter((t) => t.counting !== 0n)
      .map((t) => ({
        currency: t.currency ?? currency,
        sums: Object.fromEntries(list.sums.map((name) => [name, t[name] ?? 0n])),
      })),
  });
}

/** A column of the list itself: what every object has is none. */
const columnOf = <C extends ListColumns>({ columns }: List<C>, name: string) =>
  Object.hasOwn(columns, name) ? columns[name] : undefined;

const noColumn = (name: string): Result<never> =>
  fail({ code: "NOT_FOUND", what: `column “${name.slice(0, 40)}” in this list` } as Found);

const named = (name: string): SQL => sql.identifier(name) as unknown as SQL;

const columnsOf = (columns: ListColumns): SQL =>
  sql.join(
    Object.entries(columns).map(([name, c]) => sql`${c.of} as ${named(name)}`),
    sql`, `,
  );

const sumsOf = <C extends ListColumns>({ sums, columns, counts }: List<C>): SQL =>
  sql.join(
    [
      sql`count(*) filter (where ${counts}) as counting`,
      ...sums.map(
        (name) => sql`coalesce(sum(${columns[name]!.of}) filter (where ${counts}), 0)::bigint
          as ${named(name)}`,
      ),
    ],
    sql`, `,
  );

const FOREVER = sql`date 'infinity'`;

function orderOf<C extends ListColumns>(list: List<C>, sort: string): Order | null {
  if (sort === "") return list.order;
  const ID = { of: list.id, type: "bigint" } as const;
  const down = sort.startsWith("-");
  const column = columnOf(list, down ? sort.slice(1) : sort);
  if (!column) return null;
  switch (column.kind) {
    case "text":
      return {
        parts: [{ of: sql`lower(coalesce(${column.shown ?? column.of}, ''))`, type: "text" }, ID],
        down,
      };
    case "day":
      return { parts: [{ of: sql`coalesce(${column.of}, ${FOREVER})`, type: "date" }, ID], down };
    case "instant":
      return {
        parts: [
          { of: sql`coalesce(${column.of}, timestamptz 'infinity')`, type: "timestamptz" },
          ID,
        ],
        down,
      };
    case "count":
    case "amount":
      return { parts: [{ of: sql`coalesce(${column.of}, 0)`, type: "bigint" }, ID], down };
  }
}

const orderBy = ({ parts, down }: Order): SQL =>
  sql.join(
    parts.map((p) => sql`${p.of} ${down ? sql`desc` : sql`asc`}`),
    sql`, `,
  );

const cursorOf = ({ parts }: Order): SQL =>
  sql`jsonb_build_array(${sql.join(
    parts.map((p) => sql`(${p.of})::text`),
    sql`, `,
  )})`;

const beyond = ({ parts, down }: Order, after: readonly string[]): SQL => {
  const here = sql.join(
    parts.map((p) => p.of),
    sql`, `,
  );
  const there = sql.join(
    parts.map((p, i) => sql`${after[i]}::${sql.raw(p.type)}`),
    sql`, `,
  );
  return sql`(${here}) ${down ? sql`<` : sql`>`} (${there})`;
};

const writeCursor = (after: readonly unknown[]): string =>
  Buffer.from(JSON.stringify(after)).toString("base64url");

const TIME = /^ ([01]\d|2[0-3]):[0-5]\d:[0-5]\d(\.\d{1,6})?[+-]\d\d(:\d\d)?$/;
const FITS: Record<OrderPart["type"], (value: string) => boolean> = {
  boolean: (v) => v === "true" || v === "false",
  date: (v) => v === "infinity" || isCalendarDate(v),
  timestamptz: (v) =>
    v === "infinity" || (isCalendarDate(v.slice(0, 10)) && TIME.test(v.slice(10))),
  bigint: (v) => /^-?\d{1,18}$/.test(v),
  text: (v) => !v.includes("\u0000"),
};

function readCursor(written: string, { parts }: Order): string[] | undefined {
  try {
    const read: unknown = JSON.parse(Buffer.from(written, "base64url").toString());
    const fits =
      Array.isArray(read) &&
      read.length === parts.length &&
      read.every((value, i) => typeof value === "string" && FITS[parts[i]!.type](value));
    return fits ? (read as string[]) : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a column holds what was typed above it. */
function meets(column: ListColumn<unknown>, typed: string, currency: SQL): SQL {
  const { kind, of } = column;
  // As typed too: not every database folds the letters of all alphabets.
  const holds = (shown: SQL) => sql`(lower(${shown}) like ${`%${likeText(typed.toLowerCase())}%`}
    or ${shown} like ${`%${likeText(typed)}%`})`;
  if (kind === "day") return holds(sql`to_char(${of}, 'FMDD Mon YYYY')`);
  if (kind === "instant") return holds(sql`to_char(${of}, 'FMDD Mon YYYY HH24:MI')`);
  if (kind === "text") return holds(column.shown ?? of);
  if (kind === "count") return holds(sql`(${of})::text`);
  const filter = readAmountFilter(typed);
  const decimals = decimalsOf(column.currency ?? currency);
  const value = sql`(${of})::numeric / power(10::numeric, ${decimals})`;
  if ("bounds" in filter)
    return sql.join(
      filter.bounds.map((b) => sql`${value} ${sql.raw(b.by)} ${b.than}::numeric`),
      sql` and `,
    );
  return holds(sql`to_char(round(${value}, ${decimals}), case ${decimals}
    when 0 then 'FM999,999,999,999,999,990' when 3 then 'FM999,999,999,999,990.000'
    else 'FM999,999,999,999,990.00' end)`);
}

/** The decimals of a currency. */
const decimalsOf = (currency: SQL): SQL =>
  sql`(case ${sql.join(
    [0, 3].map((n) => {
      const codes = CURRENCIES.filter((c) => exponentOf(c) === n);
      return sql`when ${currency} in (${sql.raw(codes.map((c) => `'${c}'`).join(", "))})
        then ${sql.raw(String(n))}`;
    }),
    sql` `,
  )} else 2 end)`;
