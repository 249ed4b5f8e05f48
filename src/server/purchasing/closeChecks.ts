import { sql } from "drizzle-orm";
import { amountText, dateText } from "@/core/shared";
import { rows } from "../db";
import type { CloseCheckKind } from "../checks";
import { balanceOn } from "../openItems";

export const receivedEqualsAccount: CloseCheckKind = {
  code: "received",
  name: "Received, not invoiced, equals its control account and is not old",
  async look(context, { company, to, query }) {
    const { tx, masters } = context;
    const received = masters.accounts.filter((a) => a.control === "GRNI");
    const [leftovers] = await rows<{ left: bigint; old: number }>(
      tx,
      sql`select (select coalesce(sum(functional), 0)::bigint from grni_entry
          where company_id = ${company.id} and date <= ${to}) as "left",
        (select count(*)::int from (select e.receipt_line_id from grni_entry e
          join receipt_line r on r.id = e.receipt_line_id
          where e.company_id = ${company.id} and r.date < ${to}::date - 90 and e.date <= ${to}
          group by 1 having sum(e.functional) <> 0) x) as old`,
    );
    const grni = {
      ...leftovers!,
      account: received.map((a) => a.number).join(", "),
      balance: -(await balanceOn(
        context,
        company.id,
        received.map((a) => a.id),
        { on: to },
      )),
    };
    const differ = grni.balance !== grni.left;
    return {
      state: differ ? "fails" : grni.old > 0 ? "warns" : "holds",
      finding: differ
        ? `${grni.account} held ${amountText(grni.balance, company.currency)} on ${dateText(to)}, the leftovers came to ${amountText(grni.left, company.currency)}.`
        : grni.old > 0
          ? `${grni.old === 1 ? "One leftover is" : `${grni.old} leftovers are`} older than 90 days. Ask for the invoice, or clean up.`
          : `What is received and not invoiced is what ${grni.account} holds, and none of it is older than 90 days.`,
      door: differ || grni.old > 0 ? `/payables/received?${query}` : null,
    };
  },
};
