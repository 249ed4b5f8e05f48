import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { bankDayBefore, NO_BANK_ADDRESS } from "@/core/banks";
import { directDebitFile } from "@/core/banks/directDebitFile";
import type { DebitScheme, DebitSequence } from "@/core/receivables";
import { dateText, fail, minor, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { fileMadeAt, keepBankFile, readBankAccount } from "../../banks";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import { readCompanies } from "../../organisation";

interface ToSend {
  id: bigint;
  number: string;
  amount: bigint;
  date: string;
  scheme: DebitScheme;
  sequence: DebitSequence;
  reference: string;
  signed: string;
  iban: string;
  bic: string;
  name: string;
  street: string;
  postcode: string;
  city: string;
  country: string;
  references: string[];
  /** When its mandate ended, if it has by the day of the debit. */
  ended: string | null;
}

/**
 * Makes the file of a posted run's direct debits that have not gone out, and notes that they have. The
 * file is kept as it was made.
 */
export const makeDebitFile = defineUseCase({
  name: "makeDebitFile",
  kind: "write",
  rights: ["post.receivables"],
  what: "make files of direct debits",
  of: "checked",
  schema: object({ run: number().integer().required() }),
  run: async (context, input): Promise<Result<{ id: number; name: string; debits: number }>> => {
    const { tx, today, masters } = context;
    const [run] = await rows<{ number: string; company: string; status: string; bank: string }>(
      tx,
      sql`select d.number, c.code as company, d.status, r.params->>'bank' as bank from run r
        join document d on d.id = r.id join company c on c.id = r.company_id
        where r.id = ${input.run} and r.kind = 'direct-debit' for update of r`,
    );
    if (!run) return fail({ code: "NOT_FOUND", what: "such run of direct debits" });
    if (!context.may("post.receivables", run.company))
      return fail({ code: "FORBIDDEN", what: `make files of direct debits of ${run.company}` });
    if (run.status !== "posted") return fail({ code: "RUN_STATE", state: run.status });
    const debits = await rows<ToSend>(
      tx,
      sql`select d.id, d.number, d.amount, d.date, m.scheme, x.sequence, m.reference, m.signed, m.iban,
          m.bic, coalesce(nullif(m.holder, ''), p.name) as name, p.street, p.postcode, p.city,
          p.country, case when m.ended <= d.date then m.ended end as ended,
          coalesce((select jsonb_agg(i.reference order by i.id) from receipt_item t
            join open_item i on i.id = t.item_id where t.receipt_id = d.id), '[]') as "references"
        from direct_debit x join document d on d.id = x.receipt_id and d.status = 'posted'
          join mandate m on m.id = x.mandate_id join partner p on p.id = m.partner_id
        where x.run_id = ${input.run} and x.file_id is null order by d.id`,
    );
    if (debits.length === 0)
      return fail({
        code: "IN_USE",
        what: "No direct debit of this run waits to be sent; what was sent is kept with its file",
      });
    const ended = debits.find((d) => d.ended !== null);
    if (ended)
      return fail({
        code: "INVALID",
        what: `The mandate of ${ended.name} ended on ${dateText(ended.ended!)}; undo ${ended.number} first`,
      });
    const { date } = debits[0]!;
    const fileBy = bankDayBefore(date, "EUR");
    if (fileBy < today)
      return fail({
        code: "INVALID",
        what: `It would have had to be with the bank on ${dateText(fileBy)}: reverse the run, and debit on a later day`,
      });
    const to = (await readBankAccount(tx, { code: run.bank }))!;
    const [creditor] = await readCompanies(tx, run.company);
    if (creditor!.creditorId === "")
      return fail({
        code: "INVALID",
        what: `${creditor!.name} has no creditor identifier; enter it in Setup, Companies`,
      });
    const { id, name } = await keepBankFile(
      context,
      { id: input.run, number: run.number },
      (messageId) =>
        directDebitFile({
          messageId,
          createdAt: fileMadeAt(context),
          date,
          creditor: creditor!,
          creditorId: creditor!.creditorId,
          to,
          debits: debits.map((d) => ({
            endToEndId: d.number,
            amount: minor(d.amount),
            scheme: d.scheme,
            sequence: d.sequence,
            mandate: { reference: d.reference, signed: d.signed },
            debtor: d,
            from: { ...NO_BANK_ADDRESS, iban: d.iban, bic: d.bic },
            references: d.references,
          })),
        }),
    );
    const ids = debits.map((d) => Number(d.id));
    await tx.execute(
      sql`update direct_debit set file_id = ${id}
        where receipt_id = any(${arrayOf(ids)}::bigint[])`,
    );
    await setStatus(tx, ids, "sent");
    await context.audit({
      action: "file made",
      kind: "run",
      recordId: input.run,
      label: run.number,
      companyId: masters.companyByCode.get(run.company)!.id,
      after: { file: name, debits: debits.length },
    });
    return ok({ id, name, debits: debits.length });
  },
});
