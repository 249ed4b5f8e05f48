import { setStatus } from "../documents";
import { sql } from "drizzle-orm";
import { againstUse, bankAddressKey, type BankAddress } from "@/core/banks";
import { namesAlike } from "@/core/partners";
import { number, object } from "yup";
import { creditTransferFile } from "@/core/banks/creditTransferFile";
import { fail, minor, ok, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "../access";
import { readBankAccount } from "./bankAccounts";
import { fileMadeAt, keepBankFile } from "./keepBankFile";
import { readBankPaper } from "./papers";
import { readCompanies } from "../organisation";
import { TO, type PaymentFacts, type RawRow, COLUMNS, toRow } from "./payments";

/**
 * Makes the file of a posted run's transfers that have not gone out, and notes that they have. The
 * file is kept as it was made.
 */
export const makePaymentFile = defineUseCase({
  name: "makePaymentFile",
  kind: "write",
  rights: ["post.payables", "post.banks"],
  what: "make payment files",
  of: "checked",
  schema: object({ run: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number; name: string; payments: number }>> => {
    const { tx, masters } = context;
    const [run] = await rows<{
      number: string;
      kind: string;
      company: string;
      status: string;
      bank: string;
    }>(
      tx,
      sql`select d.number, r.kind, c.code as company, d.status, r.params->>'bank' as bank from run r
        join document d on d.id = r.id join company c on c.id = r.company_id
        where r.id = ${input.run} and r.kind in ('payment', 'transfer') for update of r`,
    );
    if (!run) return fail({ code: "NOT_FOUND", what: "such payment run" });
    if (!context.may(run.kind === "transfer" ? "post.banks" : "post.payables", run.company))
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
      purpose: string;
    }>(
      tx,
      sql`select d.id, d.number, d.amount, d.currency, p.payee as name, coalesce(s.street,
        '') as street, coalesce(s.postcode, '') as postcode, coalesce(s.city, '') as city,
        coalesce(s.country, '') as country, coalesce(s.lei, '') as lei, ${TO("p")} as "to", d.date,
            coalesce((select jsonb_agg(case when i.kind = 'credit note'
              then i.reference || ' (credit note)' else i.reference end order by i.id)
              from payment_item t join open_item i on i.id = t.item_id
              where t.payment_id = d.id), case when p.text = '' then '[]'
              else jsonb_build_array(p.text) end) as "references",
            p.holder, p.purpose
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
    // Not from where nobody else has looked yet: closed or not, what is posted goes out.
    if (from.waits === "opening" || from.waits === "change")
      return fail({ code: "INVALID", what: againstUse(from, transfers[0]!.date)! });
    const [payer] = await readCompanies(tx, from.company);
    const { id, name } = await keepBankFile(
      context,
      { id: input.run, number: run.number },
      (messageId) =>
        creditTransferFile({
          messageId,
          createdAt: fileMadeAt(context),
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
            purpose: t.purpose,
            references: t.references,
          })),
        }),
    );
    const ids = arrayOf(transfers.map((t) => t.id));
    await tx.execute(
      sql`update payment set file_id = ${id} where document_id = any(${ids}::bigint[])`,
    );
    await setStatus(
      tx,
      transfers.map((t) => Number(t.id)),
      "sent",
    );
    await context.audit({
      action: "file made",
      kind: "run",
      recordId: input.run,
      label: run.number,
      companyId: masters.companyByCode.get(run.company)!.id,
      after: { file: name, payments: transfers.length },
    });
    return ok({ id, name, payments: transfers.length });
  },
});

/** A file of payments or of direct debits as it was made. */
export const getPaymentFile = defineUseCase({
  name: "getPaymentFile",
  kind: "read",
  rights: ["read.payables", "read.receivables", "read.banks"],
  what: "see payment files",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: string }>> => {
    const [file] = await rows<{ name: string; content: string; company: string; kind: string }>(
      context.tx,
      sql`select f.name, f.content, c.code as company, r.kind from payment_file f
        join run r on r.id = f.run_id join company c on c.id = r.company_id
        where f.id = ${input.id}`,
    );
    if (!file) return fail({ code: "NOT_FOUND", what: "such payment file" });
    const right = file.kind === "direct-debit" ? "read.receivables" : "read.payables";
    return context.may(right, file.company) || context.may("read.banks", file.company)
      ? ok(file)
      : fail({ code: "FORBIDDEN", what: `see payment files of ${file.company}` });
  },
});

export interface RunPapers {
  /**
   * Each with the first of the items that it settles, by which it is known among those that were
   * planned; null where it settles none.
   */
  payments: (PaymentFacts & { firstItem: number | null })[];
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
  bank: {
    code: string;
    lastCheque: number;
    /** Whether numbers of cheques are read off the paper, or go on by themselves. */
    numbers: "free" | "series";
  };
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
      bankId: number;
      lastCheque: bigint;
    }>(
      tx,
      sql`select c.code as company, b.code, b.id as "bankId", b.last_cheque as "lastCheque"
        from run r join company c on c.id = r.company_id
        join bank_account b on b.code = r.params->>'bank'
        where r.id = ${input.run} and r.kind in ('payment', 'single-payment', 'transfer')`,
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
    const { layout } = await readBankPaper(tx, { id: run.bankId, code: run.code }, "cheque");
    return ok({
      payments: payments.map(toRow).map((p) => ({ ...p, firstItem: first.get(p.id) ?? null })),
      files: files.map((f) => ({ ...f, id: Number(f.id) })),
      advices: advices!.n,
      bank: {
        code: run.code,
        lastCheque: Number(run.lastCheque),
        numbers: layout.numbers,
      },
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
