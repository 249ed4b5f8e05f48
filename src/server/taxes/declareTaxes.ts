import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { dateText, encodeJson, fail, isCalendarDate, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { taxRows } from "./taxSummary";

/**
 * Keeps what was declared of a stretch of whole periods. From then on what comes late is reported
 * in a later period, and the declared one stays as it is.
 */
export const declareTaxes = defineUseCase({
  name: "declareTaxes",
  kind: "write",
  closes: true,
  rights: ["period.ledger"],
  what: "declare taxes",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    from: string().required(),
    to: string().required(),
    /** Under which it was handed in: the office's number, say. */
    reference: string().default("").max(100),
  }),
  run: async (
    { tx, masters, person, now, today, audit },
    input,
  ): Promise<Result<{ id: number }>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const [bad] = [input.from, input.to].filter((d) => !isCalendarDate(d));
    if (bad !== undefined) return fail({ code: "DATE_INVALID", text: bad, field: "from" });
    // Nothing of the company is posted meanwhile: what is posted before counts, what comes after
    // finds these days declared.
    await tx.execute(sql`select 1 from chain where company_id = ${company.id} for update`);
    const [bounds] = await rows<{ begins: boolean; ends: boolean }>(
      tx,
      sql`select coalesce(bool_or(p.start_date = ${input.from}), false) as begins,
        coalesce(bool_or(p.end_date = ${input.to}), false) as ends
        from period p join fiscal_year y on y.id = p.year_id
        where y.company_id = ${company.id} and not p.adjustment`,
    );
    if (!bounds!.begins || !bounds!.ends || input.from > input.to)
      return fail({ code: "INVALID", what: "Taxes are declared by whole periods", field: "from" });
    if (input.to > today)
      return fail({
        code: "INVALID",
        what: `The period runs until ${dateText(input.to)}; its taxes are declared afterwards`,
        field: "to",
      });
    const [there] = await rows<{ from: string; to: string }>(
      tx,
      sql`select start_date as "from", end_date as "to" from tax_declaration
        where company_id = ${company.id} and withdrawn_at is null
        and start_date <= ${input.to} and end_date >= ${input.from} order by start_date limit 1`,
    );
    if (there)
      return fail({
        code: "IN_USE",
        what: `The taxes from ${dateText(there.from)} to ${dateText(there.to)} are declared`,
        field: "from",
      });
    const figures = await taxRows(tx, company.id, input.from, input.to);
    const [made] = await rows<{ id: number }>(
      tx,
      sql`insert into tax_declaration (company_id, start_date, end_date, reference, figures,
        declared_by, declared_at) values (${company.id}, ${input.from}, ${input.to},
        ${input.reference}, ${encodeJson(figures)}::jsonb, ${person.id}, ${now.toISOString()})
        returning id`,
    );
    await audit({
      action: "declared",
      kind: "taxes",
      recordId: made!.id,
      label: `${dateText(input.from)} to ${dateText(input.to)}`,
      companyId: company.id,
      after: { reference: input.reference },
    });
    return ok({ id: made!.id });
  },
});

/** Takes a declaration back, with a reason, so that its periods take records again. */
export const withdrawDeclaration = defineUseCase({
  name: "withdrawDeclaration",
  kind: "write",
  rights: ["period.ledger"],
  what: "withdraw declarations of taxes",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().required("Say why it is withdrawn").max(500),
  }),
  run: async ({ tx, masters, person, now, may, audit }, input): Promise<Result<object>> => {
    const [stored] = await rows<{ company: number; from: string; to: string; open: boolean }>(
      tx,
      sql`select company_id as company, start_date as "from", end_date as "to",
        withdrawn_at is null as open from tax_declaration where id = ${input.id} for update`,
    );
    const company = masters.companies.find((c) => c.id === stored?.company);
    if (!stored || !company) return fail({ code: "NOT_FOUND", what: "such declaration" });
    if (!may("period.ledger", company.code))
      return fail({ code: "FORBIDDEN", what: `withdraw declarations in ${company.code}` });
    if (!stored.open) return fail({ code: "IN_USE", what: "It is withdrawn already" });
    await tx.execute(
      sql`update tax_declaration set withdrawn_by = ${person.id},
        withdrawn_at = ${now.toISOString()}, reason = ${input.reason} where id = ${input.id}`,
    );
    await audit({
      action: "withdrawn",
      kind: "taxes",
      recordId: input.id,
      label: `${dateText(stored.from)} to ${dateText(stored.to)}`,
      companyId: company.id,
      after: { reason: input.reason },
    });
    return ok({});
  },
});
