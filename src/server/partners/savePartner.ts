import { sql } from "drizzle-orm";
import { number } from "yup";
import { writtenAccountProblem } from "@/core/ledger";
import {
  letsOweMore,
  partnerSchema,
  taxNumberFits,
  type CreditLimit,
  type PartnerInput,
} from "@/core/partners";
import { fail, isCurrency, ok, readAmount, type Found, type Result } from "@/core/shared";
import { rows } from "../db";
import { defineUseCase, type Context } from "../access";
import { dealingWith } from "./dealing";
import { readPartners } from "./partnerRow";
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
  problems.push(...(await ofCustomer(tx, input)));
  if (!input.supplier && !input.customer)
    problems.push({
      code: "INVALID",
      what: "Say whether it is a supplier, a customer, or both",
      field: "supplier",
    });
  return problems;
}

const limitOf = ({ creditLimit, creditCurrency }: PartnerInput): bigint | null => {
  const read = creditLimit === "" ? null : readAmount(creditLimit, creditCurrency);
  return read?.ok ? read.amount : null;
};

const limitHeld = (p: PartnerInput): CreditLimit => ({
  amount: limitOf(p),
  currency: p.creditCurrency,
});

/** What stands against the terms on which we sell to it. */
async function ofCustomer(tx: Context["tx"], input: PartnerInput): Promise<Found[]> {
  const problems: Found[] = [];
  const { creditLimit, creditCurrency, blocks, blockReason, headOffice } = input;
  if (!isCurrency(creditCurrency))
    problems.push({ code: "CURRENCY_UNKNOWN", currency: creditCurrency, field: "creditCurrency" });
  else if (creditLimit !== "") {
    const read = readAmount(creditLimit, creditCurrency);
    if (!read.ok)
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: creditLimit, field: "creditLimit" });
    else if (read.amount < 0n)
      problems.push({
        code: "INVALID",
        what: "A credit limit is not negative",
        field: "creditLimit",
      });
  }
  if (blocks.length > 0 && blockReason === "")
    problems.push({ code: "REQUIRED", what: "Why it is blocked", field: "blockReason" });
  for (const field of ["collector", "standIn"] as const) {
    const login = input[field];
    const [known] = login
      ? await rows(tx, sql`select 1 from person where login = ${login} and active`)
      : [1];
    if (!known) problems.push({ code: "NOT_FOUND", what: `such person as ${login}`, field });
  }
  if (headOffice === "") return problems;
  if (headOffice === input.code)
    problems.push({ code: "INVALID", what: "It is its own head office", field: "headOffice" });
  else if (
    (await rows(tx, sql`select 1 from partner where code = ${headOffice} and customer`)).length ===
    0
  )
    problems.push({ code: "PARTNER_UNKNOWN", partner: headOffice, field: "headOffice" });
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
    const [before] = await readPartners(tx, sql`where p.code = ${input.code} for update of p`);
    if (before && version === undefined)
      return fail({ code: "EXISTS", what: `Number ${input.code}`, field: "code" });
    if (before && version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    const isRaised = before && letsOweMore(limitHeld(before), limitHeld(partner));
    if (isRaised && !context.mayEverywhere("setup.rules"))
      return fail({
        code: "INVALID",
        what: "That it may owe more, a second person decides; ask for it under Limits",
        field: "creditLimit",
      });
    const values = sql`${partner.name}, ${partner.supplier}, ${partner.customer}, ${partner.street},
      ${partner.postcode}, ${partner.city}, ${partner.country}, ${partner.email},
      ${partner.taxNumber}, ${partner.lei}, ${partner.language}, ${partner.currency || null}, ${partner.terms || null},
      ${partner.method}, ${partner.purpose}, ${partner.account}, ${JSON.stringify(partner.dimensions)}::jsonb,
      ${partner.taxCode}, ${partner.shares}, ${partner.hold},
      ${limitOf(partner)}::bigint, ${partner.creditCurrency}, ${partner.grade}, ${partner.collector},
      ${partner.standIn}, ${partner.customerGroup}, ${partner.headOffice},
      ${JSON.stringify(partner.blocks)}::jsonb, ${partner.blockReason}, ${partner.blocked}`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update partner set (name, supplier, customer, street, postcode, city, country, email,
            tax_number, lei, language, currency, terms, method, purpose, account, dimensions,
            tax_code, shares, hold, credit_limit, credit_currency, grade, collector, stand_in,
            customer_group, head_office, blocks, block_reason, blocked) = (${values}), version = version + 1 where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into partner (code, name, supplier, customer, street, postcode, city, country,
            email, tax_number, lei, language, currency, terms, method, purpose, account, dimensions,
            tax_code, shares, hold, credit_limit, credit_currency, grade, collector, stand_in,
            customer_group, head_office, blocks, block_reason, blocked) values (${partner.code}, ${values}) returning id`,
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
