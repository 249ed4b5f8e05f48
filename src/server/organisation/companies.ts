import { taxNumberFits } from "@/core/partners";
import { companySchema } from "@/core/organisation";
import { sql } from "drizzle-orm";
import { fail, isCurrency, ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";

export const saveCompany = defineUseCase({
  name: "saveCompany",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up companies",
  of: "group",
  schema: companySchema,
  run: async ({ tx, masters, audit }, input) => {
    if (!isCurrency(input.currency))
      return fail({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    if (!taxNumberFits(input.taxNumber, input.country))
      return fail({
        code: "INVALID",
        what: `“${input.taxNumber}” has not the form of a tax number of ${input.country}`,
        field: "taxNumber",
      });
    const before = masters.companyByCode.get(input.code);
    if (before && before.currency !== input.currency) {
      const [used] = await rows<{ there: boolean }>(
        tx,
        sql`select exists (select 1 from journal where company_id = ${before.id}) as there`,
      );
      if (used!.there)
        return fail({
          code: "IN_USE",
          what: `${before.name} has postings in ${before.currency}, which stays its functional currency`,
          field: "currency",
        });
    }
    const [saved] = await rows<{ id: number }>(
      tx,
      sql`insert into company (code, name, currency, country, street, postcode, city, tax_number,
        lei, creditor_id) values (${input.code}, ${input.name}, ${input.currency}, ${input.country},
        ${input.street}, ${input.postcode}, ${input.city}, ${input.taxNumber}, ${input.lei},
        ${input.creditorId})
          on conflict (code) do update set name = excluded.name, currency = excluded.currency,
            country = excluded.country, street = excluded.street, postcode = excluded.postcode,
            city = excluded.city, tax_number = excluded.tax_number, lei = excluded.lei,
            creditor_id = excluded.creditor_id
            returning id`,
    );
    await tx.execute(
      sql`insert into chain (company_id) values (${saved!.id}) on conflict do nothing`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "company",
      recordId: saved!.id,
      label: input.code,
      companyId: saved!.id,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});
