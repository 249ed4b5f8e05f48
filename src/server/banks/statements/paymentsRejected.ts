import { sql } from "drizzle-orm";
import { returnWords } from "@/core/banks";
import type { Rejection, StatusReport } from "@/core/banks/statements/statusReport";
import { fail, ok, type CalendarDate, type Found, type Result } from "@/core/shared";
import { companiesOf, lockChains, type Context } from "../../access";
import { rows } from "../../db";
import { reverseJournals } from "../../ledger";
import { releaseItems } from "../../openItems";
import { MONEY } from "../moneyUnderWay";
import { undonePayments } from "../undoPayments";

/** What a bank's report on a file of payments has changed. */
export interface ReportTaken {
  companyId: number;
  rejected: number;
  /** Payments that were known to be rejected already. */
  known: number;
}

interface Sent {
  id: bigint;
  kind: string;
  number: string;
  status: string;
  date: string;
  journalId: bigint;
}

/**
 * Undoes the payments that a bank has refused: what they had settled is open again from the day on
 * which the bank said so, for the next payment run. What the bank has carried out stands against it,
 * and a report that names what was never in the file is refused.
 */
export async function takeReport(
  context: Context,
  report: StatusReport,
): Promise<Result<ReportTaken>> {
  const { tx } = context;
  const [file] = await rows<{ id: bigint; companyId: number; company: string }>(
    tx,
    sql`select f.id, r.company_id as "companyId", c.code as company from payment_file f
      join run r on r.id = f.run_id join company c on c.id = r.company_id
      where f.message_id = ${report.original} order by f.id desc limit 1`,
  );
  if (!file)
    return fail({
      code: "INVALID",
      what: `It is about the file ${report.original}, which is none of ours`,
    });
  if (!context.may("post.banks", file.company))
    return fail({ code: "FORBIDDEN", what: `undo payments of ${file.company}` });
  const ids = await rows<{ id: bigint }>(
    tx,
    sql`select document_id as id from ${MONEY} p where file_id = ${file.id} order by document_id`,
  );
  await lockChains(
    tx,
    await companiesOf(
      tx,
      ids.map((i) => Number(i.id)),
    ),
  );
  const sent = await rows<Sent>(
    tx,
    sql`select d.id, d.kind, d.number, d.status, d.date, p.journal_id as "journalId"
      from ${MONEY} p join document d on d.id = p.document_id
      where p.file_id = ${file.id} order by d.id for update of d`,
  );
  const named = byPayment(report.rejections, sent);
  if (!named.ok) return named;
  const open = named.value.filter(({ payment }) => payment.status === "sent");
  const known = named.value.filter(({ payment }) => payment.status === "rejected").length;
  const other = named.value.find(({ payment }) => !["sent", "rejected"].includes(payment.status));
  if (other)
    return fail({
      code: "INVALID",
      what:
        other.payment.status === "cleared"
          ? `${other.payment.number} is on a bank statement: it was carried out`
          : `${other.payment.number} is ${other.payment.status} already`,
      line: other.rejection.from,
    });
  const undone = await undo(context, file.companyId, open, report.day);
  return undone.ok ? ok({ companyId: file.companyId, rejected: open.length, known }) : undone;
}

interface Refused {
  payment: Sent;
  rejection: Rejection;
}

/** Each payment that is refused, once: by its own id, or with the whole file. */
function byPayment(rejections: readonly Rejection[], sent: readonly Sent[]): Result<Refused[]> {
  const refused = new Map<string, Refused>();
  const byNumber = new Map(sent.map((s) => [s.number, s]));
  for (const rejection of rejections) {
    const whole = rejection.endToEnd === "" ? sent : null;
    const one = byNumber.get(rejection.endToEnd);
    if (!whole && !one)
      return fail({
        code: "INVALID",
        what: `Payment ${rejection.endToEnd} was not in that file`,
        line: rejection.from,
      } satisfies Found);
    for (const payment of whole ?? [one!])
      if (!refused.has(payment.number)) refused.set(payment.number, { payment, rejection });
  }
  return ok([...refused.values()]);
}

async function undo(
  context: Context,
  companyId: number,
  refused: readonly Refused[],
  said: CalendarDate,
): Promise<Result<unknown>> {
  if (refused.length === 0) return ok({});
  // A bank's clock may be after ours, and before the day of a payment that it was to carry out later.
  const told = said > context.today ? context.today : said;
  const day = refused.reduce((d, r) => (r.payment.date > d ? r.payment.date : d), told);
  const journals = refused.map((r) => Number(r.payment.journalId));
  await releaseItems(
    context,
    journals.map((id) => ({ id, date: day })),
  );
  // Of the bank's own area: whoever takes its word in need not be one who pays.
  const reversed = await reverseJournals(context, journals, day, "bank");
  if (!reversed.ok) return reversed;
  const whyOf = ({ rejection }: Refused) =>
    [returnWords(rejection.reason), rejection.says].filter(Boolean).join("; ");
  for (const why of new Set(refused.map(whyOf)))
    await undonePayments(
      context,
      refused.filter((r) => whyOf(r) === why).map((r) => Number(r.payment.id)),
      "rejected",
      `Rejected by the bank: ${why}`,
    );
  await context.audit(
    ...refused.map((r) => ({
      action: "rejected",
      kind: r.payment.kind,
      recordId: Number(r.payment.id),
      label: r.payment.number,
      companyId,
      after: { reason: whyOf(r), date: day },
    })),
  );
  return ok({});
}
