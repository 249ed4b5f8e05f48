import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";

/** The identity of a company by its code. */
export function companyOfIntake({ masters }: Context, code: string): Result<number> {
  const company = masters.companyByCode.get(code);
  return company
    ? ok(company.id)
    : fail({ code: "COMPANY_UNKNOWN", company: code, field: "company" });
}
