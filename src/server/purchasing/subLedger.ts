import { sql } from "drizzle-orm";
import type { SubLedger } from "../checks";

/** What was received and not invoiced: every movement has a journal that moves the account too. */
export const received: SubLedger = {
  control: "GRNI",
  name: "Received, not invoiced",
  lists: "leftovers of receipts",
  movements: sql`select company_id, null::int as account_id, null::text as partner,
    null::char(3) as currency, date, made_at as known_at, null::bigint as amount,
    -functional as functional from grni_entry`,
  by: [],
  page: "/payables/received",
};
