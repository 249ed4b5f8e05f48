import { sql } from "drizzle-orm";

/**
 * Every payment and receipt of ours that can be on its way to or from a bank: its journal, its bank
 * account, where it goes to an account of our own, and the file that it went out with.
 */
export const MONEY = sql`(select document_id, journal_id, bank_account_id, to_bank_id, file_id
    from payment
  union all select r.document_id, r.journal_id, r.bank_account_id, null::int, x.file_id
    from receipt r left join direct_debit x on x.receipt_id = r.document_id)`;

/**
 * The block of its file in which a direct debit went out, as the file names it: of the file `f`, the
 * mandate `m` and the debit `x`.
 */
export const DEBIT_BLOCK = sql`f.message_id || '-' || upper(m.scheme) || '-' || x.sequence`;
