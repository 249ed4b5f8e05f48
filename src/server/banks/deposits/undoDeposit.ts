import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import type { SlipRequest } from "@/core/banks";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { againstReason } from "../../documents";
import { looksFirst } from "../looksFirst";
import { againstCancelling, doCancel } from "./cancelOfSlip";
import type { DepositView } from "./depositViews";
import { checkReturn, doReturn, returnSchema } from "./returnOfCheque";
import { locksOfSlip, RIGHTS, slipToChange } from "./slipToChange";

/** What became of it: done, or asked for, where a second person looks first. */
interface Undone {
  asked: boolean;
  /** The journal of a return; "" for a slip, and while it is only asked for. */
  journal: string;
}
const ASKED: Undone = { asked: true, journal: "" };

/**
 * A cheque of a slip comes back: what it had paid is open again from that day, the rest of the slip
 * stays, and the bank's line that takes it back will meet what is left under way. A fee can be charged
 * to the customer; it is posted like the kind of movement says. Where the bank account is set up so,
 * a second person looks first.
 */
export const returnCheque = defineUseCase({
  name: "returnCheque",
  kind: "write",
  rights: RIGHTS,
  what: "note returned cheques",
  of: "checked",
  locks: locksOfSlip,
  schema: returnSchema,
  run: async (context, input): Promise<Result<Undone>> => {
    const slip = await slipToChange(context, input.id);
    if (!slip.ok) return slip;
    const checked = await checkReturn(context, slip.value, input);
    if (!checked.ok) return checked;
    const asked = await askSecond(context, slip.value, { is: "return", input });
    if (!asked.ok || asked.value) return asked.ok ? ok(ASKED) : asked;
    const done = await doReturn(context, slip.value, input);
    return done.ok ? ok({ asked: false, ...done.value }) : done;
  },
});

/** Takes a whole slip back that no statement has yet; or asks a second person to, where that is wanted. */
export const cancelDeposit = defineUseCase({
  name: "cancelDeposit",
  kind: "write",
  rights: RIGHTS,
  what: "cancel deposits",
  of: "checked",
  locks: locksOfSlip,
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(200),
  }),
  run: async (context, input): Promise<Result<Undone>> => {
    const slip = await slipToChange(context, input.id);
    if (!slip.ok) return slip;
    const unsaid = await againstReason(context, "deposits", input.reason);
    if (unsaid) return fail(unsaid);
    const against = await againstCancelling(context, slip.value);
    if (against) return fail({ code: "INVALID", what: against });
    const asked = await askSecond(context, slip.value, { is: "cancel", input });
    if (!asked.ok || asked.value) return asked.ok ? ok(ASKED) : asked;
    const done = await doCancel(context, slip.value, input);
    return done.ok ? ok({ asked: false, journal: "" }) : done;
  },
});

/** A second person does what was asked of a slip, or leaves the slip as it is; whoever asked can only leave it. */
export const decideSlipRequest = defineUseCase({
  name: "decideSlipRequest",
  kind: "write",
  rights: RIGHTS,
  what: "decide what was asked of a deposit slip",
  of: "checked",
  locks: locksOfSlip,
  schema: object({ id: number().integer().required(), keep: boolean().default(false) }),
  run: async (context, input): Promise<Result<Undone>> => {
    const slip = await slipToChange(context, input.id);
    if (!slip.ok) return slip;
    const [found] = await rows<{ request: SlipRequest; by: number }>(
      context.tx,
      sql`delete from deposit_request where document_id = ${input.id}::bigint
        returning request, asked_by as by`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "request for this slip" });
    if (input.keep) {
      await note(context, slip.value, "left as it is", found.request);
      return ok({ asked: false, journal: "" });
    }
    if (found.by === context.person.id)
      return fail({
        code: "FORBIDDEN",
        what: "do what you have asked for; a second person has to look at it",
      });
    const { request } = found;
    if (request.is === "cancel") {
      const done = await doCancel(context, slip.value, request.input);
      return done.ok ? ok({ asked: false, journal: "" }) : done;
    }
    const done = await doReturn(context, slip.value, request.input);
    return done.ok ? ok({ asked: false, ...done.value }) : done;
  },
});

/** Whether a second person is asked, by what is set for the bank account: then that is noted. */
async function askSecond(
  context: Context,
  slip: DepositView,
  request: SlipRequest,
): Promise<Result<boolean>> {
  const { tx, person, now } = context;
  if (slip.request)
    return fail({
      code: "INVALID",
      what: `${slip.request.by} has asked for something of ${slip.number} already; decide that first`,
    });
  const [bank] = await rows<{ review: boolean }>(
    tx,
    sql`select ${looksFirst("deposits")} as review from deposit t
      join bank_account b on b.id = t.bank_account_id where t.document_id = ${slip.id}`,
  );
  if (!bank!.review) return ok(false);
  await tx.execute(
    sql`insert into deposit_request (document_id, request, asked_by, asked_at)
      values (${slip.id}, ${JSON.stringify(request)}::jsonb, ${person.id}, ${now.toISOString()})`,
  );
  await note(context, slip, "asked for", request);
  return ok(true);
}

const note = (context: Context, slip: DepositView, action: string, request: SlipRequest) =>
  context.audit({
    action,
    kind: "deposit slip",
    recordId: slip.id,
    label: slip.number,
    companyId: context.masters.companyByCode.get(slip.company)!.id,
    after: request,
  });
