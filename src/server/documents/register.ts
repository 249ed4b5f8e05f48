import { sql } from "drizzle-orm";
import type { DocumentKind, DocumentStatus } from "@/core/documents";
import type { CalendarDate, Minor } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows, type Db } from "../db";

/** What the register of documents says of one, whatever its kind. */
export interface RegisterEntry {
  kind: DocumentKind;
  type?: string;
  number?: string | null;
  companyId: number;
  date?: CalendarDate | null;
  /** In minor units of the currency; what takes back (a credit note) is negative. */
  amount?: Minor | null;
  currency?: string | null;
  title: string;
  /** What Find looks in besides the number and the title. */
  words?: string;
  partnerId?: number | null;
  /** When it is to be paid, or come, as it was written. */
  due?: CalendarDate | null;
}
/** One that is registered for the first time. */
export interface NewEntry extends RegisterEntry {
  status: DocumentStatus;
  /** Who made it, and when (an instant): whoever acts, and now, where nothing is said. */
  by?: number;
  at?: string;
}

const TITLE = 200;
const SEARCH = 500;

/** Registers documents, and gives their identities in the same order. */
export async function register(
  { tx, person, now }: Pick<Context, "tx" | "person" | "now">,
  entries: readonly NewEntry[],
): Promise<number[]> {
  if (entries.length === 0) return [];
  const columns = sql.raw(`${REGISTERED}, status, created_by, created_at`);
  const made = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (${columns}) select ${columns} from unnest(${columnsOf(entries)},
        ${arrayOf(entries.map((e) => e.status))}::text[],
        ${arrayOf(entries.map((e) => e.by ?? person.id))}::int[],
        ${arrayOf(entries.map((e) => e.at ?? now.toISOString()))}::timestamptz[])
        with ordinality as x(${columns}, place) order by place returning id`,
  );
  // Identities are given in the order of the rows; in what order they are returned is not said.
  return made.map((m) => Number(m.id)).sort((a, b) => a - b);
}

/**
 * Brings the register up to what documents say now. Their number, where none is given here, their
 * status, and who made them stay.
 */
export async function registerAgain(
  tx: Db,
  entries: readonly (RegisterEntry & { id: number; status?: DocumentStatus })[],
): Promise<void> {
  if (entries.length === 0) return;
  await tx.execute(sql`
    update document d set type = x.type, number = coalesce(x.number, d.number),
      company_id = x.company_id, date = x.date, amount = x.amount, currency = x.currency,
      title = x.title, partner_id = x.partner_id, due = x.due,
      search = case when x.number is null and d.number is not null
        then left(lower(d.number) || ' ' || x.search, ${SEARCH}) else x.search end,
      status = coalesce(x.status, d.status)
    from unnest(${arrayOf(entries.map((e) => e.id))}::bigint[],
      ${arrayOf(entries.map((e) => e.status ?? null))}::text[], ${columnsOf(entries)}) as x(id,
      status, ${sql.raw(REGISTERED)}) where d.id = x.id`);
}

/** Gives documents their numbers, by which they can be found from now on, and a status with them. */
export const giveNumbers = (
  tx: Db,
  given: readonly { id: number; number: string }[],
  status: DocumentStatus,
) =>
  tx.execute(
    sql`update document d set number = x.number, status = ${status},
      search = left(lower(x.number) || ' ' || d.search, ${SEARCH})
      from unnest(${arrayOf(given.map((g) => g.id))}::bigint[],
        ${arrayOf(given.map((g) => g.number))}::text[]) as x(id, number) where d.id = x.id`,
  );

export const giveNumber = (tx: Db, id: number, number: string, status: DocumentStatus) =>
  giveNumbers(tx, [{ id, number }], status);

/** Where documents stand from now on. */
export const setStatus = (tx: Db, ids: readonly number[], status: DocumentStatus) =>
  tx.execute(sql`update document set status = ${status} where id = any(${arrayOf(ids)}::bigint[])`);

/** Takes one out of the register, with all that hangs on it; gives its kind. */
export async function deleteDocument(tx: Db, id: number): Promise<string | undefined> {
  const [gone] = await rows<{ kind: string }>(
    tx,
    sql`delete from document where id = ${id} returning kind`,
  );
  return gone?.kind;
}

/** What a run comes to, and by whom, when its preview is made anew. */
export const registerPreview = (
  { tx, person }: Pick<Context, "tx" | "person">,
  id: number,
  amount: bigint,
) =>
  tx.execute(
    sql`update document set amount = ${amount}, created_by = ${person.id} where id = ${id}`,
  );

const REGISTERED =
  "kind, type, number, company_id, date, amount, currency, title, search, partner_id, due";

const columnsOf = (entries: readonly RegisterEntry[]) => {
  const column = <T extends string | number | bigint | null>(pick: (e: RegisterEntry) => T) =>
    arrayOf(entries.map(pick));
  return sql`${column((e) => e.kind)}::text[], ${column((e) => e.type ?? "")}::text[],
    ${column((e) => e.number ?? null)}::text[], ${column((e) => e.companyId)}::int[],
    ${column((e) => e.date ?? null)}::date[], ${column((e) => e.amount ?? null)}::bigint[],
    ${column((e) => e.currency ?? null)}::char(3)[],
    ${column((e) => e.title.slice(0, TITLE))}::text[], ${column(searchOf)}::text[],
    ${column((e) => e.partnerId ?? null)}::int[], ${column((e) => e.due ?? null)}::date[]`;
};

const searchOf = ({ number, title, words }: RegisterEntry): string =>
  [number, title, words]
    .filter((part) => part)
    .join(" ")
    .toLowerCase()
    .slice(0, SEARCH);
