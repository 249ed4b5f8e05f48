import { sql, type SQL } from "drizzle-orm";
import type { DocumentKind } from "@/core/documents";
import type { ListAsked, ListPage } from "@/core/lists";
import { fail, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, likeText } from "../../db";
import { queryList, type ListColumns, type Order, type RowOf } from "../../lists";

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

/** What is not final yet, then the newest: the order of the index document_list. */
const NEWEST: Order = {
  parts: [
    { of: sql`(d.number is null)`, type: "boolean" },
    { of: sql`coalesce(d.date, date 'infinity')`, type: "date" },
    { of: sql`d.id`, type: "bigint" },
  ],
  down: true,
};

/**
 * A page of a list of documents: first what is not final yet, then the newest, or as a column says.
 * Drafts are in it whatever their day. Errors: a company, a column that there isn't, a page that no
 * list has given.
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
  return queryList(
    tx,
    {
      from: sql`document d ${list.joins}`,
      id: sql`d.id`,
      currency: sql`d.currency`,
      columns: list.columns,
      sums: list.sums,
      counts: list.counts,
      order: NEWEST,
    },
    where,
    asked,
    company.currency,
  );
}
