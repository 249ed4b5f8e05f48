import { sql, type SQL } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  codingFromKey,
  dimensionsOf,
  journalInput,
  keepsItems,
  quantityText,
  readAccounts,
  reversalDateTogether,
  reversalOf,
  type JournalDraft,
  type JournalInput,
  type Masters,
  type PostedForReversal,
  type Side,
} from "@/core/ledger";
import { periodKey, type Period } from "@/core/organisation";
import {
  amountText,
  fail,
  isCalendarDate,
  minor,
  ok,
  readAmount,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase, type Context, lockChains } from "../access";
import { loadPeriods } from "../organisation/periods";
import { journalNotFound, postDrafts } from "./posting";

export interface JournalLineView {
  lineNo: number;
  account: string;
  accountName: string;
  dimensions: Record<string, string>;
  description: string;
  side: Side;
  /** Functional minor units; on an account of units, thousandths. */
  amount: Minor;
  currency: string;
  foreignAmount: Minor;
  rate: string | null;
  counterparty: string | null;
  quantity: bigint | null;
  units: boolean;
  note: string;
  partner: string | null;
  dueDate: string | null;
  /** On a partner's control account: a difference of a settlement, which leaves no open item. */
  difference: boolean;
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
  /** The currency of the journal where it is not the functional one. */
  foreignCurrency: string | null;
  reverseOn: string | null;
  /** The journals of other companies that were posted with this one. */
  linked: LinkedJournal[];
  reverses: { id: number; number: string } | null;
  reversedBy: { id: number; number: string } | null;
  origin: { id: number; number: string; kind: string } | null;
  /** The load that brought it. */
  load: { id: number; source: string } | null;
  mayReverse: boolean;
}
export interface DraftView extends JournalBase {
  kind: "draft";
  content: JournalInput;
  version: number;
  savedAt: string;
  /** Names of the accounts that its lines name. */
  accountNames: Record<string, string>;
  mayPost: boolean;
  mayChange: boolean;
  batch: { id: number; name: string; period: string } | null;
}
export type JournalView = PostedView | DraftView;

const READERS = ["read.ledger", "prepare.ledger"] as const;

interface PostedRow {
  id: bigint;
  company: string;
  companyName: string;
  currency: string;
  type: string;
  typeName: string;
  preparedBy: string;
  createdAt: string;
  status: string;
  number: string;
  bookId: number;
  date: string;
  yearId: number;
  periodNo: number;
  yearName: string;
  periodName: string;
  adjustment: boolean;
  closing: boolean;
  description: string;
  reference: string;
  reverseOn: string | null;
  total: bigint;
  postedBy: string;
  postedAt: string;
  seq: bigint;
  hash: string;
  reversesId: bigint | null;
  reversesNumber: string | null;
  reversedById: bigint | null;
  reversedByNumber: string | null;
  originId: bigint | null;
  originNumber: string | null;
  originKind: string | null;
}

async function readPosted(tx: Db, where: SQL): Promise<PostedRow | undefined> {
  return (
    await rows<PostedRow>(
      tx,
      sql`select j.id, c.code as company, c.name as "companyName", c.currency, t.code as type,
        t.name as "typeName", pp.name as "preparedBy", d.created_at as "createdAt", d.status,
        j.number, j.book_id as "bookId", j.date,
            j.year_id as "yearId", j.period_no as "periodNo", y.name as "yearName",
              p.name as "periodName", p.adjustment, j.closing, j.description, j.reference,
              j.reverse_on as "reverseOn", j.total, ps.name as "postedBy",
              j.posted_at as "postedAt", j.seq, j.hash,
            r.id as "reversesId", r.number as "reversesNumber", rb.id as "reversedById",
              rb.number as "reversedByNumber", o.id as "originId", o.number as "originNumber",
              o.kind as "originKind"
          from journal j join document d on d.id = j.id join company c on c.id = j.company_id
            join journal_type t on t.id = j.type_id join person pp on pp.id = j.prepared_by
            join person ps on ps.id = j.posted_by
            join fiscal_year y on y.id = j.year_id
              join period p on p.year_id = j.year_id and p.no = j.period_no
            left join journal r on r.id = j.reverses_id left
              join journal rb on rb.reverses_id = j.id left
              join document o on o.id = coalesce(j.origin_id, (select l.from_id from document_link l
              where l.to_id = j.id and l.kind = 'made' order by l.from_id limit 1))
          where ${where}`,
    )
  )[0];
}

