import { sql } from "drizzle-orm";
import type { Right } from "@/core/access";
import { type BankAddress, type MadeBy } from "@/core/banks";
import { number, object } from "yup";
import { listSchema } from "@/core/lists";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { rows, likeText } from "../db";
import { documentList, queryDocuments } from "../documents";
import { column, type RowOf } from "../lists";
import { defineUseCase, type Context } from "../access";

/** A payment with what it was paid by. */
export interface PaymentFacts {
  id: number;
  number: string;
  status: string;
  date: CalendarDate;
  partner: string;
  payee: string;
  method: MadeBy;
  /** When a bill or note is to be paid. */
  dueDate: CalendarDate | null;
  bank: string;
  currency: string;
  amount: Minor;
  discount: Minor;
  cheque: number | null;
  run: { id: number; number: string } | null;
}

/** The account that a payment went to, as it was posted. */
export const TO = (table: string) =>
  sql.raw(
    `jsonb_build_object('iban', ${table}.iban, 'bic', ${table}.bic, 'number',
      ${table}.account_number, 'routing', ${table}.routing, 'country', ${table}.bank_country)`,
  );

/** The number of its cheque, where it has one that counts. */
const CHEQUE = sql`(select c.number from cheque c
  where c.payment_id = d.id and c.state <> 'voided' order by c.id desc limit 1)`;

export const COLUMNS = sql`d.id, d.number, d.status, d.date, p.partner, p.payee, p.method,
  p.due_date as "dueDate", b.code as bank,
  d.currency, d.amount, p.discount, ${CHEQUE} as cheque,
  (select jsonb_build_object('id', r.id, 'number', r.number) from document r
    where r.id = p.run_id) as run from payment p join document d on d.id = p.document_id
    join bank_account b on b.id = p.bank_account_id`;

export type RawRow = Omit<PaymentFacts, "id" | "amount" | "discount" | "cheque"> & {
  id: bigint;
  amount: bigint;
  discount: bigint;
  cheque: bigint | null;
};

export const toRow = (r: RawRow): PaymentFacts => ({
  ...r,
  id: Number(r.id),
  amount: minor(r.amount),
  discount: minor(r.discount),
  cheque: r.cheque === null ? null : Number(r.cheque),
});

const PAYMENT_LIST = documentList({
  kinds: ["payment"],
  joins: sql`join payment p on p.document_id = d.id and p.to_bank_id is null
    join bank_account b on b.id = p.bank_account_id left join document r on r.id = p.run_id`,
  columns: {
    number: column.text(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    party: column.text(sql`concat_ws(' ', p.partner, p.payee)`),
    partner: column.text(sql`p.partner`),
    payee: column.text(sql`p.payee`),
    method: column.text(sql`p.method`),
    bank: column.text(sql`b.code`),
    cheque: column.text(sql`${CHEQUE}::text`),
    run: column.text(sql`r.number`),
    currency: column.text(sql`d.currency`),
    discount: column.amount(sql`p.discount`),
    amount: column.amount(sql`d.amount`),
  },
  sums: ["discount", "amount"],
  // What left the bank, or will: not what was cancelled, rejected or reversed.
  counts: sql`d.status in ('posted', 'sent', 'cleared')`,
  alsoFound: (text) => sql`p.partner ilike ${`%${likeText(text)}%`} or ${CHEQUE}::text = ${text}`,
});
export type PaymentRow = RowOf<typeof PAYMENT_LIST.columns>;

/** The register of payments. */
export const listPayments = defineUseCase({
  name: "listPayments",
  kind: "read",
  rights: ["read.payables", "read.banks"],
  what: "see payments",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, PAYMENT_LIST, input),
});

const TRANSFER_LIST = documentList({
  kinds: ["payment"],
  joins: sql`join payment p on p.document_id = d.id join bank_account b on b.id = p.bank_account_id
    join bank_account o on o.id = p.to_bank_id join company oc on oc.id = o.company_id
    left join document r on r.id = p.run_id`,
  columns: {
    number: column.text(sql`d.number`),
    status: column.state(sql`d.status`),
    date: column.day(sql`d.date`),
    bank: column.text(sql`b.code`),
    toBank: column.text(sql`o.code`),
    to: column.text(sql`oc.name`),
    text: column.text(sql`p.text`),
    run: column.text(sql`r.number`),
    currency: column.text(sql`d.currency`),
    amount: column.amount(sql`d.amount`),
  },
  sums: ["amount"],
  counts: sql`d.status in ('posted', 'sent', 'cleared')`,
  alsoFound: (text) => sql`o.code = ${text}`,
});
export type TransferRow = RowOf<typeof TRANSFER_LIST.columns>;

/** What was moved from accounts of a company to others of our own. */
export const listTransfers = defineUseCase({
  name: "listTransfers",
  kind: "read",
  rights: ["read.banks"],
  what: "see transfers",
  company: (i) => i.company,
  schema: listSchema,
  run: (context, input) => queryDocuments(context, TRANSFER_LIST, input),
});

