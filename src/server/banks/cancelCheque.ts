import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, companiesOf, lockChains } from "../access";
import { againstReason } from "../documents";
import { looksFirst } from "./looksFirst";
import { undoPayment } from "./undoPayment";

/**
 * Cancels a cheque whose payment is posted: at once, or, where the bank account is set up so, after
 * a second person has looked at it. Its items are open again.
 */
export const cancelCheque = defineUseCase({
  name: "cancelCheque",
  kind: "write",
  rights: ["reverse.payables"],
  what: "cancel cheques",
  of: "checked",
  locks: ({ tx }, input) => companiesOf(tx, [input.payment]),
  schema: object({
    payment: number().integer().required(),
    reason: string().trim().default("").max(300),
    keep: string()
      .oneOf(["", "keep"] as const)
      .default(""),
  }),
  run: async (context, input): Promise<Result<{ state: string; journal: string | null }>> => {
    const { tx, person, now } = context;
    const [place] = await rows<{ company: string }>(
      tx,
      sql`select c.code as company from document d join company c on c.id = d.company_id
        where d.id = ${input.payment}`,
    );
    if (!place) return fail({ code: "NOT_FOUND", what: "such payment" });
    if (!context.may("reverse.payables", place.company))
      return fail({ code: "FORBIDDEN", what: `cancel cheques of ${place.company}` });
    await lockChains(tx, [place.company]);
    const [cheque] = await rows<{
      id: bigint;
      number: bigint;
      state: string;
      review: boolean;
      reason: string;
      decidedBy: number | null;
      company: string;
      companyId: number;
    }>(
      tx,
      sql`select q.id, q.number, q.state, ${looksFirst("cheques")} as review, q.reason,
        q.decided_by as "decidedBy", c.code as company, c.id as "companyId" from cheque q
        join bank_account b on b.id = q.bank_account_id join document d on d.id = q.payment_id
        join company c on c.id = d.company_id
          where q.payment_id = ${input.payment} and q.state in ('printed', 'cancelling') for update of q`,
    );
    if (!cheque)
      return fail({ code: "NOT_FOUND", what: "cheque of this payment that could be cancelled" });
    const note = (action: string, after: unknown) =>
      context.audit({
        action,
        kind: "payment",
        recordId: input.payment,
        label: `cheque ${cheque.number}`,
        companyId: cheque.companyId,
        after,
      });
    if (cheque.state === "cancelling") {
      if (input.keep === "keep") {
        await tx.execute(
          sql`update cheque set state = 'printed', reason = '', decided_by = null, decided_at = null
            where id = ${cheque.id}`,
        );
        await note("cheque kept", {});
        return ok({ state: "printed", journal: null });
      }
      if (cheque.decidedBy === person.id)
        return fail({
          code: "FORBIDDEN",
          what: "cancel a cheque that you asked to have cancelled; a second person has to look at it",
        });
    } else {
      const unsaid = await againstReason(context, "cheques", input.reason);
      if (unsaid) return fail(unsaid);
    }
    if (cheque.state !== "cancelling" && cheque.review) {
      await tx.execute(
        sql`update cheque set state = 'cancelling', reason = ${input.reason},
          decided_by = ${person.id}, decided_at = ${now.toISOString()} where id = ${cheque.id}`,
      );
      await note("cheque to be cancelled", { reason: input.reason });
      return ok({ state: "cancelling", journal: null });
    }
    const undone = await undoPayment(
      context,
      input.payment,
      "cancelled",
      cheque.state === "cancelling" ? cheque.reason : input.reason,
      null,
    );
    return undone.ok ? ok({ state: "cancelled", journal: undone.value.journal }) : undone;
  },
});
