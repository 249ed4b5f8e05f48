import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { letterLayoutSchema, noLayout, type LetterLayout } from "@/core/letters";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows, type Db } from "../db";
import { isDrawable } from "./picture";

/** How the letters of a company look: as it was set up, or as it is where nothing was. */
export async function readLayout(tx: Db, company: { id: number; code: string }) {
  const [found] = await rows<{ layout: Omit<LetterLayout, "company"> }>(
    tx,
    sql`select layout from letter_layout where company_id = ${company.id}`,
  );
  return found
    ? letterLayoutSchema.cast({ ...found.layout, company: company.code })
    : noLayout(company.code);
}

export const getLetterLayout = defineUseCase({
  name: "getLetterLayout",
  kind: "read",
  rights: ["read.setup", "setup.organisation", "setup.rules"],
  what: "see how letters look",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<LetterLayout>> => {
    const company = masters.companyByCode.get(input.company);
    return company
      ? ok(await readLayout(tx, company))
      : fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  },
});

export const saveLetterLayout = defineUseCase({
  name: "saveLetterLayout",
  kind: "write",
  rights: ["setup.organisation", "setup.rules"],
  what: "set up letters",
  company: (i) => i.company,
  schema: letterLayoutSchema,
  run: async (context, input): Promise<Result<object>> => {
    const { tx, masters, audit } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (input.logo !== "" && !(await isDrawable(input.logo)))
      return fail({
        code: "INVALID",
        what: "The logo is damaged and can't be drawn",
        field: "logo",
      });
    const before = await readLayout(tx, company);
    const { company: code, ...layout } = input;
    await tx.execute(
      sql`insert into letter_layout (company_id, layout)
        values (${company.id}, ${JSON.stringify(layout)}::jsonb)
        on conflict (company_id) do update set layout = excluded.layout`,
    );
    await audit({
      action: "changed",
      kind: "letter layout",
      recordId: company.id,
      label: code,
      companyId: company.id,
      before: told(before),
      after: told(input),
    });
    return ok({});
  },
});

/** What the history keeps of a layout: a logo is too large to be read there. */
const told = ({ logo, ...layout }: LetterLayout) => ({
  ...layout,
  logo: logo === "" ? "none" : `${logo.length} characters`,
});