/** The lines of journals, by journal. */
async function readLines(
  tx: Db,
  journalIds: readonly (bigint | number)[],
  masters: Masters,
): Promise<ReadonlyMap<number, JournalLineView[]>> {
  const found = await rows<{
    journalId: bigint;
    lineNo: number;
    accountId: number;
    coding: string;
    description: string;
    side: string;
    amount: bigint;
    currency: string;
    foreignAmount: bigint;
    rate: string | null;
    counterpartyId: number | null;
    quantity: bigint | null;
    note: string | null;
    partner: string | null;
    dueDate: string | null;
    item: boolean;
  }>(
    tx,
    sql`select l.journal_id as "journalId", l.line_no as "lineNo", l.account_id as "accountId",
      k.key as coding, l.description, l.side, l.amount, l.currency,
      l.foreign_amount as "foreignAmount", l.rate::text as rate,
      l.counterparty_id as "counterpartyId",
          l.quantity, l.note, l.partner, l.due_date as "dueDate", exists (select 1 from open_item i
            where i.journal_id = l.journal_id and i.line_no = l.line_no) as item from journal_line l
            join coding k on k.id = l.coding_id
            where l.journal_id = any(${arrayOf(journalIds)}::bigint[]) order by l.journal_id,
            l.line_no`,
  );
  const lists = new Map<number, JournalLineView[]>(journalIds.map((id) => [Number(id), []]));
  for (const {
    accountId,
    coding,
    side,
    counterpartyId,
    note,
    journalId,
    amount,
    foreignAmount,
    item,
    ...l
  } of found) {
    const account = masters.accountById.get(accountId)!;
    lists.get(Number(journalId))!.push({
      ...l,
      account: account.number,
      accountName: account.name,
      dimensions: dimensionsOf(codingFromKey(coding), masters),
      side: side === "D" ? "debit" : "credit",
      amount: minor(amount),
      foreignAmount: minor(foreignAmount),
      counterparty: counterpartyId === null ? null : masters.companyById.get(counterpartyId)!.code,
      units: account.type === "units",
      note: note ?? "",
      difference: keepsItems(account) && !item,
    });
  }
  return lists;
}

/** Journals with all that undoing them needs. */
export async function readForReversal(
  tx: Db,
  journalIds: readonly (bigint | number)[],
  masters: Masters,
  periods: readonly Period[],
): Promise<(PostedForReversal & { typeId: number; bookId: number })[]> {
  const heads = await rows<{
    id: bigint;
    number: string;
    companyId: number;
    typeId: number;
    bookId: number;
    date: string;
    yearId: number;
    periodNo: number;
    description: string;
    reference: string;
    closing: boolean;
    dueAgain: string | null;
  }>(
    tx,
    sql`select j.id, j.number, (select o.reverse_on from journal o
      where o.id = j.reverses_id) as "dueAgain", j.company_id as "companyId", j.type_id as "typeId",
      j.book_id as "bookId", j.date, j.year_id as "yearId", j.period_no as "periodNo",
      j.description, j.reference, j.closing from journal j
      where j.id = any(${arrayOf(journalIds)}::bigint[]) order by j.id`,
  );
  const lines = await readLines(
    tx,
    heads.map((h) => h.id),
    masters,
  );
  return heads.map((j) => {
    const company = masters.companyById.get(j.companyId)!;
    const own = lines.get(Number(j.id))!;
    return {
      id: Number(j.id),
      number: j.number,
      company: company.code,
      type: masters.typeById.get(j.typeId)!.code,
      book: j.bookId === 0 ? null : masters.bookById.get(j.bookId)!.code,
      date: j.date,
      period: periods.find((p) => p.yearId === j.yearId && p.no === j.periodNo)!,
      description: j.description,
      reference: j.reference,
      closing: j.closing,
      dueAgain: j.dueAgain,
      currency: own.find((l) => !l.units && l.currency !== company.currency)?.currency ?? null,
      lines: own,
      typeId: j.typeId,
      bookId: j.bookId,
    };
  });
}

