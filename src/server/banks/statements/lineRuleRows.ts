import { sql } from "drizzle-orm";
import type { LineRule } from "@/core/banks/matching";
import { rows, type Db } from "../../db";

/** A rule of a company's own, as it is kept and shown. */
export interface LineRuleRow {
  id: number;
  version: number;
  company: string;
  name: string;
  place: number;
  /** Code of the bank account; "" for all. */
  bank: string;
  text: string;
  party: string;
  code: string;
  side: LineRule["side"];
  from: string;
  to: string;
  outcome: LineRule["outcome"];
  inUse: boolean;
}

export type KeptRule = LineRuleRow & { companyId: number; bankId: number | null };

export const RULE_COLUMNS = sql`r.id, r.version, c.code as company, r.company_id as "companyId", r.name,
  r.place, r.bank_account_id as "bankId", coalesce(b.code, '') as bank, r.text, r.party, r.code,
  r.side, r."from", r."to", r.outcome, r.in_use as "inUse"
  from line_rule r join company c on c.id = r.company_id
  left join bank_account b on b.id = r.bank_account_id`;

/** The rules of a company that are asked, in their order. */
export const rulesInUse = async (tx: Db, companyId: number): Promise<LineRule[]> =>
  (
    await rows<KeptRule>(
      tx,
      sql`select ${RULE_COLUMNS} where r.company_id = ${companyId} and r.in_use order by r.place, r.id`,
    )
  ).map(({ bankId, ...r }) => ({ ...r, bank: bankId }));
