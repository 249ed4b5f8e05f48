import { sql } from "drizzle-orm";
import { bankAddressKey, type BankAddress } from "@/core/banks";
import { namesAlike } from "@/core/partners";
import { number, object, string } from "yup";
import { creditTransferFile } from "@/core/payables/creditTransferFile";
import {
  fail,
  isCalendarDate,
  minor,
  ok,
  type CalendarDate,
  type Minor,
  type Result,
  dayField,
} from "@/core/shared";
import { arrayOf, rows, likeText } from "../db";
import { companiesOf, defineUseCase, type Context, lockChains } from "../access";
import { readBankAccount } from "../banks";
import { readCompanies } from "../organisation";
import { dayOfReversal, reverseJournals } from "../ledger";
import { releaseItems } from "../openItems";
import { chequeToReview, undonePayments } from "./undoPayments";

export interface PaymentRow {
  id: number;
  number: string;
  status: string;
  date: CalendarDate;
  partner: string;
  payee: string;
  method: string;
  bank: string;
  currency: string;
  amount: Minor;
  discount: Minor;
  cheque: number | null;
  run: { id: number; number: string } | null;
  /** How many there are in all: the list holds the newest of them. */
  of: number;
}

/** The account that a payment went to, as it was posted. */
const TO = (table: string) =>
  sql.raw(
    `jsonb_build_object('iban', ${table}.iban, 'bic', ${table}.bic, 'number',
      ${table}.account_number, 'routing', ${table}.routing, 'country', ${table}.bank_country)`,
  );

const COLUMNS = sql`count(*) over ()::int as "of", d.id, d.number, d.status, d.date, p.partner, p.payee, p.method, b.code as bank,
  d.currency, d.amount, p.discount, (select c.number from cheque c
  where c.payment_id = d.id and c.state <> 'voided' order by c.id desc limit 1) as cheque,
  (select jsonb_build_object('id', r.id, 'number', r.number) from document r
    where r.id = p.run_id) as run from payment p join document d on d.id = p.document_id
    join bank_account b on b.id = p.bank_account_id`;
type RawRow = Omit<PaymentRow, "id" | "amount" | "discount" | "cheque"> & {
  id: bigint;
  amount: bigint;
  discount: bigint;
  cheque: bigint | null;
};
const toRow = (r: RawRow): PaymentRow => ({
  ...r,
  id: Number(r.id),
  amount: minor(r.amount),
  discount: minor(r.discount),
  cheque: r.cheque === null ? null : Number(r.cheque),
});

/** The register of payments. */
export const listPayments = defineUseCase({
  name: "listPayments",
  kind: "read",
  rights: ["read.payables", "read.banks"],
  what: "see payments",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: dayField(),
    to: dayField(),
    text: string().trim().default("").max(100),
    status: string().default("all"),
    limit: number().integer().min(1).max(5000).default(2000),
  }),
  run: async ({ tx, masters }, input): Promise<Result<PaymentRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<RawRow>(
      tx,
      sql`select ${COLUMNS}
        where d.company_id = ${company.id} ${input.from ? sql`and d.date >= ${input.from}` : sql``}
        ${input.to ? sql`and d.date <= ${input.to}` : sql``}
        ${input.status === "all" ? sql`` : sql`and d.status = ${input.status}`}
            ${
              input.text === ""
                ? sql``
                : sql`and (d.search like ${`%${likeText(input.text.toLowerCase())}%`}
              or p.partner ilike ${`%${likeText(input.text)}%`} or exists (select 1 from cheque c
              where c.payment_id = d.id and c.number::text = ${input.text}))`
            }
          order by d.date desc, d.id desc limit ${input.limit}`,
    );
    return ok(found.map(toRow));
  },
});

export interface PaymentView extends PaymentRow {
  company: string;
  to: BankAddress;
  holder: string;
  reason: string;
  file: { id: number; name: string } | null;
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
}