const keySchema = object({ key: string().required().max(40) });
/** A journal is asked for by its register id or by its number. */
const byKey = (key: string, column: { id: SQL; number: SQL }): SQL =>
  /^\d{1,15}$/.test(key)
    ? sql`${column.id} = ${Number(key)}`
    : sql`${column.number} = ${key.toUpperCase()}`;

export const getJournal = defineUseCase({
  name: "getJournal",
  kind: "read",
  rights: READERS,
  what: "see journals",
  of: "checked",
  schema: keySchema,
  run: async ({ tx, masters, may }, { key }): Promise<Result<JournalView>> => {
    const row = await readPosted(tx, byKey(key, { id: sql`j.id`, number: sql`j.number` }));
    if (row) {
      if (!may("read.ledger", row.company))
        return fail({ code: "FORBIDDEN", what: `see journals of ${row.companyName}` });
      const type = masters.typeByCode.get(row.type)!;
      const lines = (await readLines(tx, [row.id], masters)).get(Number(row.id))!;
      const area = type.area === "stock" ? "ledger" : type.area;
      return ok({
        kind: "posted",
        id: Number(row.id),
        status: row.status,
        company: row.company,
        companyName: row.companyName,
        currency: row.currency,
        type: row.type,
        typeName: row.typeName,
        preparedBy: row.preparedBy,
        createdAt: row.createdAt,
        number: row.number,
        book: row.bookId === 0 ? null : masters.bookById.get(row.bookId)!.code,
        date: row.date,
        period: periodKey({ yearName: row.yearName, no: row.periodNo }),
        periodName: `${row.periodName} ${row.yearName}`,
        closing: row.closing,
        description: row.description,
        reference: row.reference,
        total: minor(row.total),
        postedBy: row.postedBy,
        postedAt: row.postedAt,
        seq: Number(row.seq),
        hash: row.hash,
        lines,
        foreignCurrency:
          lines.find((l) => !l.units && l.currency !== row.currency)?.currency ?? null,
        reverseOn: row.reverseOn,
        linked: (await linkedJournals(tx, [row.id])).get(Number(row.id))!,
        reverses: row.reversesId
          ? { id: Number(row.reversesId), number: row.reversesNumber! }
          : null,
        reversedBy: row.reversedById
          ? { id: Number(row.reversedById), number: row.reversedByNumber! }
          : null,
        origin: row.originId
          ? { id: Number(row.originId), number: row.originNumber ?? "", kind: row.originKind ?? "" }
          : null,
        load: await loadOf(tx, Number(row.id)),
        mayReverse:
          !row.reversedById &&
          !row.reversesId &&
          !row.originId &&
          may(`reverse.${area}`, row.company),
      });
    }
    const [draft] = await rows<{
      id: bigint;
      company: string;
      companyName: string;
      currency: string;
      type: string;
      preparedBy: string;
      createdAt: string;
      status: string;
      content: JournalInput;
      version: number;
      savedAt: string;
      batch: { id: number; name: string; period: string } | null;
    }>(
      tx,
      sql`select d.id, (select jsonb_build_object('id', b.document_id, 'name', bd.title, 'period',
        b.period) from batch b join document bd on bd.id = b.document_id
        where b.document_id = x.batch_id) as batch, c.code as company, c.name as "companyName",
        c.currency, d.type, p.name as "preparedBy", d.created_at as "createdAt", d.status,
        x.content, x.version, x.updated_at as "savedAt"
          from document d join journal_draft x on x.document_id = d.id
            join company c on c.id = d.company_id join person p on p.id = d.created_by
            where ${byKey(key, { id: sql`d.id`, number: sql`d.number` })}`,
    );
    if (!draft) return journalNotFound(key);
    if (!may("prepare.ledger", draft.company) && !may("read.ledger", draft.company))
      return fail({ code: "FORBIDDEN", what: `see journals of ${draft.companyName}` });
    return ok({
      kind: "draft",
      ...draft,
      id: Number(draft.id),
      typeName: masters.typeByCode.get(draft.type)?.name ?? draft.type,
      accountNames: Object.fromEntries(
        draft.content.lines.map((l) => [
          l.account,
          masters.accountByNumber.get(l.account.trim())?.name ?? "",
        ]),
      ),
      mayPost: may("post.ledger", draft.company),
      mayChange: may("prepare.ledger", draft.company),
    });
  },
});

