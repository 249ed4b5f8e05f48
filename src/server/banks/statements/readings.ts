import { sql } from "drizzle-orm";
import { number, object } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";

/** How tables of an account are read, as it was said once for their headings. */
export interface SavedReading {
  id: number;
  bank: string;
  headings: string[];
  by: string;
  at: string;
}

const READ = ["read.banks", "prepare.banks"] as const;

/** The readings of tables that were kept for bank accounts. */
export const listReadings = defineUseCase({
  name: "listReadings",
  kind: "read",
  rights: READ,
  what: "see how bank statements are read",
  of: "checked",
  schema: object(),
  run: async ({ tx, may }): Promise<Result<SavedReading[]>> => {
    const found = await rows<SavedReading & { company: string }>(
      tx,
      sql`select r.id, b.code as bank, r.reading -> 'headings' as headings, p.name as by,
          r.saved_at as at, c.code as company
        from statement_reading r join bank_account b on b.id = r.bank_account_id
          join company c on c.id = b.company_id join person p on p.id = r.saved_by
        order by b.code, r.saved_at desc`,
    );
    return ok(
      found
        .filter((r) => READ.some((right) => may(right, r.company)))
        .map(({ company: _company, ...r }) => r),
    );
  },
});

/** Forgets a reading: a table of these headings is asked about anew. What came in by it stays. */
export const forgetReading = defineUseCase({
  name: "forgetReading",
  kind: "write",
  rights: ["prepare.banks"],
  what: "change how bank statements are read",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async ({ tx, may, audit }, input): Promise<Result<object>> => {
    const [found] = await rows<{ bank: string; company: string; companyId: number }>(
      tx,
      sql`select b.code as bank, c.code as company, c.id as "companyId" from statement_reading r
        join bank_account b on b.id = r.bank_account_id join company c on c.id = b.company_id
        where r.id = ${input.id}::bigint`,
    );
    if (!found) return fail({ code: "NOT_FOUND", what: "such reading" });
    if (!may("prepare.banks", found.company))
      return fail({ code: "FORBIDDEN", what: `change how statements of ${found.bank} are read` });
    const [gone] = await rows<{ reading: object }>(
      tx,
      sql`delete from statement_reading where id = ${input.id} returning reading`,
    );
    await audit({
      action: "forgotten",
      kind: "reading of statements",
      recordId: input.id,
      label: found.bank,
      companyId: found.companyId,
      before: gone?.reading,
    });
    return ok({});
  },
});
