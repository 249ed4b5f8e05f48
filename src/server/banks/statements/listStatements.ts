import { sql } from "drizzle-orm";
import { object, string } from "yup";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase } from "../../access";
import { rows } from "../../db";

/** A statement with what has become of its lines. */
export interface StatementRow {
  id: number;
  bank: string;
  bankName: string;
  number: string;
  currency: string;
  openingDate: CalendarDate;
  closingDate: CalendarDate;
  opening: Minor;
  closing: Minor;
  lines: number;
  posted: number;
  decided: number;
  open: number;
  doubt: string;
  /** The name of its file; empty where it was copied from paper. */
  file: string;
  at: string;
  by: string;
}

/** Statements of a company, the newest first. */
export const listStatements = defineUseCase({
  name: "listStatements",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<StatementRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<
      Omit<StatementRow, "id" | "opening" | "closing"> & {
        id: bigint;
        opening: bigint;
        closing: bigint;
      }
    >(
      tx,
      sql`select s.id, b.code as bank, b.name as "bankName", s.number, s.currency,
          s.opening_date as "openingDate", s.closing_date as "closingDate", s.opening, s.closing,
          count(l.id)::int as lines,
          count(l.id) filter (where l.state = 'posted')::int as posted,
          count(l.id) filter (where l.state in ('certain', 'chosen'))::int as decided,
          count(l.id) filter (where l.state in ('to decide', 'unexplained'))::int as open,
          s.doubt, coalesce(f.name, '') as file, s.made_at as at, p.name as by
        from bank_statement s join bank_account b on b.id = s.bank_account_id
          left join statement_file f on f.id = s.file_id join person p on p.id = s.made_by
          left join statement_line l on l.statement_id = s.id
        where s.company_id = ${company.id}
        group by s.id, b.code, b.name, f.name, p.name
        order by s.closing_date desc, s.id desc limit 200`,
    );
    return ok(
      found.map((s) => ({
        ...s,
        id: Number(s.id),
        opening: minor(s.opening),
        closing: minor(s.closing),
      })),
    );
  },
});