/**
 * A journal as one to write anew: everything but its date, its number and what the system added.
 */
export function copyOf(view: JournalView, company: string): JournalInput {
  if (view.kind === "draft")
    return { ...journalInput(view.content), company, date: "", reverseOn: "" };
  const currency = view.foreignCurrency ?? view.currency;
  return journalInput({
    company,
    type: view.type,
    description: view.description,
    reference: view.reference,
    book: view.book,
    currency: view.foreignCurrency,
    lines: view.lines
      .filter((l) => !l.counterparty && (l.units || l.foreignAmount !== 0n))
      .map((l) => ({
        account: l.account,
        dimensions: l.dimensions,
        description: l.description === view.description ? "" : l.description,
        note: l.note,
        partner: l.partner ?? "",
        debit: l.units || l.side === "credit" ? "" : amountText(l.foreignAmount, currency),
        credit: l.units || l.side === "debit" ? "" : amountText(l.foreignAmount, currency),
        quantity: l.quantity === null ? "" : quantityText(l.quantity),
      })),
  });
}

export interface JournalRow {
  id: number;
  number: string | null;
  date: string | null;
  type: string;
  description: string;
  /** In the functional currency once it is posted, in that of the draft before. */
  amount: Minor;
  currency: string;
  status: string;
  preparedBy: string;
  postedAt: string | null;
  /** What it came from: a run, a batch, the journal that it reverses. */
  origin: string;
}

/** A draft in a batch that waits for approval waits with it. */
const STANDING = sql`case when d.status = 'draft' and exists (select 1 from journal_draft x
  join document b on b.id = x.batch_id and b.status = 'waiting' where x.document_id = d.id)
  then 'waiting' else d.status end`;

