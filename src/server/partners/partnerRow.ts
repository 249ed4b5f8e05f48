import { sql, type SQL } from "drizzle-orm";
import type { PartnerInput } from "@/core/partners";
import { decimalText, minor } from "@/core/shared";
import { rows, type Db } from "../db";

export interface PartnerRow extends PartnerInput {
  id: number;
  version: number;
  /** Whether a bank account of it is confirmed, waits for a second person, or is missing. */
  bank: "confirmed" | "waiting" | "none";
}

/** What tells an account from all others: bankAddressKey, in SQL. */
export const KEY = sql`coalesce(nullif(b.iban, ''), concat_ws(' ', b.country,
  coalesce(nullif(b.routing, ''), b.bic), b.number))`;

const COLUMNS = sql`p.id, p.code, p.name, p.supplier, p.customer, p.street, p.postcode, p.city,
  p.country, p.email, p.delivery_name as "deliveryName", p.delivery_street as "deliveryStreet",
  p.delivery_postcode as "deliveryPostcode", p.delivery_city as "deliveryCity",
  p.delivery_country as "deliveryCountry", p.statement_name as "statementName",
  p.statement_street as "statementStreet", p.statement_postcode as "statementPostcode",
  p.statement_city as "statementCity", p.statement_country as "statementCountry",
  p.statement_email as "statementEmail", p.tax_number as "taxNumber", p.lei, p.language, p.currency, p.terms,
  p.method, p.purpose, p.account, p.dimensions, p.tax_code as "taxCode", p.shares, p.hold,
  p.credit_limit as units, p.credit_currency as "creditCurrency", p.insurer,
  p.insured_amount as insured, coalesce(p.insured_until::text, '') as "insuredUntil", p.grade, p.collector,
  p.stand_in as "standIn", p.customer_group as "customerGroup", p.head_office as "headOffice",
  p.blocks, p.block_reason as "blockReason", p.blocked, p.version,
  coalesce((select case when bool_or(b.state = 'confirmed') then 'confirmed'
    when bool_or(b.state = 'waiting') then 'waiting' end from partner_bank b
    where b.partner_id = p.id), 'none') as bank`;

/** Partners as they are kept, of those that `which` (what follows "from partner p") names. */
export async function readPartners(tx: Db, which: SQL = sql``): Promise<PartnerRow[]> {
  const found = await rows<
    Omit<PartnerRow, "creditLimit" | "insuredAmount"> & {
      units: bigint | null;
      insured: bigint | null;
    }
  >(tx, sql`select ${COLUMNS} from partner p ${which}`);
  return found.map(({ units, insured, ...p }) => ({
    ...p,
    creditLimit: units === null ? "" : decimalText(minor(units), p.creditCurrency),
    insuredAmount: insured === null ? "" : decimalText(minor(insured), p.creditCurrency),
  }));
}
