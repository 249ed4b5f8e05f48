import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { termsSchema, type Terms } from "@/core/openItems";
import { ok } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase } from "../access";
import { READ } from "./rights";

export interface TermsRow {
  code: string;
  name: string;
  terms: Terms;
}
export const listTerms = defineUseCase({
  name: "listTerms",
  kind: "read",
  rights: [...READ, "read.setup"],
  what: "see terms of payment",
  of: "shared",
  schema: object(),
  run: async ({ tx }) =>
    ok(await rows<TermsRow>(tx, sql`select code, name, terms from payment_terms order by code`)),
});

export const saveTerms = defineUseCase({
  name: "saveTerms",
  kind: "write",
  rights: ["setup.rules", "prepare.payables", "prepare.receivables"],
  what: "change terms of payment",
  of: "group",
  schema: object({
    code: string()
      .trim()
      .required("A code is needed")
      .matches(/^[A-Za-z0-9-]{1,20}$/, "A code has letters, figures and dashes"),
    name: string().trim().required("A name is needed").max(80),
    terms: termsSchema.required(),
  }),
  run: async ({ tx, audit }, input) => {
    const [before] = await rows<TermsRow>(
      tx,
      sql`select code, name, terms from payment_terms where code = ${input.code}`,
    );
    await tx.execute(
      sql`insert into payment_terms (code, name, terms) values (${input.code}, ${input.name},
        ${JSON.stringify(input.terms)}::jsonb)
        on conflict (code) do update set name = excluded.name, terms = excluded.terms`,
    );
    await audit({
      action: before ? "changed" : "added",
      kind: "terms",
      recordId: input.code,
      label: input.name,
      before,
      after: input,
    });
    return ok({});
  },
});
