import { sql, type SQL } from "drizzle-orm";
import { object, string } from "yup";
import {
  codingFromKey,
  dimensionsOf,
  journalInput,
  keepsItems,
  quantityText,
  type JournalInput,
  type Masters,
  type Side,
} from "@/core/ledger";
import { periodKey } from "@/core/organisation";
import { amountText, fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase } from "../access";
import { journalNotFound } from "./posting";
import { type LinkedJournal, linkedJournals } from "./linkedJournals";

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
  /** The line of a bank's statement that it was posted for, or that it is ticked on. */
  bankLine: { id: number; bank: string; statement: string } | null;
  /** Whether it stands in a chain of documents: what it is owed for, or what has paid that. */
  hasChain: boolean;
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

export const READERS = ["read.ledger", "prepare.ledger"] as const;

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
  bankLine: { id: number; bank: string; statement: string } | null;
  hasChain: boolean;
}

export async function readPosted(tx: Db, where: SQL): Promise<PostedRow | undefined> {
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
              o.kind as "originKind", (select jsonb_build_object('id', l.id, 'bank', b.code,
                'statement', s.number) from statement_line l
                join bank_statement s on s.id = l.statement_id
                join bank_account b on b.id = l.bank_account_id
                where l.journal_id = j.id limit 1) as "bankLine",
              exists (select 1 from document_link l where l.kind in ('paid', 'cleared')
                and (l.from_id = j.id or l.to_id = j.id)) as "hasChain"
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
export async function readLines(
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

const keySchema = object({ key: string().required().max(40) });

/** A journal is asked for by its register id or by its number. */
export const byKey = (key: string, column: { id: SQL; number: SQL }): SQL =>
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
        bankLine: row.bankLine,
        hasChain: row.hasChain,
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
        b.content->>'period') from batch b join document bd on bd.id = b.document_id
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

/** The load that brought a journal; null where none did. */
async function loadOf(tx: Db, document: number): Promise<{ id: number; source: string } | null> {
  const [found] = await rows<{ id: number; source: string }>(
    tx,
    sql`select l.id, l.source from loaded_journal j join journal_load l on l.id = j.load_id
      where j.document_id = ${document}`,
  );
  return found ?? null;
}
