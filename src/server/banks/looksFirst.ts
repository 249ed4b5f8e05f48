import { sql, type SQL } from "drizzle-orm";
import type { UndoKind } from "@/core/banks";

/**
 * Whether a second person looks before something posted of a bank account `b` is undone: where it is
 * set up so for what it is, and while a change of the account waits, for that may be what would take
 * it away.
 */
export const looksFirst = (kind: UndoKind): SQL =>
  sql`(${kind} = any(b.undo_reviews) or b.waits = 'change')`;