export const listJournals = defineUseCase({
  name: "listJournals",
  kind: "read",
  rights: READERS,
  what: "see journals",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    status: string().oneOf(["draft", "waiting", "posted", "reversed", "all"]).default("all"),
    type: string(),
    text: string().max(200),
    preparer: string(),
    account: string().max(200),
    amountFrom: string().max(40),
    amountTo: string().max(40),
    limit: number().integer().min(1).max(1000).default(500),
    after: number().integer().default(0),
  }),
  run: async (
    { tx, masters },
    input,
  ): Promise<Result<{ items: JournalRow[]; next: number | null; count: number; total: Minor }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const where = [sql`d.company_id = ${company.id}`, sql`d.kind = 'journal'`];
    if (input.from && isCalendarDate(input.from))
      where.push(sql`(d.date >= ${input.from} or d.date is null)`);
    if (input.to && isCalendarDate(input.to))
      where.push(sql`(d.date <= ${input.to} or d.date is null)`);
    if (input.status !== "all") where.push(sql`${STANDING} = ${input.status}`);
    if (input.type) where.push(sql`d.type = ${input.type}`);
    if (input.preparer) where.push(sql`p.login = ${input.preparer}`);
    if (input.text?.trim())
      where.push(
        sql`d.search like ${`%${input.text
          .trim()
          .toLowerCase()
          .replace(/[%_\\]/g, "\\$&")}%`}`,
      );
    for (const [field, sign] of [
      ["amountFrom", sql`>=`],
      ["amountTo", sql`<=`],
    ] as const) {
      if (!input[field]?.trim()) continue;
      const reading = readAmount(input[field], company.currency);
      if (!reading.ok) return fail({ code: "AMOUNT_NOT_NUMBER", text: input[field], field });
      where.push(sql`d.amount ${sign} ${reading.amount}`);
    }
    if (input.account?.trim()) {
      const accounts = readAccounts(input.account, masters);
      if (!accounts)
        return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
      where.push(sql`(exists (select 1 from journal_line l
        where l.journal_id = d.id
        and l.account_id = any(${arrayOf(accounts.map((a) => a.id))}::int[]))
        or exists (select 1 from journal_draft x, jsonb_array_elements(x.content->'lines') e
          where x.document_id = d.id
          and e->>'account' = any(${arrayOf(accounts.map((a) => a.number))}::text[])))`);
    }
    const condition = sql.join(where, sql` and `);
    const [sums] = await rows<{ count: number; total: bigint }>(
      tx,
      sql`select count(*)::int as count, coalesce(sum(d.amount)
        filter (where d.status in ('posted', 'reversed')), 0)::bigint as total from document d
        join person p on p.id = d.created_by where ${condition}`,
    );
    const found = await rows<{
      id: bigint;
      number: string | null;
      date: string | null;
      type: string;
      title: string;
      amount: bigint | null;
      currency: string | null;
      status: string;
      preparedBy: string;
      postedAt: string | null;
      origin: string | null;
    }>(
      tx,
      sql`select d.id, d.number, d.date, d.type, d.title, d.amount, d.currency,
        ${STANDING} as status, p.name as "preparedBy", j.posted_at as "postedAt",
            coalesce((select o.number from document o where o.id = j.origin_id),
              (select 'reverses ' || r.number from journal r where r.id = j.reverses_id),
              (select b.title from document_link l join document b on b.id = l.from_id
                where l.to_id = d.id and l.kind = 'batch' limit 1), (select b.title
                from journal_draft x join document b on b.id = x.batch_id
                where x.document_id = d.id)) as origin
          from document d join person p on p.id = d.created_by left join journal j on j.id = d.id
            where ${condition} order by (d.status in ('draft', 'waiting')) desc,
            d.date desc nulls first, d.id desc limit ${input.limit + 1} offset ${input.after}`,
    );
    const items = found.slice(0, input.limit).map((f): JournalRow => ({
      id: Number(f.id),
      number: f.number,
      date: f.date,
      type: masters.typeByCode.get(f.type)?.name ?? f.type,
      description: f.title,
      amount: minor(f.amount ?? 0n),
      currency: f.currency ?? company.currency,
      status: f.status,
      preparedBy: f.preparedBy,
      postedAt: f.postedAt,
      origin: f.origin ?? "",
    }));
    return ok({
      items,
      next: found.length > input.limit ? input.after + input.limit : null,
      count: sums!.count,
      total: minor(sums!.total),
    });
  },
});

/** The people who have prepared journals of a company. */
export const preparers = defineUseCase({
  name: "preparers",
  kind: "read",
  rights: READERS,
  what: "see journals",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<{ login: string; name: string }[]>> =>
    ok(
      await rows<{ login: string; name: string }>(
        tx,
        sql`select p.login, p.name from person p where exists (select 1 from document d
          where d.kind = 'journal'
          and d.company_id = ${masters.companyByCode.get(input.company)?.id ?? 0}
          and d.created_by = p.id) order by p.name`,
      ),
    ),
});

