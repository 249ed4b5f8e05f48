import { sql } from "drizzle-orm";
import { partName } from "@/core/banks";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { setStatus } from "../../documents";
import { reversalPlans, reverseJournals } from "../../ledger";
import { releaseItems } from "../../openItems";
import type { DepositView } from "./depositViews";

/** Why a slip cannot be cancelled as a whole; null where it can. */
export async function againstCancelling(
  { tx }: Context,
  slip: DepositView,
): Promise<string | null> {
  const back = slip.of.find((p) => p.state !== "deposited");
  if (back) return `${partName(back)} of it has come back: note what else comes back one by one`;
  const journals = slip.of.map((p) => p.journal.id);
  const [cleared] = await rows<{ id: bigint }>(
    tx,
    sql`select i.id from open_item i where i.journal_id = any(${arrayOf(journals)}::bigint[])
      and i.area = 'transit' and i.left_amount <> i.amount limit 1`,
  );
  return cleared ? `${slip.number} is on a bank statement` : null;
}

/** Takes a whole slip back: all it had paid is open again. */
export async function doCancel(
  context: Context,
  slip: DepositView,
  input: { id: number; reason: string },
): Promise<Result<unknown>> {
  const { tx } = context;
  const against = await againstCancelling(context, slip);
  if (against) return fail({ code: "INVALID", what: against });
  const journals = slip.of.map((p) => p.journal.id);
  const plans = await reversalPlans(context, journals);
  const dayOf = (id: number) => plans.get(id)?.when?.date ?? slip.date;
  await releaseItems(
    context,
    journals.map((id) => ({ id, date: dayOf(id) })),
  );
  const reversed = await reverseJournals(context, journals, null, "bank");
  if (!reversed.ok) return reversed;
  await setStatus(tx, [input.id], "reversed");
  await tx.execute(
    sql`update deposit set reason = ${input.reason} where document_id = ${input.id}`,
  );
  await tx.execute(
    sql`update deposit_part set state = 'cancelled', reason = ${input.reason}
      where document_id = ${input.id}`,
  );
  await context.audit({
    action: "cancelled",
    kind: "deposit slip",
    recordId: input.id,
    label: slip.number,
    companyId: context.masters.companyByCode.get(slip.company)!.id,
    after: { reason: input.reason },
  });
  return ok({});
}
