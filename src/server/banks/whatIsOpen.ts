import { sql } from "drizzle-orm";
import { amountText } from "@/core/shared";
import type { Context } from "../access";
import { rows } from "../db";
import { balancesByCurrencyOn } from "../openItems";
import type { BankAccount } from "./bankAccounts";
import { bankOfSide } from "./sideOfTransfer";

/** Why an account cannot be closed: it holds something, or something is under way from it; null if not. */
export async function whatIsOpen(context: Context, bank: BankAccount): Promise<string | null> {
  const account = context.masters.accountByNumber.get(bank.account);
  const held = account
    ? (await balancesByCurrencyOn(context, bank.companyId, [account.id], "9999-12-31")).find(
        (h) => h.amount !== 0n,
      )
    : undefined;
  if (held)
    return `${bank.code} holds ${amountText(held.amount, held.currency)} ${held.currency}: it closes when its balance is nil`;
  const [underWay] = await rows<{ count: number }>(
    context.tx,
    sql`select count(*)::int as count from open_item i
      where i.company_id = ${bank.companyId} and i.area = 'transit' and i.left_amount <> 0
        and (exists (select 1 from document_link l join payment p on p.document_id = l.from_id
          where l.to_id = i.journal_id and l.kind = 'made' and ${bankOfSide("i", "p")} = ${bank.id})
        or exists (select 1 from deposit_part y join deposit t on t.document_id = y.document_id
          where i.journal_id in (y.journal_id, y.return_journal_id)
            and t.bank_account_id = ${bank.id}))`,
  );
  return underWay!.count > 0
    ? `Money from or to ${bank.code} is under way: it closes when the bank has carried that out`
    : null;
}
