import { number, object, string } from "yup";
import { fail, isCalendarDate, ok, type Result } from "@/core/shared";
import { companiesOf, defineUseCase, type Context, lockChains } from "../access";
import { againstReason } from "../documents";
import { dayOfReversal, reverseJournals } from "../ledger";
import { releaseItems } from "../openItems";
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
