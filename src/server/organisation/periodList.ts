import { object, string } from "yup";
import { AREAS } from "@/core/access";
import { fail, ok } from "@/core/shared";
import { defineUseCase } from "../access";
import { loadPeriods } from "./periods";

export const periodList = defineUseCase({
  name: "periodList",
  kind: "read",
  rights: ["read.ledger", "read.statements", "read.close", "read.setup", "setup.organisation"],
  what: "see periods",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input) => {
    const company = masters.companyByCode.get(input.company);
    return company
      ? ok({ periods: await loadPeriods(tx, [company.id]), books: masters.books, areas: AREAS })
      : fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  },
});
