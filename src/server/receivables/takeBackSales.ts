import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import { arrayOf, rows } from "../db";
import { documentLinks, setStatus } from "../documents";
import { reverseJournals } from "../ledger";
import { releasedOf } from "./deferral/keepDeferred";
import { againstSetOff, setOffOf } from "./prepayments";

export interface TakenBack {
  id: number;
  journal: string;
  date: string;
}

/**
 * Takes back invoices and credit notes that nobody has seen: their journals are reversed. One that
 * went out, that another corrects, or that anything was paid of, stays.
 */
export async function takeBackSales(
  context: Context,
  ids: readonly number[],
): Promise<Result<TakenBack[]>> {
  if (ids.length === 0) return ok([]);
  const found = await rows<{
    id: number;
    number: string;
    journal: number;
    sent: boolean;
    correctedBy: string | null;
  }>(
    context.tx,
    sql`select s.document_id::int as id, d.number, s.journal_id::int as journal,
        s.sent_at is not null as sent, (select c.number from document_link l
          join document c on c.id = l.from_id and c.status = 'posted'
          where l.to_id = s.document_id and l.kind = 'corrects' limit 1) as "correctedBy"
      from sale s join document d on d.id = s.document_id and d.status = 'posted'
      where s.document_id = any(${arrayOf(ids)}::bigint[]) order by s.document_id`,
  );
  const sent = found.find((f) => f.sent);
  if (sent)
    return fail({
      code: "IN_USE",
      what: `${sent.number} has gone out to the customer; correct it by a credit note`,
    });
  const corrected = found.find((f) => f.correctedBy !== null);
  if (corrected)
    return fail({
      code: "IN_USE",
      what: `${corrected.correctedBy} corrects it; cancel that first`,
    });
  const released = await releasedOf(
    context,
    found.map((f) => f.id),
  );
  if (released !== null)
    return fail({
      code: "IN_USE",
      what: `Of ${released.number} revenue is earned already by ${released.run}; correct it by a credit note, or reverse that first`,
    });
  const setOff = await setOffOf(
    context,
    found.map((f) => f.id),
  );
  if (setOff !== null)
    return fail({
      code: "IN_USE",
      what: `${setOff.by} sets off what ${setOff.number} asked for; cancel that first`,
    });
  const reversed = await reverseJournals(
    context,
    found.map((f) => f.journal),
    null,
  );
  if (!reversed.ok) return reversed;
  await documentLinks(
    context.tx,
    "made",
    found.map((f, i) => [f.id, reversed.value[i]!.id] as const),
  );
  await setStatus(
    context.tx,
    found.map((f) => f.id),
    "reversed",
  );
  // What a credit note gave back may have been set off anew since.
  const stands = await againstSetOff(
    context.tx,
    found.map((f) => f.id),
  );
  if (!stands.ok) return stands;
  return ok(
    found.map(({ id }, i) => {
      const { number: journal, date } = reversed.value[i]!;
      return { id, journal, date };
    }),
  );
}
