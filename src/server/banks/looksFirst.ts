import { sql } from "drizzle-orm";

/**
 * Whether a second person looks before something posted of a bank account `b` is undone: where it is
 * set up so, and while a change of the account waits, for that may be what would take it away.
 */
export const LOOKS_FIRST = sql`(b.cheque_cancelling = 'review' or b.waits = 'change')`;
