import { sql } from "drizzle-orm";

/** Where letters about accounts go by e-mail, of a partner `p`: the address for statements first. */
export const letterEmail = sql`coalesce(nullif(p.statement_email, ''), p.email)`;
