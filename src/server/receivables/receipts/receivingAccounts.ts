import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";

/** A bank account that customers pay to, as whoever records their money sees it. */
export interface ReceivingAccount {
  code: string;
  name: string;
  currency: string;
}

/** The accounts of a company to which a customer's money can come. */
export const receivingAccounts = defineUseCase({
  name: "receivingAccounts",
  kind: "read",
  rights: ["read.receivables", "read.banks"],
  what: "see receipts",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx }, input): Promise<Result<ReceivingAccount[]>> => {
    // Cash has its own book: it is at no bank.
    const found = await rows<ReceivingAccount>(
      tx,
      sql`select b.code, b.name, b.currency from bank_account b
          join company c on c.id = b.company_id
        where c.code = ${input.company} and b.closed_on is null and b.kind <> 'cash'
        order by b.currency <> c.currency, b.code`,
    );
    return ok(found);
  },
});
