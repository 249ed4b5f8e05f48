import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { againstReason } from "../documents";
import { approvalOfRun, changeRun, readDrafts } from "../runs";
import {
  lockRun,
  AS_ONE,
  paymentsByItem,
  firstItem,
  numbersFrom,
  passOver,
  issue,
} from "./chequeRuns";

/**
 * Gives numbers to the cheques of a run that have none, from the number that the clerk reads off
 * the paper in hand: before it is posted, so that what is posted is what left the house; where a
 * second person has to release the run, only after that, since a cheque carries its signature.
 */
export const printCheques = defineUseCase({
  name: "printCheques",
  kind: "write",
  rights: ["post.payables"],
  what: "print cheques",
  of: "checked",
  schema: object({
    run: number().integer().required(),
    /** Not asked for where the numbers of the account go on by themselves. */
    first: number()
      .typeError("Type the first number on the paper")
      .integer()
      .min(1)
      .max(99_999_999)
      .nullable()
      .default(null),
    /** What became of the paper whose numbers are passed over. */
    missing: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ from: number; to: number }>> => {
    const found = await lockRun(context, input.run);
    if (!found.ok) return found;
    const run = found.value;
    if (run.status !== "preview" && run.status !== "posted")
      return fail({ code: "RUN_STATE", state: run.status });
    const approval =
      run.status === "preview"
        ? await approvalOfRun(context, AS_ONE, await readDrafts(context.tx, run.id))
        : null;
    if (approval)
      return fail({
        code: "IN_USE",
        what: `A second person has to release the run (${approval.why}); its cheques get their numbers after that`,
      });
    const paid = run.status === "posted" ? await paymentsByItem(context, run.id) : null;
    const live = new Set(
      (
        await rows<{ key: string }>(
          context.tx,
          sql`select payment_key as key from cheque where run_id = ${run.id} and state = 'printed'`,
        )
      ).map((c) => c.key),
    );
    const wanted = run.detail.payments.filter(
      (p) =>
        p.method === "cheque" &&
        !live.has(p.key) &&
        (paid === null || paid.get(firstItem(p))?.status === "posted"),
    );
    if (wanted.length === 0)
      return fail({
        code: "IN_USE",
        what: "Every cheque of this run is printed; copies can be printed, marked as such",
      });
    const numbers = await numbersFrom(context, run, input.first, wanted.length);
    if (!numbers.ok) return numbers;
    const passed = await passOver(context, run, numbers.value[0]!, input.missing);
    if (!passed.ok) return passed;
    await issue(
      context,
      run,
      wanted,
      numbers.value,
      wanted.map((p) => paid?.get(firstItem(p))?.id ?? null),
    );
    await context.audit({
      action: "cheques printed",
      kind: "run",
      recordId: run.id,
      label: run.number,
      companyId: run.companyId,
      after: {
        from: numbers.value[0],
        to: numbers.value.at(-1),
        ...(passed.value.length > 0 ? { missing: passed.value, reason: input.missing } : {}),
      },
    });
    return ok({ from: numbers.value[0]!, to: numbers.value.at(-1)! });
  },
});

/**
 * A spoilt cheque: void, and printed anew under the next number; or, before its run is posted, its
 * items go back to unpaid.
 */
export const voidCheque = defineUseCase({
  name: "voidCheque",
  kind: "write",
  rights: ["post.payables"],
  what: "void cheques",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
    then: string()
      .oneOf(["print anew", "leave unpaid"] as const)
      .required("Say what becomes of the payment"),
    next: number().integer().min(1).max(99_999_999),
  }),
  run: async (context, input): Promise<Result<{ number: number | null }>> => {
    const { tx, person, now } = context;
    const [cheque] = await rows<{
      runId: bigint;
      number: bigint;
      key: string;
      state: string;
      paymentId: bigint | null;
    }>(
      tx,
      sql`select run_id as "runId", number, payment_key as key, state, payment_id as "paymentId"
        from cheque where id = ${input.id}`,
    );
    if (!cheque) return fail({ code: "NOT_FOUND", what: "such cheque" });
    const found = await lockRun(context, Number(cheque.runId));
    if (!found.ok) return found;
    const run = found.value;
    const anew = run.status === "posted" && input.then === "print anew";
    if (run.status !== "preview" && !anew)
      return fail({
        code: "IN_USE",
        what: "The payment is posted; cancel the cheque instead, which reverses it",
      });
    if (cheque.state !== "printed") return fail({ code: "RUN_STATE", state: cheque.state });
    const unsaid = await againstReason(context, "cheques", input.reason);
    if (unsaid) return fail(unsaid);
    const voided = await rows(
      tx,
      sql`update cheque set state = 'voided', reason = ${input.reason}, decided_by = ${person.id},
        decided_at = ${now.toISOString()} where id = ${input.id} and state = 'printed'
        returning id`,
    );
    if (voided.length === 0) return fail({ code: "RUN_STATE", state: "voided" });
    await context.audit({
      action: "cheque voided",
      kind: "run",
      recordId: run.id,
      label: `${run.number}, cheque ${cheque.number}`,
      companyId: run.companyId,
      after: { reason: input.reason, then: input.then },
    });
    const payment = run.detail.payments.find((p) => p.key === cheque.key)!;
    if (input.then === "leave unpaid") {
      const changed = await changeRun.definition.run(context, {
        key: String(run.id),
        dropped: [...run.overrides.dropped, ...payment.items.map((i) => `item|${i.item}`)],
        amounts: run.overrides.amounts,
      });
      return changed.ok ? ok({ number: null }) : changed;
    }
    const numbers = await numbersFrom(context, run, input.next ?? "next", 1);
    if (!numbers.ok) return numbers;
    const passed = await passOver(context, run, numbers.value[0]!, input.reason);
    if (!passed.ok) return passed;
    const of = cheque.paymentId === null ? null : Number(cheque.paymentId);
    await issue(context, run, [payment], numbers.value, [of]);
    return ok({ number: numbers.value[0]! });
  },
});
