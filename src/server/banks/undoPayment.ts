import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { fail, isCalendarDate, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context, lockChains } from "../access";
import { rows } from "../db";
import { againstReason } from "../documents";
import { dayOfReversal, reverseJournals } from "../ledger";
import { releaseItems } from "../openItems";
import { looksFirst } from "./looksFirst";
import { chequeToReview, undonePayments } from "./undoPayments";
import { readPayment, rightToUndo } from "./payments";

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

type Undoing = keyof typeof UNDOING;
/** What people ask for by itself; cheques are cancelled in a way of their own. */
type Asked = Exclude<Undoing, "cancelled">;

interface Undone {
  id: number;
  /** The journal that takes it back, and its day; "" while a second person is only asked. */
  journal: string;
  date: string;
  asked: boolean;
}

/**
 * Undoes one payment: what it settled is open again and its journals are reversed. Where its bank
 * account wants a second person to look, and none has, that is only asked for.
 */
export async function undoPayment(
  context: Context,
  id: number,
  how: Undoing,
  reason: string,
  date: string | null,
  looked = false,
): Promise<Result<Undone>> {
  const { tx, masters } = context;
  const found = await readPayment(context, id, true);
  if (!found.ok) return found;
  const payment = found.value;
  if (!context.may(rightToUndo(payment.toBank), payment.company))
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
  // Whoever asked for a cheque to be cancelled has said why.
  const unsaid = how === "cancelled" ? null : await againstReason(context, "payments", reason);
  if (unsaid) return fail(unsaid);
  if (date !== null && (!isCalendarDate(date) || date < payment.date))
    return fail(
      isCalendarDate(date)
        ? { code: "INVALID", what: "It lies on or after the day of the payment", field: "date" }
        : { code: "DATE_INVALID", text: date, field: "date" },
    );
  if (how !== "cancelled" && !looked) {
    const asked = await askSecond(context, payment, { how, reason: reason.trim(), date });
    if (!asked.ok) return asked;
    if (asked.value) return ok({ id, journal: "", date: "", asked: true });
  }
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
  return ok({ id, journal: reversed.value[0]!.number, date: day, asked: false });
}

/** Whether a second person is asked, by what is set for the bank account: then that is noted. */
async function askSecond(
  context: Context,
  payment: { id: bigint; number: string; companyId: number; method: string },
  request: { how: Asked; reason: string; date: string | null },
): Promise<Result<boolean>> {
  const { tx, person, now } = context;
  const id = Number(payment.id);
  const [before] = await rows<{ by: string }>(
    tx,
    sql`select w.name as by from payment_request q join person w on w.id = q.asked_by
      where q.document_id = ${id}`,
  );
  if (before)
    return fail({
      code: "INVALID",
      what: `${before.by} has asked for something of ${payment.number} already; decide that first`,
    });
  const [bank] = await rows<{ review: boolean }>(
    tx,
    sql`select ${looksFirst("payments")} as review from payment p
      join bank_account b on b.id = p.bank_account_id where p.document_id = ${id}`,
  );
  if (!bank!.review || payment.method === "cheque") return ok(false);
  await tx.execute(
    sql`insert into payment_request (document_id, how, reason, date, asked_by, asked_at)
      values (${id}, ${request.how}, ${request.reason}, ${request.date}::date, ${person.id},
        ${now.toISOString()})`,
  );
  await noteRequest(context, payment, "asked for", request);
  return ok(true);
}

const noteRequest = (
  context: Context,
  payment: { id: bigint | number; number: string; companyId: number },
  action: string,
  after: unknown,
) =>
  context.audit({
    action,
    kind: "payment",
    recordId: Number(payment.id),
    label: payment.number,
    companyId: payment.companyId,
    after,
  });

/** A second person does what was asked of a payment, or leaves it; whoever asked can only leave it. */
export const decidePaymentRequest = defineUseCase({
  name: "decidePaymentRequest",
  kind: "write",
  rights: ["reverse.payables", "reverse.banks"],
  what: "decide what was asked of a payment",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.id]),
  schema: object({ id: number().integer().required(), keep: boolean().default(false) }),
  run: async (context, input): Promise<Result<Undone>> => {
    const found = await readPayment(context, input.id, true);
    if (!found.ok) return found;
    const payment = found.value;
    if (!context.may(rightToUndo(payment.toBank), payment.company))
      return fail({ code: "FORBIDDEN", what: `undo payments of ${payment.company}` });
    const [request] = await rows<{ how: Asked; reason: string; date: string | null; by: number }>(
      context.tx,
      sql`delete from payment_request where document_id = ${input.id}::bigint
        returning how, reason, date, asked_by as by`,
    );
    if (!request) return fail({ code: "NOT_FOUND", what: "request for this payment" });
    if (input.keep) {
      await noteRequest(context, payment, "left as it is", request);
      return ok({ id: input.id, journal: "", date: "", asked: false });
    }
    if (request.by === context.person.id)
      return fail({
        code: "FORBIDDEN",
        what: "do what you have asked for; a second person has to look at it",
      });
    return undoPayment(context, input.id, request.how, request.reason, request.date, true);
  },
});

const undoSchema = object({
  id: number().integer().required(),
  reason: string().default("").max(300),
  date: string().nullable().default(null),
});

const UNDO = {
  kind: "write",
  rights: ["reverse.payables", "reverse.banks"],
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
