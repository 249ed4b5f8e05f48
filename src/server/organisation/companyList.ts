import { object } from "yup";
import { ok } from "@/core/shared";
import { defineUseCase } from "../access";

export const companyList = defineUseCase({
  name: "companyList",
  kind: "read",
  rights: ["read.setup", "setup.organisation", "read.ledger", "read.statements", "read.close"],
  what: "see companies",
  schema: object(),
  run: async ({ masters }) => ok([...masters.companies]),
});