export const reverseJournal = defineUseCase({
  name: "reverseJournal",
  kind: "write",
  rights: [
    "reverse.ledger",
    "reverse.payables",
    "reverse.receivables",
    "reverse.banks",
    "reverse.assets",
  ],
  what: "reverse journals",
  of: "checked",
  schema: object({ key: string().required().max(40), date: string().nullable().default(null) }),
  run: async (context, input): Promise<Result<{ id: number; number: string; date: string }>> => {
    const { tx, masters, may } = context;
    const row = await readPosted(tx, byKey(input.key, { id: sql`j.id`, number: sql`j.number` }));
    if (!row) return journalNotFound(input.key);
    const type = masters.typeByCode.get(row.type)!;
    const area = type.area === "stock" ? "ledger" : type.area;
    if (!may(`reverse.${area}`, row.company))
      return fail({
        code: "FORBIDDEN",
        what: `reverse ${type.name.toLowerCase()} journals of ${row.companyName}`,
      });
    if (row.reversedByNumber) return fail({ code: "ALREADY_REVERSED", by: row.reversedByNumber });
    if (row.reversesId) return fail({ code: "REVERSAL_NOT_REVERSED", number: row.number });
    if (row.originId) return fail({ code: "REVERSE_BY_RUN", run: row.originNumber ?? "a run" });
    // Journals of several companies were posted together and go together.
    const linked = (await linkedJournals(tx, [row.id])).get(Number(row.id))!;
    for (const l of linked)
      if (!may(`reverse.${area}`, l.company))
        return fail({
          code: "FORBIDDEN",
          what: `reverse journals of ${masters.companyByCode.get(l.company)!.name}, which belong to this one`,
        });
    if (input.date !== null && !isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date !== null && input.date < row.date)
      return fail({
        code: "INVALID",
        what: "A reversal lies on or after the day of what it reverses",
        field: "date",
      });
    const result = await reverseJournals(context, [Number(row.id)], input.date);
    return result.ok ? ok(result.value[0]!) : result;
  },
});

/**
 * Reverses journals with those that were posted together with them, all or none: each on the date
 * given, else on its own while that is open, else on the first open day after it.
 */
export async function reverseJournals(
  context: Context,
  ids: readonly number[],
  date: string | null,
): Promise<Result<{ id: number; number: string; date: string }[]>> {
  const { tx, masters } = context;
  const linked = await linkedJournals(tx, ids);
  const groups = ids.map((id) => [id, ...linked.get(id)!.map((l) => l.id)]);
  const all = groups.flat();
  const companies = await rows<{ code: string; id: number }>(
    tx,
    sql`select distinct c.code, c.id from journal j join company c on c.id = j.company_id
      where j.id = any(${arrayOf(all)}::bigint[])`,
  );
  await lockChains(
    tx,
    companies.map((c) => c.code),
  );
  const plans = await reversalPlans(context, all);
  const drafts: JournalDraft[] = [];
  for (const id of all) {
    const { posted, when: own } = plans.get(id)!;
    const when = date !== null ? { date } : own;
    if (!when) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: posted.date });
    drafts.push(
      reversalOf(posted, when.date, when.period, masters.typeById.get(posted.typeId)!.reversal),
    );
  }
  const result = await postDrafts(context, drafts);
  if (!result.ok) return result;
  let at = 0;
  const first: { id: number; number: string; date: string }[] = [];
  for (const group of groups) {
    first.push({
      id: result.value[at]!.id,
      number: result.value[at]!.number,
      date: drafts[at]!.date,
    });
    await linkJournals(
      tx,
      result.value.slice(at, at + group.length).map((p) => p.id),
    );
    at += group.length;
  }
  return ok(first);
}

