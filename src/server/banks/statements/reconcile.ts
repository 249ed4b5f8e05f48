import { createHash } from "node:crypto";
import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { keptBetween, notYetReconciled, reconciliationTable } from "@/core/banks";
import { dateText, fail, isCalendarDate, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase, lockChains, type Context } from "../../access";
import { rows } from "../../db";
import { setStatus } from "../../documents";
import { tableFile } from "../../files";
import { positionsOf, type Bank } from "./bankPosition";
import { papersToFreeze, registered } from "./reconciliationPapers";

/** A reconciliation that was closed. */
export interface Reconciliation {
  id: number;
  /** Under which it stands in the register. */
  documentId: number;
  bank: string;
  date: CalendarDate;
  closedBy: string;
  closedAt: string;
  /** Who has reopened it, and why; null where it stands. */
  reopened: { by: string; at: string; reason: string } | null;
}

const bankOf = async ({ tx }: Context, companyId: number, code: string) =>
  (
    await rows<Bank>(
      tx,
      sql`select id, code, name, currency, account from bank_account
        where company_id = ${companyId} and code = ${code}`,
    )
  )[0];

/**
 * Closes the reconciliation of a bank account on a day: everything of the bank is posted and nothing
 * is left unexplained. What it says is kept with a paper and the head of the chain, and nothing of
 * the account up to that day can change while it stands.
 */
