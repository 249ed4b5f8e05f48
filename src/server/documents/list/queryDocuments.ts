import { sql, type SQL } from "drizzle-orm";
import type { DocumentKind } from "@/core/documents";
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
import type { Context } from "../../access";
import { arrayOf, likeText, rows } from "../../db";
import type { ListColumn, ListColumns, RowOf } from "./columns";

/** A list of documents of some kinds. */
export interface DocumentList<C extends ListColumns> {
  kinds: readonly [DocumentKind, ...DocumentKind[]];
  /** What is joined to the document d. */
  joins: SQL;
  columns: C;
  /** What is summed over all rows that count. */
  sums: readonly (keyof C & string)[];
  /** Which rows count in the sums: not drafts, nor what was taken back. */
  counts: SQL;
  /** Where a document stands, where that is more than its status. */
  status?: SQL;
  /** Where a text is looked for besides the words of the register. */
  alsoFound?: (text: string) => SQL;
}

/** Says a list so that its rows are typed by its columns. */
export const documentList = <C extends ListColumns>(list: DocumentList<C>): DocumentList<C> => list;

/**
 * A page of a list: first what is not final yet, then the newest, or as a column says. Each page
 * goes on where the one before ended, however many rows there are. Drafts are in it whatever their
 * day. Errors: a company, a column that there isn't, a page that no list has given.
 */
export async function queryDocuments<C extends ListColumns>(
  { tx, masters }: Context,
  list: DocumentList<C>,
  asked: ListAsked,
  also: readonly SQL[] = [],
): Promise<Result<ListPage<RowOf<C>>>> {
  const company = masters.companyByCode.get(asked.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: asked.company, field: "company" });
  const where = [
    sql`d.company_id = ${company.id}`,
    list.kinds.length === 1
      ? sql`d.kind = ${list.kinds[0]}`
      : sql`d.kind = any(${arrayOf(list.kinds)}::text[])`,
    ...also,
  ];
  if (asked.from) where.push(sql`(d.date >= ${asked.from} or d.number is null)`);
  if (asked.to) where.push(sql`(d.date <= ${asked.to} or d.number is null)`);
  if (asked.status !== "all") where.push(sql`${list.status ?? sql`d.status`} = ${asked.status}`);
  if (asked.text) {
    const words = sql`d.search like ${`%${likeText(asked.text.toLowerCase())}%`}`;
    where.push(list.alsoFound ? sql`(${words} or ${list.alsoFound(asked.text)})` : words);
  }
  for (const [name, typed] of Object.entries(asked.filters)) {
    const column = columnOf(list, name);
    if (!column) return noColumn(name);
    if (typed.trim() !== "") where.push(meets(column, typed.trim()));
  }
  const order = orderOf(list, asked.sort);
  if (!order) return noColumn(asked.sort.replace(/^-/, ""));
  const after = asked.after === "" ? null : readCursor(asked.after, order);
  if (after === undefined)
    return fail({ code: "INVALID", what: "No list gave such a place to go on", field: "after" });
  const whole = sql.join(where, sql` and `);
  const page = await rows<Record<string, unknown>>(
    tx,
    sql`select d.id, ${columnsOf(list.columns)}, ${cursorOf(order)} as "after"
      from document d ${list.joins}
      where ${whole} ${after ? sql`and ${beyond(order, after)}` : sql``}
      order by ${orderBy(order)} limit ${asked.limit + 1}`,
  );
  // What the whole comes to is said once, with its first page.
  const totals = after
    ? []
    : await rows<Record<string, bigint> & { currency: string | null; rows: number }>(
        tx,
        sql`select d.currency, count(*)::int as rows, ${sumsOf(list)}
          from document d ${list.joins} where ${whole} group by d.currency order by d.currency`,
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
        currency: t.currency ?? company.currency,
        sums: Object.fromEntries(list.sums.map((name) => [name, t[name] ?? 0n])),
      })),
  });
}

/** A column of the list itself: what every object has is none. */
const columnOf = <C extends ListColumns>({ columns }: DocumentList<C>, name: string) =>
  Object.hasOwn(columns, name) ? columns[name] : undefined;

const noColumn = (name: string): Result<never> =>
  fail({ code: "NOT_FOUND", what: `column “${name.slice(0, 40)}” in this list` } as Found);

const named = (name: string): SQL => sql.identifier(name) as unknown as SQL;

const columnsOf = (columns: ListColumns): SQL =>
  sql.join(
    Object.entries(columns).map(([name, c]) => sql`${c.of} as ${named(name)}`),
    sql`, `,
  );

const sumsOf = <C extends ListColumns>({ sums, columns, counts }: DocumentList<C>): SQL =>
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

/** What a list is ordered by: parts that are never null, all in one direction, the last unique. */
interface Order {
  parts: { of: SQL; type: "boolean" | "date" | "timestamptz" | "text" | "bigint" }[];
  down: boolean;
}

const FOREVER = sql`date 'infinity'`;
const ID = { of: sql`d.id`, type: "bigint" } as const;

function orderOf<C extends ListColumns>(list: DocumentList<C>, sort: string): Order | null {
  // The index document_list has this order.
  if (sort === "")
    return {
      parts: [
        { of: sql`(d.number is null)`, type: "boolean" },
        { of: sql`coalesce(d.date, ${FOREVER})`, type: "date" },
        ID,
      ],
      down: true,
    };
  const down = sort.startsWith("-");
  const column = columnOf(list, down ? sort.slice(1) : sort);
  if (!column) return null;
  switch (column.kind) {
    case "text":
      return { parts: [{ of: sql`lower(coalesce(${column.of}, ''))`, type: "text" }, ID], down };
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
const FITS: Record<Order["parts"][number]["type"], (value: string) => boolean> = {
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
function meets({ kind, of }: ListColumn<unknown>, typed: string): SQL {
  // As typed too: not every database folds the letters of all alphabets.
  const holds = (shown: SQL) => sql`(lower(${shown}) like ${`%${likeText(typed.toLowerCase())}%`}
    or ${shown} like ${`%${likeText(typed)}%`})`;
  if (kind === "day") return holds(sql`to_char(${of}, 'FMDD Mon YYYY')`);
  if (kind === "instant") return holds(sql`to_char(${of}, 'FMDD Mon YYYY HH24:MI')`);
  if (kind === "text") return holds(of);
  if (kind === "count") return holds(sql`(${of})::text`);
  const filter = readAmountFilter(typed);
  const value = sql`(${of})::numeric / power(10::numeric, ${DECIMALS})`;
  if ("bounds" in filter)
    return sql.join(
      filter.bounds.map((b) => sql`${value} ${sql.raw(b.by)} ${b.than}::numeric`),
      sql` and `,
    );
  return holds(sql`to_char(round(${value}, ${DECIMALS}), case ${DECIMALS}
    when 0 then 'FM999,999,999,999,999,990' when 3 then 'FM999,999,999,999,990.000'
    else 'FM999,999,999,999,990.00' end)`);
}

/** The decimals of a document's currency. */
const DECIMALS = sql.raw(
  `(case ${[0, 3]
    .map((n) => {
      const codes = CURRENCIES.filter((c) => exponentOf(c) === n);
      return `when d.currency in (${codes.map((c) => `'${c}'`).join(", ")}) then ${n}`;
    })
    .join(" ")} else 2 end)`,
);
