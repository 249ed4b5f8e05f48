import { sql } from "drizzle-orm";
import { array, number, object, string } from "yup";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { arrayOf, rows } from "../../db";
import { matchOpenLines } from "./matchOpenLines";

/** Takes decisions back, one or many: the rules look at the lines again. */
export const undoLines = defineUseCase({
  name: "undoLines",
  kind: "write",
  rights: ["prepare.banks"],
  what: "decide on lines of bank statements",
  of: "checked",
  schema: object({ ids: array(number().integer().required()).min(1).max(1000).required() }),
  run: async (context, input): Promise<Result<{ undone: number }>> => {
    const { tx, may } = context;
    const found = await rows<{ id: bigint; company: string; bank: number; state: string }>(
      tx,
      sql`select l.id, c.code as company, l.bank_account_id as bank, l.state
        from statement_line l join company c on c.id = l.company_id
        where l.id = any(${arrayOf(input.ids)}::bigint[]) order by l.id for update of l`,
    );
    const other = found.find((f) => !may("prepare.banks", f.company));
    if (other)
      return fail({ code: "FORBIDDEN", what: `decide on bank statements of ${other.company}` });
    const chosen = found.filter((f) => f.state === "chosen");
    if (chosen.length === 0)
      return fail({ code: "NOT_FOUND", what: "line among them that somebody has decided on" });
    await tx.execute(
      sql`update statement_line set state = 'unexplained', outcome = null, decided_by = null,
        decided_at = null, version = version + 1
        where id = any(${arrayOf(chosen.map((c) => c.id))}::bigint[])`,
    );
    await matchOpenLines(context, [...new Set(chosen.map((c) => c.bank))]);
    return ok({ undone: chosen.length });
  },
});

/** Has the rules look again at all lines of a company that nobody has decided on. */
export const matchLinesAnew = defineUseCase({
  name: "matchLinesAnew",
  kind: "write",
  rights: ["prepare.banks"],
  what: "match bank statements",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async (context, input): Promise<Result<{ certain: number | null }>> => {
    const company = context.masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const banks = await rows<{ id: number }>(
      context.tx,
      sql`select id from bank_account where company_id = ${company.id} order by id`,
    );
    return ok({
      certain: await matchOpenLines(
        context,
        banks.map((b) => b.id),
      ),
    });
  },
});
