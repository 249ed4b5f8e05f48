import { sql, type SQL } from "drizzle-orm";
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

const unitsOf = (written: string, currency: string): bigint | null => {
  const read = written === "" ? null : readAmount(written, currency);
  return read?.ok ? read.amount : null;
};

const limitHeld = (p: PartnerInput): CreditLimit => ({
  amount: unitsOf(p.creditLimit, p.creditCurrency),
  currency: p.creditCurrency,
});

/** What is kept of it, by the names of the columns; its number is never changed. */
const columnsOf = (p: PartnerInput): Record<string, SQL> => ({
  name: sql`${p.name}`,
  supplier: sql`${p.supplier}`,
  customer: sql`${p.customer}`,
  street: sql`${p.street}`,
  postcode: sql`${p.postcode}`,
  city: sql`${p.city}`,
  country: sql`${p.country}`,
  email: sql`${p.email}`,
  delivery_name: sql`${p.deliveryName}`,
  delivery_street: sql`${p.deliveryStreet}`,
  delivery_postcode: sql`${p.deliveryPostcode}`,
  delivery_city: sql`${p.deliveryCity}`,
  delivery_country: sql`${p.deliveryCountry}`,
  statement_name: sql`${p.statementName}`,
  statement_street: sql`${p.statementStreet}`,
  statement_postcode: sql`${p.statementPostcode}`,
  statement_city: sql`${p.statementCity}`,
  statement_country: sql`${p.statementCountry}`,
  statement_email: sql`${p.statementEmail}`,
  tax_number: sql`${p.taxNumber}`,
  lei: sql`${p.lei}`,
  language: sql`${p.language}`,
  currency: sql`${p.currency || null}`,
  terms: sql`${p.terms || null}`,
  method: sql`${p.method}`,
  purpose: sql`${p.purpose}`,
  account: sql`${p.account}`,
  dimensions: sql`${JSON.stringify(p.dimensions)}::jsonb`,
  tax_code: sql`${p.taxCode}`,
  shares: sql`${p.shares}`,
  hold: sql`${p.hold}`,
  credit_limit: sql`${unitsOf(p.creditLimit, p.creditCurrency)}::bigint`,
  credit_currency: sql`${p.creditCurrency}`,
  insurer: sql`${p.insurer}`,
  insured_amount: sql`${unitsOf(p.insuredAmount, p.creditCurrency)}::bigint`,
  insured_until: sql`${p.insuredUntil || null}::date`,
  grade: sql`${p.grade}`,
  collector: sql`${p.collector}`,
  stand_in: sql`${p.standIn}`,
  customer_group: sql`${p.customerGroup}`,
  head_office: sql`${p.headOffice}`,
  blocks: sql`${JSON.stringify(p.blocks)}::jsonb`,
  block_reason: sql`${p.blockReason}`,
  blocked: sql`${p.blocked}`,
});

/** What stands against the terms on which we sell to it. */
async function ofCustomer(tx: Context["tx"], input: PartnerInput): Promise<Found[]> {
  const problems: Found[] = [];
  const { creditCurrency, blocks, blockReason, headOffice } = input;
  if (!isCurrency(creditCurrency))
    problems.push({ code: "CURRENCY_UNKNOWN", currency: creditCurrency, field: "creditCurrency" });
  else
    for (const field of ["creditLimit", "insuredAmount"] as const) {
      const text = input[field];
      const read = text === "" ? null : readAmount(text, creditCurrency);
      const what = field === "creditLimit" ? "A credit limit" : "What is insured";
      if (read && !read.ok) problems.push({ code: "AMOUNT_NOT_NUMBER", text, field });
      else if (read && read.amount < 0n)
        problems.push({ code: "INVALID", what: `${what} is not negative`, field });
    }
  if (input.insurer === "" && (input.insuredAmount !== "" || input.insuredUntil !== ""))
    problems.push({ code: "REQUIRED", what: "Who insures it", field: "insurer" });
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
    const values = columnsOf(partner);
    const names = sql.raw(Object.keys(values).join(", "));
    const of = sql.join(Object.values(values), sql`, `);
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update partner set (${names}) = (${of}), version = version + 1
            where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into partner (code, ${names}) values (${partner.code}, ${of}) returning id`,
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
