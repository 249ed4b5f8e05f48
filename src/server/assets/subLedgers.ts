import { sql, type SQL } from "drizzle-orm";
import type { SubLedger } from "../checks";

/** What has moved the accounts of one control kind, line by line; amounts in a currency are not known. */
const movementsOf = (control: "asset" | "intake"): SQL => sql`
  select e.company_id, e.book_id, e.account_id, null::text as partner, null::char(3) as currency, e.date,
    coalesce(j.posted_at, e.made_at) as known_at, null::bigint as amount, e.amount as functional
  from asset_entry e join account a on a.id = e.account_id and a.control = ${control}
    left join journal j on j.id = e.journal_id`;

export const assets: SubLedger = {
  control: "asset",
  name: "Assets",
  lists: "assets, and what waits for one",
  movements: movementsOf("asset"),
  by: ["account"],
  byBook: true,
  page: "/assets/register",
};
export const assetIntake: SubLedger = {
  control: "intake",
  name: "Asset intake",
  lists: "lines that wait to become assets",
  movements: movementsOf("intake"),
  by: ["account"],
  byBook: true,
  page: "/assets/intake",
};
