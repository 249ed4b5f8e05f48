import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import { dateText, fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { againstReason } from "../../documents";
import { matchOpenLines } from "./matchOpenLines";

/**
 * Takes a file of statements back with all that came in it, while nothing of it is posted or
 * reconciled: it was the wrong one, or read wrongly. The file itself is kept, with who and why; it
 * may come in again.
 */
export const takeBackFile = defineUseCase({
  name: "takeBackFile",
  kind: "write",
  rights: ["prepare.banks"],
  what: "take bank statements in",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    reason: string().trim().default("").max(300),
  }),
  run: async (context, input): Promise<Result<{ statements: number }>> => {
    const { tx, person, now } = context;
    const unsaid = await againstReason(context, "statements", input.reason);
    if (unsaid) return fail(unsaid);
    await tx.execute(sql`lock table statement_file in share row exclusive mode`);
    const [file] = await rows<{ name: string; takenBack: boolean; companies: string[] }>(
      tx,
      sql`select f.name, f.taken_back_at is not null as "takenBack",
          (select coalesce(jsonb_agg(c.code), '[]'::jsonb) from company c
            where c.id = any(f.company_ids)) as companies
        from statement_file f where f.id = ${input.id}::bigint`,
    );
    if (!file) return fail({ code: "NOT_FOUND", what: "such file of statements" });
    if (!file.companies.every((c) => context.may("prepare.banks", c)))
      return fail({ code: "FORBIDDEN", what: "take back a file of all its companies" });
    if (file.takenBack) return fail({ code: "IN_USE", what: `${file.name} is taken back already` });
    const statements = await rows<Standing>(
      tx,
      sql`select s.id, s.number, b.id as "bankId", b.code as bank, s.company_id as "companyId",
          s.closing_date as date,
          exists (select 1 from statement_line l where l.statement_id = s.id
            and l.state = 'posted') as posted,
          exists (select 1 from reconciliation r where r.statement_id = s.id
            or (r.bank_account_id = s.bank_account_id and r.reopened_at is null
              and r.date >= coalesce((select min(l.booked) from statement_line l
                where l.statement_id = s.id), s.closing_date))) as reconciled,
          exists (select 1 from bank_statement o where o.bank_account_id = s.bank_account_id
            and o.closing_date > s.closing_date
            and o.file_id is distinct from s.file_id) as "isFollowed"
        from bank_statement s join bank_account b on b.id = s.bank_account_id
        where s.file_id = ${input.id}::bigint order by s.id for update of s`,
    );
    const [stands] = statements.flatMap((s) => whatStands(s) ?? []);
    if (stands) return fail({ code: "IN_USE", what: stands });
    await removeAll(context, input.id);
    await forgetReading(context, input.id);
    await tx.execute(
      sql`update statement_file set taken_back_by = ${person.id},
        taken_back_at = ${now.toISOString()}, reason = ${input.reason} where id = ${input.id}::bigint`,
    );
    for (const companyId of new Set(statements.map((s) => s.companyId)))
      await context.audit({
        action: "taken back",
        kind: "file of statements",
        recordId: input.id,
        label: file.name,
        companyId,
        after: { reason: input.reason, statements: statements.length },
      });
    await matchOpenLines(context, [...new Set(statements.map((s) => s.bankId))]);
    return ok({ statements: statements.length });
  },
});

interface Standing {
  id: bigint;
  number: string;
  bankId: number;
  bank: string;
  companyId: number;
  date: string;
  posted: boolean;
  reconciled: boolean;
  isFollowed: boolean;
}

/** Why a statement cannot be taken back; null where nothing stands against it. */
function whatStands(s: Standing): string | null {
  if (s.posted)
    return `Lines of statement ${s.number} of ${s.bank} are posted; reverse their run first`;
  if (s.reconciled)
    return `A reconciliation of ${s.bank} stands on statement ${s.number}, or stood on it: it stays`;
  return s.isFollowed
    ? `${s.bank} has statements after ${dateText(s.date)} that go on from it; take them back first`
    : null;
}

/**
 * How a table is read goes with the file by which it was said: else the same table would be read
 * wrongly again, and nobody asked.
 */
const forgetReading = ({ tx }: Context, file: number) =>
  tx.execute(
    sql`delete from statement_reading r using statement_file f
      where f.id = ${file}::bigint and f.format = 'table' and r.saved_at = f.made_at`,
  );

/** Lines that were opened by a notice of the file stay in their parts: their bank has said them. */
async function removeAll({ tx }: Context, file: number): Promise<void> {
  const own = sql`select id from bank_statement where file_id = ${file}::bigint`;
  await tx.execute(
    sql`update bank_notice n set line_id = null from statement_line l
      where l.id = n.line_id and l.statement_id in (${own})`,
  );
  await tx.execute(sql`delete from statement_line where statement_id in (${own})`);
  await tx.execute(sql`delete from bank_statement where file_id = ${file}::bigint`);
  await tx.execute(
    sql`delete from bank_notice where file_id = ${file}::bigint and line_id is null`,
  );
}
