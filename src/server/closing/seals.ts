import { object } from "yup";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { EVIDENCE, readSeals, type Seal } from "../evidence";

export interface Seals {
  /** Newest first. */
  seals: Seal[];
  /** Tables that are covered, with the columns that are not, each with its reason. */
  covered: { table: string; open: { column: string; reason: string }[] }[];
}

/** What of the evidence is sealed, for auditors: heads to compare, and what is not covered. */
export const listSeals = defineUseCase({
  name: "listSeals",
  kind: "read",
  rights: ["read.history"],
  what: "see seals",
  of: "group",
  schema: object(),
  run: async ({ tx }): Promise<Result<Seals>> =>
    ok({
      seals: (await readSeals(tx)).reverse(),
      covered: EVIDENCE.map(({ table, open = {} }) => ({
        table,
        open: Object.entries(open).map(([column, reason]) => ({ column, reason })),
      })),
    }),
});
