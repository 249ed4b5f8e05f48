import { sql, type SQL } from "drizzle-orm";
import { number, object, string } from "yup";
import { codingFromKey, dimensionsOf, reversalDate, reversalOf, type JournalInput, type Masters, type PostedForReversal, type Side } from "@/core/ledger";
import { periodKey, type Period } from "@/core/organisation";
import { fail, isCalendarDate, minor, ok, type Minor, type Result } from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";
import { loadPeriods } from "../organisation/periods";
import { journalNotFound, postDrafts } from "./posting";

export interface JournalLineView {
  lineNo: number;
  account: string;
  accountName: string;
  dimensions: Record<string, string>;
  description: string;
  side: Side;
  amount: Minor;
}

interface JournalBase {
  id: number;
  status: string;
  company: string;
  companyName: string;
  currency: string;
  type: string;
  typeName: string;
  preparedBy: string;
  createdAt: string;
}
export interface PostedView extends JournalBase {
  kind: "posted";
  number: string;
  book: string | null;
  date: string;
  period: string;
  periodName: string;
  closing: boolean;
  description: string;
  reference: string;
  total: Minor;
  postedBy: string;
  postedAt: string;
  seq: number;
  hash: string;
  lines: JournalLineView[];
  reverses: { id: number; number: string } | null;
  reversedBy: { id: number; number: string } | null;
  origin: { id: number; number: string; kind: string } | null;
  /** Where the journal came from in words, for those that no document stands behind yet. */
  mayReverse: boolean;
}
export interface DraftView extends JournalBase {
  kind: "draft";
  content: JournalInput;
  version: number;
  savedAt: string;
  mayPost: boolean;
  mayChange: boolean;
}
export type JournalView = PostedView | DraftView;

const READERS = ["read.ledger", "prepare.ledger"] as const;

interface PostedRow {
  id: bigint; company: string; companyName: string; currency: string; type: string; typeName: string; preparedBy: string; createdAt: string; status: string; number: string; bookId: number; date: string;
  yearId: number; periodNo: number; yearName: string; periodName: string; adjustment: boolean; closing: boolean; description: string; reference: string; total: bigint; postedBy: string; postedAt: string; seq: bigint; hash: string;
  reversesId: bigint | null; reversesNumber: string | null; reversedById: bigint | null; reversedByNumber: string | null; originId: bigint | null; originNumber: string | null; originKind: string | null;
}

async function readPosted(tx: Db, where: SQL): Promise<PostedRow | undefined> {
  return (
    await rows<PostedRow>(
      tx,
      sql`select j.id, c.code as company, c.name as "companyName", c.currency, t.code as type, t.name as "typeName", pp.name as "preparedBy", d.created_at as "createdAt", d.status, j.number, j.book_id as "bookId", j.date,
            j.year_id as "yearId", j.period_no as "periodNo", y.name as "yearName", p.name as "periodName", p.adjustment, j.closing, j.description, j.reference, j.total, ps.name as "postedBy", j.posted_at as "postedAt", j.seq, j.hash,
            r.id as "reversesId", r.number as "reversesNumber", rb.id as "reversedById", rb.number as "reversedByNumber", o.id as "originId", o.number as "originNumber", o.kind as "originKind"
          from journal j join document d on d.id = j.id join company c on c.id = j.company_id join journal_type t on t.id = j.type_id join person pp on pp.id = j.prepared_by join person ps on ps.id = j.posted_by
            join fiscal_year y on y.id = j.year_id join period p on p.year_id = j.year_id and p.no = j.period_no
            left join journal r on r.id = j.reverses_id left join journal rb on rb.reverses_id = j.id left join document o on o.id = j.origin_id
          where ${where}`,
    )
  )[0];
}

async function readLines(tx: Db, journalId: bigint | number, masters: Masters): Promise<(JournalLineView & { partner: string | null; dueDate: string | null })[]> {
  const found = await rows<{ lineNo: number; accountId: number; coding: string; description: string; side: string; amount: bigint; partner: string | null; dueDate: string | null }>(
    tx,
    sql`select l.line_no as "lineNo", l.account_id as "accountId", k.key as coding, l.description, l.side, l.amount, l.partner, l.due_date as "dueDate" from journal_line l join coding k on k.id = l.coding_id where l.journal_id = ${journalId} order by l.line_no`,
  );
  return found.map((l) => {
    const account = masters.accountById.get(l.accountId)!;
    return {
      lineNo: l.lineNo, account: account.number, accountName: account.name, dimensions: dimensionsOf(codingFromKey(l.coding), masters), description: l.description,
      side: l.side === "D" ? "debit" : "credit", amount: minor(l.amount), partner: l.partner, dueDate: l.dueDate,
    };
  });
}