async function readPayment(
  context: Context,
  id: number,
  lock = false,
): Promise<
  Result<
    RawRow & {
      company: string;
      companyId: number;
      journalId: bigint;
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
      runId: bigint | null;
      to: BankAddress;
      holder: string;
      reason: string;
      fileId: bigint | null;
    }
  >(
    context.tx,
    sql`select x.*, k.code as company, k.id as "companyId", q.journal_id as "journalId",
      q.run_id as "runId", ${TO("q")} as "to", q.holder, q.reason, q.file_id as "fileId" from (select ${COLUMNS}
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
    const { companyId: _c, journalId: _j, runId: _r, fileId, ...row } = found.value;
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
    return ok({
      ...row,
      ...toRow(row),
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
      mayUndo: context.may("reverse.payables", row.company),
    });
  },
});

/**
 * How a payment can be undone, by what has become of it: one that has gone to the bank only by what
 * the bank says.
 */
export const UNDOING = {
  reversed: ["posted"],
  rejected: ["sent"],
  recalled: ["sent"],
  cancelled: ["posted"],
} as const;

/** Undoes one payment: what it settled is open again and its journals are reversed. */
export async function undoPayment(
  context: Context,
  id: number,
  how: keyof typeof UNDOING,
  reason: string,
  date: string | null,
): Promise<Result<{ id: number; journal: string; date: string }>> {
  const { tx, masters } = context;
  const found = await readPayment(context, id, true);
  if (!found.ok) return found;
  const payment = found.value;
  if (!context.may("reverse.payables", payment.company))
    return fail({ code: "FORBIDDEN", what: `undo payments of ${payment.company}` });
  if (payment.status === "cleared")
    return fail({ code: "IN_USE", what: `${payment.number} is on a bank statement` });
  if (!(UNDOING[how] as readonly string[]).includes(payment.status))
    return fail({
      code: "IN_USE",
      what:
        payment.status === "sent"
          ? `${payment.number} has gone to the bank: it can only be undone by saying that it was rejected or recalled`
          : `${payment.number} is ${payment.status}, so it cannot be ${how}`,
    });
  const cheque = how === "reversed" ? await chequeToReview(context, [id]) : null;
  if (cheque) return fail({ code: "IN_USE", what: cheque });
  if (reason.trim().length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
  if (date !== null && (!isCalendarDate(date) || date < payment.date))
    return fail(
      isCalendarDate(date)
        ? { code: "INVALID", what: "It lies on or after the day of the payment", field: "date" }
        : { code: "DATE_INVALID", text: date, field: "date" },
    );
  await lockChains(tx, [payment.company]);
  // Where the day of the payment is closed, its reversal lies later, and so does the day on which
  // the items are open again.
  const day = date ?? (await dayOfReversal(context, Number(payment.journalId)));
  if (day === null) return fail({ code: "NO_OPEN_PERIOD_AFTER", date: payment.date });
  await releaseItems(context, [{ id: Number(payment.journalId), date: day }]);
  const reversed = await reverseJournals(context, [Number(payment.journalId)], day);
  if (!reversed.ok) return reversed;
  await undonePayments(context, [id], how, reason.trim());
  await context.audit({
    action: how,
    kind: "payment",
    recordId: id,
    label: payment.number,
    companyId: masters.companyByCode.get(payment.company)!.id,
    after: { reason, journal: reversed.value[0]!.number },
  });
  return ok({ id, journal: reversed.value[0]!.number, date: day });
}

const undoSchema = object({
  id: number().integer().required(),
  reason: string().default("").max(300),
  date: string().nullable().default(null),
});
const UNDO = {
  kind: "write",
  rights: ["reverse.payables"],
  what: "undo payments",
  of: "checked",
  locks: ({ tx }: Context, input: { id: number }) => companiesOf(tx, [input.id]),
  schema: undoSchema,
} as const;

/** Takes back a payment that has not gone to the bank. */
export const reversePayment = defineUseCase({
  name: "reversePayment",
  ...UNDO,
  run: (context, input) => undoPayment(context, input.id, "reversed", input.reason, input.date),
});
/** The bank has refused a payment that was sent. */
export const rejectPayment = defineUseCase({
  name: "rejectPayment",
  ...UNDO,
  run: (context, input) =>
    undoPayment(context, input.id, "rejected", input.reason, input.date ?? context.today),
});
/** The bank has called a payment back that was sent. */
export const recallPayment = defineUseCase({
  name: "recallPayment",
  ...UNDO,
  run: (context, input) =>
    undoPayment(context, input.id, "recalled", input.reason, input.date ?? context.today),
});

/**
 * Makes the file of a posted run's transfers that have not gone out, and notes that they have. The
 * file is kept as it was made.
 */
export const makePaymentFile = defineUseCase({
  name: "makePaymentFile",
  kind: "write",
  rights: ["post.payables"],
  what: "make payment files",
  of: "checked",
  schema: object({ run: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number; name: string; payments: number }>> => {
    const { tx, person, now, masters } = context;
    const [run] = await rows<{ number: string; company: string; status: string; bank: string }>(
      tx,
      sql`select d.number, c.code as company, d.status, r.params->>'bank' as bank from run r
        join document d on d.id = r.id join company c on c.id = r.company_id
        where r.id = ${input.run} and r.kind = 'payment' for update of r`,
    );
    if (!run) return fail({ code: "NOT_FOUND", what: "such payment run" });
    if (!context.may("post.payables", run.company))
      return fail({ code: "FORBIDDEN", what: `make payment files of ${run.company}` });
    if (run.status !== "posted") return fail({ code: "RUN_STATE", state: run.status });
    const transfers = await rows<{
      id: bigint;
      number: string;
      amount: bigint;
      currency: string;
      name: string;
      street: string;
      postcode: string;
      city: string;
      country: string;
      lei: string;
      to: BankAddress;
      references: string[];
      holder: string;
      date: string;
    }>(
      tx,
      sql`select d.id, d.number, d.amount, d.currency, p.payee as name, coalesce(s.street,
        '') as street, coalesce(s.postcode, '') as postcode, coalesce(s.city, '') as city,
        coalesce(s.country, '') as country, coalesce(s.lei, '') as lei, ${TO("p")} as "to", d.date,
            coalesce((select jsonb_agg(case when i.kind = 'credit note'
              then i.reference || ' (credit note)' else i.reference end order by i.id)
              from payment_item t join open_item i on i.id = t.item_id
              where t.payment_id = d.id), '[]') as "references",
            p.holder
          from payment p join document d on d.id = p.document_id left
            join partner s on s.code = p.partner
            where p.run_id = ${input.run} and p.method = 'transfer' and d.status = 'posted'
            order by d.id`,
    );
    if (transfers.length === 0)
      return fail({
        code: "IN_USE",
        what: "No transfer of this run waits to be sent; what was sent is kept with its file",
      });
    const from = await readBankAccount(tx, { code: run.bank });
    if (!from || bankAddressKey(from) === "")
      return fail({
        code: "INVALID",
        what: `Bank account ${run.bank} has neither an IBAN nor a number; a file needs one`,
      });
    const [payer] = await readCompanies(tx, from.company);
    const [count] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from payment_file where run_id = ${input.run}`,
    );
    const messageId = `${run.number}${count!.n === 0 ? "" : `-${count!.n + 1}`}`;
    const content = creditTransferFile({
      messageId,
      // In the clock of the books, so that a file is never made after the day it pays on.
      createdAt: `${context.today}${now.toISOString().slice(10)}`,
      date: transfers[0]!.date,
      debtor: payer!,
      from,
      transfers: transfers.map((t) => ({
        endToEndId: t.number,
        amount: minor(t.amount),
        currency: t.currency,
        // What is known of the supplier holds of a holder that is somebody else in its name alone.
        creditor:
          t.holder === "" || namesAlike(t.holder, t.name)
            ? { ...t, name: t.holder || t.name }
            : { name: t.holder, street: "", postcode: "", city: "", country: "" },
        ...(t.holder === "" || namesAlike(t.holder, t.name) ? {} : { owed: t.name }),
        to: t.to,
        purpose: "SUPP",
        references: t.references,
      })),
    });
    const name = `${messageId}.xml`;
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into payment_file (run_id, message_id, name, content, made_by, made_at)
        values (${input.run}, ${messageId}, ${name}, ${content}, ${person.id}, ${now.toISOString()})
        returning id`,
    );
    const ids = arrayOf(transfers.map((t) => t.id));
    await tx.execute(
      sql`update payment set file_id = ${made!.id} where document_id = any(${ids}::bigint[])`,
    );
    await tx.execute(sql`update document set status = 'sent' where id = any(${ids}::bigint[])`);
    await context.audit({
      action: "file made",
      kind: "run",
      recordId: input.run,
      label: run.number,
      companyId: masters.companyByCode.get(run.company)!.id,
      after: { file: name, payments: transfers.length },
    });
    return ok({ id: Number(made!.id), name, payments: transfers.length });
  },
});

/** A payment file as it was made. */
export const getPaymentFile = defineUseCase({
  name: "getPaymentFile",
  kind: "read",
  rights: ["read.payables", "read.banks"],
  what: "see payment files",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: string }>> => {
    const [file] = await rows<{ name: string; content: string; company: string }>(
      context.tx,
      sql`select f.name, f.content, c.code as company from payment_file f
        join run r on r.id = f.run_id join company c on c.id = r.company_id
        where f.id = ${input.id}`,
    );
    if (!file) return fail({ code: "NOT_FOUND", what: "such payment file" });
    return context.may("read.payables", file.company) || context.may("read.banks", file.company)
      ? ok(file)
      : fail({ code: "FORBIDDEN", what: `see payment files of ${file.company}` });
  },
});

export interface RunPapers {
  /**
   * Each with the first of the items that it settles, by which it is known among those that were
   * planned; null where it settles none.
   */
  payments: (PaymentRow & { firstItem: number | null })[];
  files: { id: number; name: string; at: string; by: string }[];
  cheques: {
    id: number;
    number: number;
    key: string;
    payee: string;
    amount: Minor;
    currency: string;
    state: string;
    reason: string;
    prints: number;
    paymentId: number | null;
  }[];
  advices: number;
  bank: { code: string; lastCheque: number; cancelling: string };
}

/** What came of a payment run: its payments, files, cheques and advices. */
export const paymentsOfRun = defineUseCase({
  name: "paymentsOfRun",
  kind: "read",
  rights: ["read.payables", "read.banks"],
  what: "see payments",
  of: "checked",
  schema: object({ run: number().integer().required() }),
  run: async (context, input): Promise<Result<RunPapers>> => {
    const { tx } = context;
    const [run] = await rows<{
      company: string;
      code: string;
      lastCheque: bigint;
      cancelling: string;
    }>(
      tx,
      sql`select c.code as company, b.code, b.last_cheque as "lastCheque",
        b.cheque_cancelling as cancelling from run r join company c on c.id = r.company_id
        join bank_account b on b.code = r.params->>'bank'
        where r.id = ${input.run} and r.kind in ('payment', 'single-payment')`,
    );
    if (!run) return fail({ code: "NOT_FOUND", what: "such payment run" });
    if (!context.may("read.payables", run.company) && !context.may("read.banks", run.company))
      return fail({ code: "FORBIDDEN", what: `see payments of ${run.company}` });
    const payments = await rows<RawRow>(
      tx,
      sql`select ${COLUMNS} where p.run_id = ${input.run} order by d.id`,
    );
    const first = new Map(
      (
        await rows<{ payment: bigint; item: bigint }>(
          tx,
          sql`select t.payment_id as payment, min(t.item_id) as item from payment_item t
            join payment p on p.document_id = t.payment_id where p.run_id = ${input.run}
            group by 1`,
        )
      ).map((f) => [Number(f.payment), Number(f.item)]),
    );
    const files = await rows<{ id: bigint; name: string; at: string; by: string }>(
      tx,
      sql`select f.id, f.name, f.made_at as at, p.name as by from payment_file f
        join person p on p.id = f.made_by where f.run_id = ${input.run} order by f.id`,
    );
    const cheques = await rows<{
      id: bigint;
      number: bigint;
      key: string;
      payee: string;
      amount: bigint;
      currency: string;
      state: string;
      reason: string;
      prints: number;
      paymentId: bigint | null;
    }>(
      tx,
      sql`select id, number, payment_key as key, payee, amount, currency, state, reason, prints,
        payment_id as "paymentId" from cheque where run_id = ${input.run} order by number`,
    );
    const [advices] = await rows<{ n: number }>(
      tx,
      sql`select count(*)::int as n from outbox o join payment p on p.document_id = o.document_id
        where p.run_id = ${input.run}`,
    );
    return ok({
      payments: payments.map(toRow).map((p) => ({ ...p, firstItem: first.get(p.id) ?? null })),
      files: files.map((f) => ({ ...f, id: Number(f.id) })),
      advices: advices!.n,
      bank: { code: run.code, lastCheque: Number(run.lastCheque), cancelling: run.cancelling },
      cheques: cheques.map((c) => ({
        ...c,
        id: Number(c.id),
        number: Number(c.number),
        amount: minor(c.amount),
        paymentId: c.paymentId === null ? null : Number(c.paymentId),
      })),
    });
  },
});
