import { sql } from "drizzle-orm";
import { object } from "yup";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { rows } from "../db";
import { EVIDENCE } from "../evidence";

export interface SealRow {
  no: number;
  at: string;
  previous: string;
  digest: string;
  rows: number;
  heads: { company: string; seq: string; hash: string }[];
}
export interface Seals {
  /** Newest first. */
  seals: SealRow[];
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
      seals: await rows<SealRow>(
        tx,
        sql`select no, at, previous, digest, rows, heads from seal order by no desc`,
      ),
      covered: EVIDENCE.map(({ table, open = {} }) => ({
        table,
        open: Object.entries(open).map(([column, reason]) => ({ column, reason })),
      })),
    }),
});