const keySchema = object({ key: string().required().max(40) });
/** A journal is asked for by its register id or by its number. */
const byKey = (key: string, column: { id: SQL; number: SQL }): SQL => (/^\d{1,15}$/.test(key) ? sql`${column.id} = ${Number(key)}` : sql`${column.number} = ${key.toUpperCase()}`);

export const getJournal = defineUseCase({
  name: "getJournal", kind: "read", rights: READERS, what: "see journals", schema: keySchema,
  run: async ({ tx, masters, may }, { key }): Promise<Result<JournalView>> => {
    const row = await readPosted(tx, byKey(key, { id: sql`j.id`, number: sql`j.number` }));
    if (row) {
      if (!may("read.ledger", row.company)) return fail({ code: "FORBIDDEN", what: `see journals of ${row.companyName}` });
      const type = masters.typeByCode.get(row.type)!;
      const lines = await readLines(tx, row.id, masters);
      const area = type.area === "stock" ? "ledger" : type.area;
      return ok({
        kind: "posted", id: Number(row.id), status: row.status, company: row.company, companyName: row.companyName, currency: row.currency, type: row.type, typeName: row.typeName, preparedBy: row.preparedBy, createdAt: row.createdAt,
        number: row.number, book: row.bookId === 0 ? null : masters.bookById.get(row.bookId)!.code, date: row.date, period: periodKey({ yearName: row.yearName, no: row.periodNo }), periodName: `${row.periodName} ${row.yearName}`,
        closing: row.closing, description: row.description, reference: row.reference, total: minor(row.total), postedBy: row.postedBy, postedAt: row.postedAt, seq: Number(row.seq), hash: row.hash,
        lines: lines.map(({ partner: _p, dueDate: _d, ...l }) => l),
        reverses: row.reversesId ? { id: Number(row.reversesId), number: row.reversesNumber! } : null,
        reversedBy: row.reversedById ? { id: Number(row.reversedById), number: row.reversedByNumber! } : null,
        origin: row.originId ? { id: Number(row.originId), number: row.originNumber ?? "", kind: row.originKind ?? "" } : null,
        mayReverse: !row.reversedById && !row.reversesId && !row.originId && may(`reverse.${area}`, row.company),
      });
    }
    const [draft] = await rows<{ id: bigint; company: string; companyName: string; currency: string; type: string; preparedBy: string; createdAt: string; status: string; content: JournalInput; version: number; savedAt: string }>(
      tx,
      sql`select d.id, c.code as company, c.name as "companyName", c.currency, d.type, p.name as "preparedBy", d.created_at as "createdAt", d.status, x.content, x.version, x.updated_at as "savedAt"
          from document d join journal_draft x on x.document_id = d.id join company c on c.id = d.company_id join person p on p.id = d.created_by where ${byKey(key, { id: sql`d.id`, number: sql`d.number` })}`,
    );
    if (!draft) return journalNotFound(key);
    if (!may("prepare.ledger", draft.company) && !may("read.ledger", draft.company)) return fail({ code: "FORBIDDEN", what: `see journals of ${draft.companyName}` });
    return ok({
      kind: "draft", ...draft, id: Number(draft.id), typeName: masters.typeByCode.get(draft.type)?.name ?? draft.type, mayPost: may("post.ledger", draft.company), mayChange: may("prepare.ledger", draft.company),
    });
  },
});

export interface JournalRow {
  id: number;
  number: string | null;
  date: string | null;
  type: string;
  description: string;
  amount: Minor;
  status: string;
  preparedBy: string;
  postedAt: string | null;
}

