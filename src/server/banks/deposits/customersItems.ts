import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";

/** What a customer owes and a cheque of it could pay. */
export interface CustomersItem {
  id: number;
  reference: string;
  due: CalendarDate;
  left: Minor;
}

/** The open items of a customer in a currency, the oldest first. */
export const customersItems = defineUseCase({
  name: "customersItems",
  kind: "read",
  rights: ["read.banks", "read.receivables"],
  what: "see deposits",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    partner: string().required(),
    currency: string().required(),
  }),
  run: async ({ tx }, input): Promise<Result<CustomersItem[]>> => {
    const found = await rows<{ id: bigint; reference: string; due: string; left: bigint }>(
      tx,
      sql`select i.id, i.reference, i.due_date as due, i.left_amount as "left"
        from open_item i join company c on c.id = i.company_id
        where c.code = ${input.company} and i.area = 'receivables' and i.partner = ${input.partner}
          and i.currency = ${input.currency} and i.left_amount > 0
        order by i.due_date, i.id limit 200`,
    );
    return ok(found.map((i) => ({ ...i, id: Number(i.id), left: minor(i.left) })));
  },
});
