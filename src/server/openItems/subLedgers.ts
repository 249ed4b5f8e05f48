import { sql, type SQL } from "drizzle-orm";
import type { ItemControl } from "@/core/ledger";
import type { SubLedger } from "../checks";

/** Items with what they were made with, and what allocations have taken from them since. */
const movementsOf = (control: ItemControl): SQL => sql`
  select i.company_id, i.account_id, i.partner, i.currency, i.date, j.posted_at as known_at,
    i.amount, i.functional
    from open_item i left join journal j on j.id = i.journal_id where i.area = ${control}
  union all
  select i.company_id, i.account_id, i.partner, i.currency, a.date, a.made_at,
    -l.amount, -l.functional
    from allocation_line l join allocation a on a.id = l.allocation_id
      join open_item i on i.id = l.item_id where i.area = ${control}`;

const itemsOf = (
  control: ItemControl,
  said: Pick<SubLedger, "name" | "lists" | "page">,
): SubLedger => ({
  control,
  movements: movementsOf(control),
  by: ["account", "partner", "currency"],
  ...said,
});

export const payables = itemsOf("payables", {
  name: "Payables",
  lists: "open items of suppliers",
  page: "/payables",
});
export const receivables = itemsOf("receivables", {
  name: "Receivables",
  lists: "open items of customers",
  page: "/receivables",
});
export const moneyUnderWay = itemsOf("transit", {
  name: "Money under way",
  lists: "payments that no bank has confirmed",
  page: "/payables/payments",
});
