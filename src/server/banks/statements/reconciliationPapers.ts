import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { dateText, fail, isCalendarDate, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows, type Db } from "../../db";
import { giveNumber, register } from "../../documents";
import { reconciledUntil } from "./reconciledUntil";

/** A reconciliation as its page shows it: in preparation, closed, or reopened. */
export interface ReconciliationView {
  id: number;
  company: string;
  bank: string;
  bankName: string;
  date: CalendarDate;
  /** What stands of it once it is closed; null while it is prepared. */
  closed: {
    id: number;
    by: string;
    at: string;
    head: string;
    digest: string;
    reopened: { by: string; at: string; reason: string } | null;
  } | null;
}

type Account = { id: number; code: string; currency: string };

const draftOf = async (tx: Db, bankId: number, date: CalendarDate): Promise<number | undefined> => {
  const [found] = await rows<{ id: bigint }>(
    tx,
    sql`select document_id as id from reconciliation_draft
      where bank_account_id = ${bankId} and date = ${date}`,
  );
  return found && Number(found.id);
};

const titleOf = (bank: { code: string }, date: CalendarDate): string =>
  `Bank reconciliation ${bank.code}, ${dateText(date)}`;

/**
 * Under which document a reconciliation is closed: that on which its papers were gathered, or a new
 * one. It gets its number, and its papers stay as they are from now on.
 */
export async function registered(
  context: Context,
  companyId: number,
  bank: Account,
  date: CalendarDate,
): Promise<number> {
  const { tx } = context;
  const prepared = await draftOf(tx, bank.id, date);
  const id = prepared ?? (await newDocument(context, companyId, bank, date));
  const [before] = await rows<{ count: number }>(
    tx,
    sql`select count(*)::int as count from reconciliation
      where bank_account_id = ${bank.id} and date = ${date}`,
  );
  // One that is closed again is another document than the one that was reopened.
  const again = before!.count === 0 ? "" : ` (${before!.count + 1})`;
  await giveNumber(tx, id, `${bank.code} ${date}${again}`, "closed");
  await tx.execute(sql`delete from reconciliation_draft where document_id = ${id}`);
  return id;
}

async function newDocument(
  context: Context,
  companyId: number,
  bank: Account,
  date: CalendarDate,
): Promise<number> {
  const [id] = await register(context, [
    {
      kind: "reconciliation",
      companyId,
      date,
      currency: bank.currency,
      title: titleOf(bank, date),
      status: "draft",
    },
  ]);
  return id!;
}

/** What hangs on a document, by name and SHA-256. */
export const papersToFreeze = (
  tx: Db,
  documentId: number,
): Promise<{ name: string; digest: string }[]> =>
  rows<{ name: string; digest: string }>(
    tx,
    sql`select name, encode(sha256(content), 'hex') as digest from attachment
      where document_id = ${documentId} order by id`,
  );

/** Begins the document on which the papers of a reconciliation are gathered before it is closed. */
export const prepareReconciliation = defineUseCase({
  name: "prepareReconciliation",
  kind: "write",
  rights: ["prepare.banks", "period.banks"],
  what: "prepare bank reconciliations",
  company: (i) => i.company,
  locks: (_, i) => Promise.resolve([i.company]),
  schema: object({
    company: string().required(),
    bank: string().required(),
    date: string().required("Say on which day"),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    const [bank] = await rows<Account & { reconciled: string | null }>(
      tx,
      sql`select b.id, b.code, b.currency, ${reconciledUntil(sql`b.id`)} as reconciled
        from bank_account b where b.company_id = ${company.id} and b.code = ${input.bank}`,
    );
    if (!bank) return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}` });
    if (bank.reconciled !== null && bank.reconciled >= input.date)
      return fail({
        code: "INVALID",
        what: `${bank.code} is reconciled up to ${dateText(bank.reconciled)} already`,
        field: "date",
      });
    const prepared = await draftOf(tx, bank.id, input.date);
    if (prepared !== undefined) return ok({ id: prepared });
    const id = await newDocument(context, company.id, bank, input.date);
    await tx.execute(
      sql`insert into reconciliation_draft (document_id, bank_account_id, date)
        values (${id}, ${bank.id}, ${input.date})`,
    );
    await context.audit({
      action: "prepared",
      kind: "reconciliation",
      recordId: id,
      label: titleOf(bank, input.date),
      companyId: company.id,
    });
    return ok({ id });
  },
});

/** A reconciliation by its document. */
export const getReconciliation = defineUseCase({
  name: "getReconciliation",
  kind: "read",
  rights: ["read.banks", "read.close"],
  what: "see bank reconciliations",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<ReconciliationView>> => {
    const [found] = await rows<{
      company: string;
      bank: string;
      bankName: string;
      date: string;
      closedId: bigint | null;
      by: string | null;
      at: string | null;
      seq: bigint | null;
      hash: string | null;
      digest: string | null;
      reopenedBy: string | null;
      reopenedAt: string | null;
      reason: string | null;
    }>(
      context.tx,
      sql`select c.code as company, b.code as bank, b.name as "bankName",
          coalesce(r.date, t.date) as date, r.id as "closedId", p.name as by, r.closed_at as at,
          r.head_seq as seq, r.head_hash as hash, r.digest, q.name as "reopenedBy",
          r.reopened_at as "reopenedAt", r.reason
        from document d join company c on c.id = d.company_id
          left join reconciliation r on r.document_id = d.id
          left join reconciliation_draft t on t.document_id = d.id
          join bank_account b on b.id = coalesce(r.bank_account_id, t.bank_account_id)
          left join person p on p.id = r.closed_by left join person q on q.id = r.reopened_by
        where d.id = ${input.id}::bigint`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such reconciliation" });
    if (!context.may("read.banks", found.company) && !context.may("read.close", found.company))
      return fail({ code: "FORBIDDEN", what: `see reconciliations of ${found.company}` });
    const { company, bank, bankName, date, reopenedBy, reopenedAt } = found;
    return ok({
      id: input.id,
      company,
      bank,
      bankName,
      date,
      closed:
        found.closedId === null
          ? null
          : {
              id: Number(found.closedId),
              by: found.by ?? "",
              at: found.at ?? "",
              head: `${found.seq}, ${found.hash}`,
              digest: found.digest ?? "",
              reopened:
                reopenedBy && reopenedAt
                  ? { by: reopenedBy, at: reopenedAt, reason: found.reason ?? "" }
                  : null,
            },
    });
  },
});
