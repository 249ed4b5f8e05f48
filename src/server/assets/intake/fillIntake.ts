import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { INTO, type IntakeContent } from "@/core/assets";
import { readCoding } from "@/core/ledger";
import { dayField, fail, ok, textRecord, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, rows } from "../../db";
import { chosen, holdLines, note, ON_INTAKE } from "./holdLines";

const contentSchema = object({
  into: string().oneOf(INTO),
  class: string().trim().uppercase(),
  description: string().trim().max(200),
  inService: dayField(),
  quantity: string().trim().max(20),
  serial: string().trim().max(80),
  place: string().trim().max(80),
  person: string().trim().max(80),
  dimensions: textRecord(),
  asset: string().trim().uppercase().max(40),
  account: string().trim().max(20),
});

/** Writes into lines of the intake what is to become of them: what is said, to each of them. */
export const fillIntake = defineUseCase({
  name: "fillIntake",
  ...ON_INTAKE,
  schema: object({ company: string().required(), lines: chosen, content: contentSchema }),
  run: async (context, { company, lines, content }): Promise<Result<object>> => {
    const { tx } = context;
    const held = await holdLines(context, company, lines);
    if (!held.ok) return held;
    const problems = await againstContent(context, held.value[0]!.company, content);
    if (problems.length > 0) return fail(...(problems as [Found, ...Found[]]));
    // What is not said stays; what is said as nothing is proposed again.
    const said = Object.fromEntries(
      Object.entries(content).filter(([, value]) => value !== undefined),
    ) as IntakeContent;
    const { dimensions, ...rest } = said;
    await tx.execute(sql`
      update asset_intake set version = version + 1,
        content = content || ${JSON.stringify(rest)}::jsonb || case
          when ${dimensions !== undefined} then jsonb_build_object('dimensions',
            coalesce(content->'dimensions', '{}') || ${JSON.stringify(dimensions ?? {})}::jsonb)
          else '{}' end
      where id = any(${arrayOf(held.value.map((h) => h.id))}::bigint[])`);
    await note(context, company, held.value, "filled in", said);
    return ok({});
  },
});

async function againstContent(
  { tx, masters }: Context,
  companyId: number,
  content: IntakeContent,
): Promise<Found[]> {
  const problems: Found[] = [];
  if (content.class) {
    const [found] = await rows<{ blocked: boolean }>(
      tx,
      sql`select blocked from asset_class where code = ${content.class}`,
    );
    if (!found)
      problems.push({
        code: "NOT_FOUND",
        what: `class ${content.class.slice(0, 40)}`,
        field: "class",
      });
    else if (found.blocked)
      problems.push({ code: "INVALID", what: `Class ${content.class} is blocked`, field: "class" });
  }
  if (content.asset) {
    const [found] = await rows<{ status: string }>(
      tx,
      sql`select d.status from asset a join document d on d.id = a.document_id
        where d.number = ${content.asset} and a.company_id = ${companyId}`,
    );
    if (found?.status !== "active")
      problems.push({
        code: "NOT_FOUND",
        what: `asset ${content.asset.slice(0, 40)} in use`,
        field: "asset",
      });
  }
  if (content.account) {
    const account = masters.accountByNumber.get(content.account);
    if (!account)
      problems.push({ code: "ACCOUNT_UNKNOWN", account: content.account, field: "account" });
    else if (account.control !== null)
      problems.push({
        code: "CONTROL_ACCOUNT",
        account: content.account,
        control: account.control,
        field: "account",
      });
  }
  problems.push(...readCoding(masters, null, content.dimensions ?? {}, { date: null }).found);
  if (content.quantity && !/^\d{1,9}(\.\d{1,3})?$/.test(content.quantity))
    problems.push({ code: "QUANTITY_INVALID", text: content.quantity, field: "quantity" });
  return problems;
}
