import { sql } from "drizzle-orm";
import { number } from "yup";
import { writtenAccountProblem } from "@/core/ledger";
import { partnerSchema, taxNumberFits, type PartnerInput } from "@/core/partners";
import { fail, isCurrency, ok, type Found, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { dealingWith } from "./dealing";
import { COLUMNS, type PartnerRow } from "./partnerRow";
import { WRITE } from "./rights";

export async function problemsOf({ tx, masters }: Context, input: PartnerInput): Promise<Found[]> {
  const problems: Found[] = [];
  if (!taxNumberFits(input.taxNumber, input.country))
    problems.push({
      code: "INVALID",
      what: `“${input.taxNumber}” has not the form of a tax number of ${input.country}`,
      field: "taxNumber",
    });
  if (input.currency && !isCurrency(input.currency))
    problems.push({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
  const fault = writtenAccountProblem(masters, input.account, { field: "account" });
  if (fault) problems.push(fault);
  for (const [dimensionCode, value] of Object.entries(input.dimensions)) {
    const dimension = masters.dimensionByCode.get(dimensionCode);
    if (!dimension)
      problems.push({ code: "DIMENSION_UNKNOWN", dimension: dimensionCode, field: "dimensions" });
    else if (value && !masters.value(dimension.id, value))
      problems.push({
        code: "VALUE_UNKNOWN",
        dimension: dimension.name.toLowerCase(),
        value,
        field: `d.${dimensionCode}`,
      });
  }
  if (input.terms) {
    const [known] = await rows(tx, sql`select 1 from payment_terms where code = ${input.terms}`);
    if (!known)
      problems.push({ code: "NOT_FOUND", what: `such terms as ${input.terms}`, field: "terms" });
  }
  if (
    input.shares &&
    (await rows(tx, sql`select 1 from share_set where code = ${input.shares}`)).length === 0
  )
    problems.push({ code: "NOT_FOUND", what: `such shares as ${input.shares}`, field: "shares" });
  if (!input.supplier && !input.customer)
    problems.push({
      code: "INVALID",
      what: "Say whether it is a supplier, a customer, or both",
      field: "supplier",
    });
  return problems;
}

export const savePartner = defineUseCase({
  name: "savePartner",
  kind: "write",
  rights: WRITE,
  what: "change suppliers and customers",
  // What others deal with is changed by whoever has the right with all of them.
  of: (context, input) => dealingWith(context, [input.code]),
  schema: partnerSchema.shape({ version: number().integer() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, audit } = context;
    const { version, ...partner } = input;
    const problems = await problemsOf(context, partner);
    if (problems.length > 0) return fail(...problems);
    const [before] = await rows<PartnerRow>(
      tx,
      sql`select ${COLUMNS} from partner p where p.code = ${input.code} for update of p`,
    );
    if (before && version === undefined)
      return fail({ code: "EXISTS", what: `Number ${input.code}`, field: "code" });
    if (before && version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const values = sql`${partner.name}, ${partner.supplier}, ${partner.customer}, ${partner.street},
      ${partner.postcode}, ${partner.city}, ${partner.country}, ${partner.email},
      ${partner.taxNumber}, ${partner.lei}, ${partner.language}, ${partner.currency || null}, ${partner.terms || null},
      ${partner.method}, ${partner.purpose}, ${partner.account}, ${JSON.stringify(partner.dimensions)}::jsonb,
      ${partner.taxCode}, ${partner.shares}, ${partner.hold}, ${partner.blocked}`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update partner set (name, supplier, customer, street, postcode, city, country, email,
            tax_number, lei, language, currency, terms, method, purpose, account, dimensions,
            tax_code, shares, hold,
            blocked) = (${values}), version = version + 1 where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into partner (code, name, supplier, customer, street, postcode, city, country,
            email, tax_number, lei, language, currency, terms, method, purpose, account, dimensions,
            tax_code, shares, hold,
            blocked) values (${partner.code}, ${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "partner",
      recordId: saved!.id,
      label: `${partner.code} ${partner.name}`,
      before,
      after: partner,
    });
    return ok({ id: saved!.id });
  },
});
