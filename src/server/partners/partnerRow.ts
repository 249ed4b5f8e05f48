import { sql } from "drizzle-orm";
import type { PartnerInput } from "@/core/partners";

export interface PartnerRow extends PartnerInput {
  id: number;
  version: number;
  /** Whether a bank account of it is confirmed, waits for a second person, or is missing. */
  bank: "confirmed" | "waiting" | "none";
}

/** What tells an account from all others: bankAddressKey, in SQL. */
export const KEY = sql`coalesce(nullif(b.iban, ''), concat_ws(' ', b.country,
  coalesce(nullif(b.routing, ''), b.bic), b.number))`;

export const COLUMNS = sql`p.id, p.code, p.name, p.supplier, p.customer, p.street, p.postcode, p.city,
  p.country, p.email, p.tax_number as "taxNumber", p.lei, p.language, p.currency, p.terms,
  p.method, p.purpose, p.account, p.dimensions, p.tax_code as "taxCode", p.shares, p.hold, p.blocked, p.version,
  coalesce((select case when bool_or(b.state = 'confirmed') then 'confirmed'
    when bool_or(b.state = 'waiting') then 'waiting' end from partner_bank b
    where b.partner_id = p.id), 'none') as bank`;
