import { sql } from "drizzle-orm";
import { catchAccounts } from "@/core/statements";
import { rows } from "../db";
import type { CloseCheckKind } from "../checks";
import { readOutlines } from "./statements";

export const statementsWhole: CloseCheckKind = {
  code: "statements",
  name: "Statements catch every account once",
  async look(context, { company, query }) {
    const { tx, masters } = context;
    const used = await rows<{ accountId: number }>(
      tx,
      sql`select distinct account_id as "accountId" from account_balance where company_id = ${company.id}`,
    );
    const accounts = used.map((u) => masters.accountById.get(u.accountId)!);
    const missing: string[] = [];
    for (const outline of await readOutlines(tx)) {
      const { uncaught, caughtTwice } = catchAccounts(outline, accounts);
      missing.push(
        ...uncaught.map((a) => `${a.number} is on no line of the ${outline.name.toLowerCase()}`),
        ...caughtTwice.map(
          (a) => `${a.number} is on two lines of the ${outline.name.toLowerCase()}`,
        ),
      );
    }
    return {
      state: missing.length === 0 ? "holds" : "fails",
      finding:
        missing.length === 0
          ? `${accounts.length} accounts with balances, each on one line.`
          : `${missing.slice(0, 3).join("; ")}${missing.length > 3 ? ` and ${missing.length - 3} more` : ""}.`,
      door:
        missing.length === 0
          ? null
          : `${context.may("read.setup") ? "/setup/outlines" : "/statements/income-statement"}?${query}`,
    };
  },
};
