import { sql } from "drizzle-orm";
import type { SubLedger } from "../checks";

/**
 * What was received and not invoiced: every movement has a journal that moves the account too, and
 * is known from that journal's instant on, which never goes back.
 */
export const received: SubLedger = {
  control: "GRNI",
  name: "Received, not invoiced",
  lists: "leftovers of receipts",
  movements: sql`select e.company_id, null::int as account_id, null::text as partner,
    null::char(3) as currency, e.date, j.posted_at as known_at, null::bigint as amount,
    -e.functional as functional from grni_entry e left join journal j on j.id = e.journal_id`,
  by: [],
  page: "/payables/received",
};