export const listJournals = defineUseCase({
  name: "listJournals", kind: "read", rights: READERS, what: "see journals", company: (i) => i.company,
  schema: object({
    company: string().required(), from: string(), to: string(), status: string().oneOf(["draft", "posted", "reversed", "all"]).default("all"), type: string(), text: string().max(200),
    preparer: string(), limit: number().integer().min(1).max(1000).default(500), after: number().integer().default(0),
  }),
  run: async ({ tx, masters }, input): Promise<Result<{ items: JournalRow[]; next: number | null; count: number; total: Minor }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const where = [sql`d.company_id = ${company.id}`, sql`d.kind = 'journal'`];
    if (input.from && isCalendarDate(input.from)) where.push(sql`(d.date >= ${input.from} or d.date is null)`);
    if (input.to && isCalendarDate(input.to)) where.push(sql`(d.date <= ${input.to} or d.date is null)`);
    if (input.status !== "all") where.push(sql`d.status = ${input.status}`);
    if (input.type) where.push(sql`d.type = ${input.type}`);
    if (input.preparer) where.push(sql`p.login = ${input.preparer}`);
    if (input.text?.trim()) where.push(sql`d.search like ${`%${input.text.trim().toLowerCase().replace(/[%_\\]/g, "\\$&")}%`}`);
    const condition = sql.join(where, sql` and `);
    const [sums] = await rows<{ count: number; total: bigint }>(tx, sql`select count(*)::int as count, coalesce(sum(d.amount), 0)::bigint as total from document d join person p on p.id = d.created_by where ${condition}`);
    const found = await rows<{ id: bigint; number: string | null; date: string | null; type: string; title: string; amount: bigint | null; status: string; preparedBy: string; postedAt: string | null }>(
      tx,
      sql`select d.id, d.number, d.date, d.type, d.title, d.amount, d.status, p.name as "preparedBy", (select j.posted_at from journal j where j.id = d.id) as "postedAt"
          from document d join person p on p.id = d.created_by where ${condition} order by (d.status = 'draft') desc, d.date desc nulls first, d.id desc limit ${input.limit + 1} offset ${input.after}`,
    );
    const items = found.slice(0, input.limit).map((f): JournalRow => ({
      id: Number(f.id), number: f.number, date: f.date, type: masters.typeByCode.get(f.type)?.name ?? f.type, description: f.title, amount: minor(f.amount ?? 0n), status: f.status, preparedBy: f.preparedBy, postedAt: f.postedAt,
    }));
    return ok({ items, next: found.length > input.limit ? input.after + input.limit : null, count: sums!.count, total: minor(sums!.total) });
  },
});

export const reverseJournal = defineUseCase({
  name: "reverseJournal", kind: "write", rights: ["reverse.ledger", "reverse.payables", "reverse.receivables", "reverse.banks", "reverse.assets"], what: "reverse journals",
  schema: object({ key: string().required().max(40), date: string().nullable().default(null) }),
  run: async (context, input): Promise<Result<{ id: number; number: string; date: string }>> => {
    const { tx, masters, may } = context;
    const row = await readPosted(tx, byKey(input.key, { id: sql`j.id`, number: sql`j.number` }));
    if (!row) return journalNotFound(input.key);
    const type = masters.typeByCode.get(row.type)!;
    const area = type.area === "stock" ? "ledger" : type.area;
    if (!may(`reverse.${area}`, row.company)) return fail({ code: "FORBIDDEN", what: `reverse ${type.name.toLowerCase()} journals of ${row.companyName}` });
    if (row.reversedByNumber) return fail({ code: "ALREADY_REVERSED", by: row.reversedByNumber });
    if (row.reversesId) return fail({ code: "REVERSAL_NOT_REVERSED", number: row.number });
    if (row.originId) return fail({ code: "REVERSE_BY_RUN", run: row.originNumber ?? "a run" });
    const company = masters.companyByCode.get(row.company)!;
    const periods = await loadPeriods(tx, [company.id], { areas: ["ledger"] });
    const period = periods.find((p: Period) => p.yearId === row.yearId && p.no === row.periodNo)!;
    const bookIds = row.bookId === 0 ? masters.books.map((b) => b.id) : [row.bookId];
    let when: { date: string; period?: string } | null;
    if (input.date) {
      if (!isCalendarDate(input.date)) return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
      if (input.date < row.date) return fail({ code: "INVALID", what: "A reversal lies on or after the day of what it reverses", field: "date" });
      when = { date: input.date };
    } else when = reversalDate({ date: row.date, period }, periods, bookIds);
    if (!when) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: row.date });
    const posted: PostedForReversal = {
      id: Number(row.id), number: row.number, company: row.company, type: row.type, book: row.bookId === 0 ? null : masters.bookById.get(row.bookId)!.code, date: row.date, period,
      description: row.description, reference: row.reference, closing: row.closing, lines: await readLines(tx, row.id, masters),
    };
    const result = await postDrafts(context, [reversalOf(posted, when.date, when.period, type.reversal)]);
    return result.ok ? ok({ id: result.value[0]!.id, number: result.value[0]!.number, date: when.date }) : result;
  },
});
