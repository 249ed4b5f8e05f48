import { sql } from "drizzle-orm";
import { object } from "yup";
import type { CompanyDetails } from "@/core/organisation";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows, type Db } from "../db";

/** Companies with what papers and files of them carry; all, or one by its code. */
export const readCompanies = (tx: Db, code?: string): Promise<CompanyDetails[]> =>
  rows<CompanyDetails>(
    tx,
    sql`select id, code, name, currency, country, street, postcode, city,
      tax_number as "taxNumber", lei, creditor_id as "creditorId" from company
      where ${code === undefined ? sql`true` : sql`code = ${code}`} order by id`,
  );

const RIGHTS = [
  "read.setup",
  "setup.organisation",
  "read.ledger",
  "read.statements",
  "read.close",
] as const;

/** The companies that the person sees anything of. */
export const companyList = defineUseCase({
  name: "companyList",
  kind: "read",
  rights: RIGHTS,
  what: "see companies",
  of: "checked",
  schema: object(),
  run: async ({ tx, may }): Promise<Result<CompanyDetails[]>> =>
    ok((await readCompanies(tx)).filter((c) => RIGHTS.some((r) => may(r, c.code)))),
});
