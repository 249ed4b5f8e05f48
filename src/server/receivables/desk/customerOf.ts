import { sql } from "drizzle-orm";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { rows } from "../../db";
import { deskFacts, type DeskFacts } from "./deskFacts";

export interface CustomerOfCompany {
  company: { id: number; code: string; name: string; currency: string };
  partner: { id: number; code: string };
  /** As the desk knows it today; undefined where nothing is open. */
  facts: DeskFacts | undefined;
}

/** A customer in a company, with what the desk knows of it. */
export async function customerOf(
  context: Context,
  input: { company: string; partner: string },
): Promise<Result<CustomerOfCompany>> {
  const company = context.masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const [partner] = await rows<CustomerOfCompany["partner"]>(
    context.tx,
    sql`select id, code from partner where code = ${input.partner} and customer`,
  );
  if (!partner) return fail({ code: "PARTNER_UNKNOWN", partner: input.partner });
  const [facts] = await deskFacts(context, company, context.today, partner.code);
  return ok({ company, partner, facts });
}