export interface PlannedReversal {
  posted: Awaited<ReturnType<typeof readForReversal>>[number];
  /** Null where no open day is left for it. */
  when: { date: string; period?: string } | null;
}

/**
 * On which day each of these journals is undone by itself: its own while that is open in all
 * companies that it was posted with, else the first day after it that is. A closing entry stays in
 * the period that it closes.
 */
export async function reversalPlans(
  { tx, masters }: Context,
  ids: readonly number[],
): Promise<Map<number, PlannedReversal>> {
  const linked = await linkedJournals(tx, ids);
  const everything = [...new Set([...ids, ...[...linked.values()].flat().map((l) => l.id)])];
  const companies = await rows<{ id: number }>(
    tx,
    sql`select distinct company_id as id from journal
      where id = any(${arrayOf(everything)}::bigint[])`,
  );
  const periods = await loadPeriods(
    tx,
    companies.map((c) => c.id),
    { areas: ["ledger"] },
  );
  const found = new Map(
    (await readForReversal(tx, everything, masters, periods)).map((j) => [j.id, j]),
  );
  return new Map(
    ids.map((id) => {
      const posted = found.get(id)!;
      const group = [id, ...linked.get(id)!.map((l) => l.id)].map((i) => found.get(i)!);
      const when = posted.closing
        ? { date: posted.date, period: periodKey(posted.period) }
        : reversalDateTogether(
            group.map((j) => ({
              date: j.date,
              period: j.period,
              periods: periods.filter(
                (p) => p.companyId === masters.companyByCode.get(j.company)!.id,
              ),
              bookIds: j.bookId === 0 ? masters.books.map((b) => b.id) : [j.bookId],
            })),
          );
      return [id, { posted, when }];
    }),
  );
}

/** The day on which the reversal of a journal would lie by itself; null where there is none. */
export const dayOfReversal = async (context: Context, id: number): Promise<string | null> =>
  (await reversalPlans(context, [id])).get(id)?.when?.date ?? null;

/** The load that brought a journal; null where none did. */
async function loadOf(tx: Db, document: number): Promise<{ id: number; source: string } | null> {
  const [found] = await rows<{ id: number; source: string }>(
    tx,
    sql`select l.id, l.source from loaded_journal j join journal_load l on l.id = j.load_id
      where j.document_id = ${document}`,
  );
  return found ?? null;
}

export interface LinkedJournal {
  id: number;
  number: string;
  company: string;
}

/** The journals of other companies that were posted with each of these. */
export async function linkedJournals(
  tx: Db,
  ids: readonly (bigint | number)[],
): Promise<ReadonlyMap<number, LinkedJournal[]>> {
  const lists = new Map<number, LinkedJournal[]>(ids.map((id) => [Number(id), []]));
  const found = await rows<{ of: bigint; id: bigint; number: string; company: string }>(
    tx,
    sql`with given as (select x.id, coalesce((select l.from_id from document_link l
      where l.kind = 'together' and l.to_id = x.id), x.id) as leader
      from unnest(${arrayOf(ids)}::bigint[]) as x(id))
        select g.id as of, d.id, d.number, c.code as company from given g
          join lateral (select g.leader as id union select l.to_id from document_link l
            where l.kind = 'together' and l.from_id = g.leader) m on m.id <> g.id
          join document d on d.id = m.id join company c on c.id = d.company_id order by d.id`,
  );
  for (const f of found)
    lists.get(Number(f.of))!.push({ id: Number(f.id), number: f.number, company: f.company });
  return lists;
}

/** Remembers that journals of several companies were posted together, the first one leading. */
export async function linkJournals(tx: Db, ids: readonly number[]): Promise<void> {
  const [first, ...others] = ids;
  if (others.length > 0)
    await tx.execute(
      sql`insert into document_link (from_id, to_id, kind) select ${first!}, x.id, 'together'
        from unnest(${arrayOf(others)}::bigint[]) as x(id)`,
    );
}
