import { sql } from "drizzle-orm";
import { number, type InferType } from "yup";
import { NO_BANK_ADDRESS, readBankAddress, type BankAddress } from "@/core/banks";
import { mandateSchema } from "@/core/receivables";
import { dateText, fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { LAST_USE } from "./mandateFacts";

const schema = mandateSchema.shape({ id: number().integer() });
type Input = InferType<typeof schema>;

interface Checked {
  company: { id: number };
  partner: { id: number; name: string };
  address: BankAddress;
}

/** What stands against a mandate as it was entered; where nothing does, whose it is. */
export async function checkMandate(
  { tx, masters, today }: Context,
  input: Input,
): Promise<Result<Checked>> {
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const problems: Found[] = [];
  const [partner] = await rows<{ id: number; name: string; customer: boolean }>(
    tx,
    sql`select id, name, customer from partner where code = ${input.partner} for update`,
  );
  if (!partner?.customer)
    problems.push({ code: "PARTNER_UNKNOWN", partner: input.partner, field: "partner" });
  const read = readBankAddress({ ...NO_BANK_ADDRESS, iban: input.iban, bic: input.bic });
  if (!read.ok)
    problems.push(
      ...read.problems.map((p): Found => ({ code: "INVALID", what: p.what, field: p.field })),
    );
  if (input.signed! > today)
    problems.push({
      code: "INVALID",
      what: `${dateText(input.signed!)} has not come yet`,
      field: "signed",
    });
  const [used] = await rows<{ uses: number; ended: string | null }>(
    tx,
    sql`select m.ended, u.uses from mandate m ${LAST_USE}
      where m.id = ${input.id ?? 0} and m.company_id = ${company.id}`,
  );
  if (input.id !== undefined && !used) return fail({ code: "NOT_FOUND", what: "such mandate" });
  if (used && (used.uses > 0 || used.ended !== null))
    return fail({
      code: "IN_USE",
      what: "It was used or has ended, and stays as it was signed: end it, and enter the new one",
    });
  const [same] = await rows<{ reference: boolean; partner: string }>(
    tx,
    sql`select m.reference = ${input.reference} as reference, p.name as partner
      from mandate m join partner p on p.id = m.partner_id
      where m.company_id = ${company.id} and m.id <> ${input.id ?? 0}
        and (m.reference = ${input.reference}
          or (m.partner_id = ${partner?.id ?? 0} and m.ended is null))
      order by m.reference = ${input.reference} desc limit 1`,
  );
  if (same)
    problems.push(
      same.reference
        ? {
            code: "INVALID",
            what: `${same.partner} has the mandate of that reference`,
            field: "reference",
          }
        : {
            code: "INVALID",
            what: `${same.partner} has a mandate already; end that first`,
            field: "partner",
          },
    );
  return read.ok && partner && problems.length === 0
    ? ok({ company, partner, address: read.address })
    : { ok: false, problems: problems as [Found, ...Found[]] };
}

/** Keeps a mandate: a new one, or one that was never used, as it was signed. */
export const saveMandate = defineUseCase({
  name: "saveMandate",
  kind: "write",
  rights: ["prepare.receivables"],
  what: "enter mandates",
  company: (i) => i.company,
  schema,
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, audit } = context;
    const checked = await checkMandate(context, input);
    if (!checked.ok) return checked;
    const { company, partner, address } = checked.value;
    const { iban, bic } = address;
    const [kept] = await rows<{ id: number }>(
      tx,
      input.id === undefined
        ? sql`insert into mandate (company_id, partner_id, reference, signed, scheme, kind, iban,
            bic, holder, notice) values (${company.id}, ${partner.id}, ${input.reference},
            ${input.signed}, ${input.scheme}, ${input.kind}, ${iban}, ${bic}, ${input.holder},
            ${input.notice}) returning id`
        : sql`update mandate set partner_id = ${partner.id}, reference = ${input.reference},
            signed = ${input.signed}, scheme = ${input.scheme}, kind = ${input.kind},
            iban = ${iban}, bic = ${bic}, holder = ${input.holder}, notice = ${input.notice}
            where id = ${input.id} returning id`,
    );
    await audit({
      action: input.id === undefined ? "added" : "changed",
      kind: "mandate",
      recordId: kept!.id,
      label: `${input.reference} of ${partner.name}`.slice(0, 200),
      companyId: company.id,
      after: { ...input, iban, bic },
    });
    return ok({ id: kept!.id });
  },
});