export const closeReconciliation = defineUseCase({
  name: "closeReconciliation",
  kind: "write",
  rights: ["period.banks"],
  what: "close bank reconciliations",
  company: (i) => i.company,
  // As for closing a period: no journal, tick or line slips in while it is looked at.
  locks: (_, i) => Promise.resolve([i.company]),
  closes: true,
  schema: object({
    company: string().required(),
    bank: string().required(),
    date: string().required("Say on which day"),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, person, now } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCalendarDate(input.date))
      return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
    if (input.date > context.today)
      return fail({ code: "INVALID", what: "That day has not come yet", field: "date" });
    const [head] = await lockChains(tx, [company.code]);
    const bank = await bankOf(context, company.id, input.bank);
    if (!bank) return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}` });
    const [position] = await positionsOf(tx, company.id, [bank], input.date);
    const { reconciled } = position!;
    if (reconciled !== null && reconciled >= input.date)
      return fail({
        code: "INVALID",
        what: `${bank.code} is reconciled up to ${dateText(reconciled)} already`,
        field: "date",
      });
    const against = notYetReconciled(position!);
    if (against !== null) return fail({ code: "INVALID", what: against, field: "date" });
    const documentId = await registered(context, company.id, bank, input.date);
    const table = reconciliationTable({
      ...position!,
      companyName: company.name,
      date: input.date,
      bank: position!.bank!,
      head: { seq: BigInt(head!.seq), hash: head!.hash },
      papers: await papersToFreeze(tx, documentId),
      by: person.name,
    });
    const paper = await tableFile(table, "pdf", {}, person.name);
    const pdf = Buffer.from(await paper.arrayBuffer());
    const [kept] = await rows<{ id: bigint }>(
      tx,
      sql`insert into reconciliation (company_id, bank_account_id, date, statement_id, bank, ledger,
          between, head_seq, head_hash, document_id, pdf, digest, closed_by, closed_at)
        values (${company.id}, ${bank.id}, ${input.date}, ${position!.bank!.id},
          ${position!.bank!.amount}, ${position!.ledger},
          ${JSON.stringify(keptBetween(position!))}::jsonb, ${head!.seq}, ${head!.hash},
          ${documentId}, ${pdf.toString("base64")}, ${createHash("sha256").update(pdf).digest("hex")},
          ${person.id}, ${now.toISOString()}) returning id`,
    );
    await context.audit({
      action: "closed",
      kind: "reconciliation",
      recordId: documentId,
      label: `${bank.code} on ${dateText(input.date)}`,
      companyId: company.id,
      after: { date: input.date, head: String(head!.seq) },
    });
    return ok({ id: Number(kept!.id) });
  },
});

/** Reopens the latest reconciliation of an account: backwards only, and with a reason. */
export const reopenReconciliation = defineUseCase({
  name: "reopenReconciliation",
  kind: "write",
  rights: ["period.banks"],
  what: "reopen bank reconciliations",
  of: "checked",
  locks: async ({ tx }, i) =>
    (
      await rows<{ company: string }>(
        tx,
        sql`select c.code as company from reconciliation r join company c on c.id = r.company_id
          where r.id = ${i.id}`,
      )
    ).map((r) => r.company),
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, person, now } = context;
    const [found] = await rows<{
      id: bigint;
      documentId: bigint;
      company: string;
      companyId: number;
      bank: string;
      date: string;
      reopened: boolean;
      later: string | null;
    }>(
      tx,
      sql`select r.id, r.document_id as "documentId", c.code as company, r.company_id as "companyId", b.code as bank, r.date,
          r.reopened_at is not null as reopened, (select max(x.date) from reconciliation x
            where x.bank_account_id = r.bank_account_id and x.reopened_at is null
              and x.date > r.date) as later
        from reconciliation r join company c on c.id = r.company_id
          join bank_account b on b.id = r.bank_account_id where r.id = ${input.id}`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such reconciliation" });
    if (!context.may("period.banks", found.company))
      return fail({ code: "FORBIDDEN", what: `reopen reconciliations of ${found.company}` });
    if (found.reopened)
      return fail({ code: "INVALID", what: "It has been reopened already", field: "id" });
    if (found.later)
      return fail({
        code: "INVALID",
        what: `${found.bank} is reconciled up to ${dateText(found.later)}; reopen that one first`,
        field: "id",
      });
    if (input.reason.length < 5) return fail({ code: "REASON_REQUIRED", field: "reason" });
    await tx.execute(
      sql`update reconciliation set reopened_by = ${person.id}, reopened_at = ${now.toISOString()},
        reason = ${input.reason} where id = ${input.id}`,
    );
    await setStatus(tx, [Number(found.documentId)], "cancelled");
    await context.audit({
      action: "reopened",
      kind: "reconciliation",
      recordId: Number(found.documentId),
      label: `${found.bank} on ${dateText(found.date)}`,
      companyId: found.companyId,
      after: { reason: input.reason },
    });
    return ok({ id: input.id });
  },
});

/** Reconciliations of a company's bank accounts, the newest first. */
export const listReconciliations = defineUseCase({
  name: "listReconciliations",
  kind: "read",
  rights: ["read.banks", "read.close"],
  what: "see bank reconciliations",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<Reconciliation[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<Reconciliation, "id" | "documentId" | "reopened"> & {
        id: bigint;
        documentId: bigint;
        reopenedBy: string | null;
        reopenedAt: string | null;
        reason: string;
      }
    >(
      tx,
      sql`select r.id, r.document_id as "documentId", b.code as bank, r.date, p.name as "closedBy", r.closed_at as "closedAt",
          q.name as "reopenedBy", r.reopened_at as "reopenedAt", r.reason
        from reconciliation r join bank_account b on b.id = r.bank_account_id
          join person p on p.id = r.closed_by left join person q on q.id = r.reopened_by
        where r.company_id = ${company.id} order by r.date desc, r.id desc limit 200`,
    );
    return ok(
      found.map(({ reopenedBy, reopenedAt, reason, ...r }) => ({
        ...r,
        id: Number(r.id),
        documentId: Number(r.documentId),
        reopened: reopenedBy && reopenedAt ? { by: reopenedBy, at: reopenedAt, reason } : null,
      })),
    );
  },
});

/** The paper of a reconciliation, as it was made when it was closed. */
export const reconciliationPdf = defineUseCase({
  name: "reconciliationPdf",
  kind: "read",
  rights: ["read.banks", "read.close"],
  what: "see bank reconciliations",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: Uint8Array }>> => {
    const [found] = await rows<{ company: string; bank: string; date: string; pdf: string }>(
      context.tx,
      sql`select c.code as company, b.code as bank, r.date, r.pdf from reconciliation r
        join company c on c.id = r.company_id join bank_account b on b.id = r.bank_account_id
        where r.id = ${input.id}`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such reconciliation" });
    if (!context.may("read.banks", found.company) && !context.may("read.close", found.company))
      return fail({ code: "FORBIDDEN", what: `see reconciliations of ${found.company}` });
    return ok({
      name: `reconciliation-${found.bank}-${found.date}.pdf`,
      content: new Uint8Array(Buffer.from(found.pdf, "base64")),
    });
  },
});
