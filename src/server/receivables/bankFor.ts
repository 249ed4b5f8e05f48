import { sql } from "drizzle-orm";
import type { Context } from "../access";
import { rows } from "../db";

export interface OwnBank {
  iban: string;
  bic: string;
}

/** Where the customer pays: the company's account of the invoice's currency, else of its own. */
export async function bankFor(
  { tx }: Pick<Context, "tx">,
  companyId: number,
  currency: string,
): Promise<OwnBank> {
  const [bank] = await rows<OwnBank>(
    tx,
    sql`select b.iban, b.bic from bank_account b join company c on c.id = b.company_id
      where b.company_id = ${companyId} and b.iban <> ''
        and b.currency in (${currency}, c.currency)
      order by (b.currency = ${currency}) desc, b.code limit 1`,
  );
  return bank ?? { iban: "", bic: "" };
}
