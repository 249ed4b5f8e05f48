import { sql } from "drizzle-orm";
import { dateText } from "@/core/shared";
import type { CloseCheckKind } from "../../checks";
import { rows } from "../../db";
import { reconciledUntil } from "./reconciledUntil";

/** Every bank account that has statements is reconciled up to the end of what is closed. */
export const banksReconciled: CloseCheckKind = {
  code: "banks",
  name: "Bank accounts are reconciled",
  async look({ tx }, { company, to, query }) {
    const accounts = await rows<{ code: string; until: string | null }>(
      tx,
      sql`select b.code, ${reconciledUntil(sql`b.id`)} as until
        from bank_account b where b.company_id = ${company.id} and exists (
          select 1 from statement_line l where l.bank_account_id = b.id and l.booked <= ${to})
        order by b.code`,
    );
    const open = accounts.filter((a) => a.until === null || a.until < to);
    if (open.length === 0)
      return {
        state: "holds",
        finding:
          accounts.length === 0
            ? "No bank account has statements of that time."
            : accounts.length === 1
              ? `One bank account with statements, reconciled up to ${dateText(to)}.`
              : `${accounts.length} bank accounts with statements, each reconciled up to ${dateText(to)}.`,
        door: null,
      };
    return {
      state: "fails",
      finding: `${open
        .slice(0, 5)
        .map(({ code, until }) =>
          until ? `${code} is reconciled up to ${dateText(until)}` : `${code} is not reconciled`,
        )
        .join("; ")}${open.length > 5 ? ` and ${open.length - 5} more` : ""}.`,
      door: `/banks?${query}`,
    };
  },
};