export interface PaymentView extends PaymentFacts {
  company: string;
  to: BankAddress;
  holder: string;
  reason: string;
  file: { id: number; name: string } | null;
  /** The account of our own that it goes to. */
  toBank: string | null;
  journals: { id: number; number: string; company: string; reverses: boolean }[];
  items: {
    id: number;
    reference: string;
    documentId: number;
    documentKind: string;
    journalId: number;
    taken: Minor;
    discount: Minor;
  }[];
  advice: { id: number; to: string; at: string } | null;
  mayUndo: boolean;
  chequeState: string | null;
  /** What somebody has asked a second person to do with it. */
  request: PaymentRequest | null;
}

interface PaymentRequest {
  how: "reversed" | "rejected" | "recalled";
  reason: string;
  date: CalendarDate | null;
  by: string;
  login: string;
}

/** What undoing a payment takes: transfers between own accounts are treasury's. */
export const rightToUndo = (toBank: string | null): Right =>
  toBank === null ? "reverse.payables" : "reverse.banks";

export async function readPayment(
  context: Context,
  id: number,
  lock = false,
): Promise<
  Result<
    RawRow & {
      company: string;
      companyId: number;
      journalId: bigint;
      /** The account of our own that it goes to. */
      toBank: string | null;
      runId: bigint | null;
      to: BankAddress;
      holder: string;
      reason: string;
      fileId: bigint | null;
    }
  >
> {
  const [row] = await rows<
    RawRow & {
      company: string;
      companyId: number;
      journalId: bigint;
      toBank: string | null;
      runId: bigint | null;
      to: BankAddress;
      holder: string;
      reason: string;
      fileId: bigint | null;
    }
  >(
    context.tx,
    sql`select x.*, k.code as company, k.id as "companyId", q.journal_id as "journalId",
      (select o.code from bank_account o where o.id = q.to_bank_id) as "toBank", q.run_id as "runId", ${TO("q")} as "to", q.holder, q.reason, q.file_id as "fileId" from (select ${COLUMNS}
      where d.id = ${id}) x join payment q on q.document_id = x.id join document e on e.id = x.id
      join company k on k.id = e.company_id ${lock ? sql`for update of q` : sql``}`,
  );
  return row ? ok(row) : fail({ code: "NOT_FOUND", what: "such payment" });
}

export const getPayment = defineUseCase({
  name: "getPayment",
  kind: "read",
  rights: ["read.payables", "read.banks", "read.ledger"],
  what: "see payments",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<PaymentView>> => {
    const found = await readPayment(context, input.id);
    if (!found.ok) return found;
    const { companyId: _c, journalId: _j, runId: _r, fileId, toBank, ...row } = found.value;
    if (
      !(["read.payables", "read.banks", "read.ledger"] as const).some((r) =>
        context.may(r, row.company),
      )
    )
      return fail({ code: "FORBIDDEN", what: `see payments of ${row.company}` });
    const { tx } = context;
    const journals = await rows<{ id: bigint; number: string; company: string; reverses: boolean }>(
      tx,
      sql`select j.id, j.number, c.code as company, j.reverses_id is not null as reverses
        from journal j join company c on c.id = j.company_id where j.id in (select to_id
        from document_link where from_id = ${input.id} and kind = 'made')
        or j.reverses_id in (select to_id from document_link
        where from_id = ${input.id} and kind = 'made') order by j.id`,
    );
    const items = await rows<{
      id: bigint;
      reference: string;
      documentId: bigint;
      documentKind: string;
      journalId: bigint;
      taken: bigint;
      discount: bigint;
    }>(
      tx,
      sql`select i.id, i.reference, i.document_id as "documentId", d.kind as "documentKind",
        i.journal_id as "journalId", t.taken, t.discount from payment_item t
        join open_item i on i.id = t.item_id join document d on d.id = i.document_id
        where t.payment_id = ${input.id} order by i.due_date, i.id`,
    );
    const [file] =
      fileId === null
        ? []
        : await rows<{ id: bigint; name: string }>(
            tx,
            sql`select id, name from payment_file where id = ${fileId}`,
          );
    const [advice] = await rows<{ id: bigint; to: string; at: string }>(
      tx,
      sql`select id, "to", sent_at as at from outbox where document_id = ${input.id}
        order by id desc limit 1`,
    );
    const [paper] = await rows<{ state: string }>(
      tx,
      sql`select state from cheque where payment_id = ${input.id} and state <> 'voided'
        order by id desc limit 1`,
    );
    const [request] = await rows<PaymentRequest>(
      tx,
      sql`select q.how, q.reason, q.date, w.name as by, w.login from payment_request q
        join person w on w.id = q.asked_by where q.document_id = ${input.id}`,
    );
    return ok({
      ...row,
      ...toRow(row),
      request: request ?? null,
      file: file ? { id: Number(file.id), name: file.name } : null,
      journals: journals.map((j) => ({ ...j, id: Number(j.id) })),
      advice: advice ? { ...advice, id: Number(advice.id) } : null,
      chequeState: paper?.state ?? null,
      items: items.map((i) => ({
        ...i,
        id: Number(i.id),
        documentId: Number(i.documentId),
        journalId: Number(i.journalId),
        taken: minor(i.taken),
        discount: minor(i.discount),
      })),
      toBank,
      mayUndo: context.may(rightToUndo(toBank), row.company),
    });
  },
});
