import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { ok } from "@/core/shared";
import { arrayOf, rows } from "../db";
import { defineUseCase } from "./useCase";

export interface HistoryRow {
  id: number;
  at: string;
  by: string;
  action: string;
  kind: string;
  recordId: string;
  label: string;
  company: string;
  before: unknown;
  after: unknown;
}

/**
 * Who did what and when, newest first: in the companies whose history the person sees; what belongs
 * to the group only for whoever sees all of them.
 */
export const history = defineUseCase({
  name: "history",
  kind: "read",
  rights: ["read.history"],
  what: "see the history",
  of: "checked",
  schema: object({
    kind: string().max(40),
    recordId: string().max(40),
    before: number().integer(),
    limit: number().integer().min(1).max(1000).default(500),
  }),
  run: async ({ tx, masters, may, mayEverywhere }, input) =>
    ok(
      (
        await rows<Omit<HistoryRow, "id"> & { id: bigint }>(
          tx,
          sql`select e.id, e.at, coalesce(p.name, '') as by, e.action, e.kind,
            e.record_id as "recordId", e.label, coalesce(c.code, '') as company, e.before, e.after
            from audit_event e left join person p on p.id = e.person_id left
            join company c on c.id = e.company_id
              where ${input.kind ? sql`e.kind = ${input.kind}` : sql`true`}
                and ${
                  mayEverywhere("read.history")
                    ? sql`true`
                    : sql`c.code = any(${arrayOf(
                        masters.companies
                          .map((own) => own.code)
                          .filter((code) => may("read.history", code)),
                      )}::text[])`
                }
                and ${input.recordId ? sql`e.record_id = ${input.recordId}` : sql`true`}
                and ${input.before ? sql`e.id < ${input.before}` : sql`true`} order by e.id desc
                limit ${input.limit}`,
        )
      ).map((r) => ({ ...r, id: Number(r.id) })),
    ),
});
