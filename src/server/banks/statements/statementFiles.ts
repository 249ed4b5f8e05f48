import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import type { LineState } from "@/core/banks";
import { fail, ok, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows } from "../../db";
import { textOfFile } from "../../files";

/** A file that a bank's statements came in, with what has become of it. */
export interface StatementFileRow {
  id: number;
  name: string;
  format: string;
  at: string;
  by: string;
  statements: number;
  lines: number;
  posted: number;
  decided: number;
  open: number;
  notices: number;
  takenBack: { by: string; at: string; reason: string } | null;
}

const LISTED = 200;

/** The log of files that were taken in for a company, the newest first. */
export const listStatementFiles = defineUseCase({
  name: "listStatementFiles",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  company: (i) => i.company,
  schema: object({ company: string().required() }),
  run: async ({ tx, masters }, input): Promise<Result<StatementFileRow[]>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const found = await rows<Omit<StatementFileRow, "id"> & { id: bigint }>(
      tx,
      sql`select f.id, f.name, f.format, f.made_at as at, p.name as by, s.statements, s.lines,
          s.posted, s.decided, s.open, n.notices,
          case when f.taken_back_at is null then null else jsonb_build_object('by', b.name,
            'at', f.taken_back_at, 'reason', f.reason) end as "takenBack"
        from statement_file f join person p on p.id = f.made_by
          left join person b on b.id = f.taken_back_by
          cross join lateral (select count(distinct s.id)::int as statements,
              count(l.id)::int as lines, count(l.id) filter (where l.state = 'posted')::int as posted,
              count(l.id) filter (where l.state in ('certain', 'chosen'))::int as decided,
              count(l.id) filter (where l.state in ('to decide', 'unexplained'))::int as open
            from bank_statement s left join statement_line l on l.statement_id = s.id
            where s.file_id = f.id and s.company_id = ${company.id}) s
          cross join lateral (select count(*)::int as notices from bank_notice n
            join bank_account k on k.id = n.bank_account_id
            where n.file_id = f.id and k.company_id = ${company.id}) n
        where ${company.id} = any(f.company_ids) order by f.id desc limit ${LISTED}`,
    );
    return ok(found.map((f) => ({ ...f, id: Number(f.id) })));
  },
});

/** Lines of a file that are shown at a time. */
const SHOWN_LINES = 300;

export interface StatementFileView {
  id: number;
  name: string;
  format: string;
  at: string;
  by: string;
  takenBack: boolean;
  /** Whether it is text at all: a workbook is only kept. */
  isText: boolean;
  /** How many lines it has, and those that are shown, from the first of them (from 1). */
  lines: number;
  from: number;
  text: string[];
  /** What was read of those: movements, with the lines of the file that they stand on. */
  read: {
    id: number;
    from: number;
    to: number;
    bank: string;
    statement: string;
    amount: Minor;
    currency: string;
    state: LineState;
  }[];
}

interface FileRow {
  id: bigint;
  name: string;
  format: string;
  content: string;
  at: string;
  by: string;
  takenBack: boolean;
  companies: string[];
}

/** A file where its companies are all the person's: a line of one says nothing of another's. */
async function readFile(context: Context, id: number): Promise<Result<FileRow>> {
  const [file] = await rows<FileRow>(
    context.tx,
    sql`select f.id, f.name, f.format, f.content, f.made_at as at, p.name as by,
        f.taken_back_at is not null as "takenBack",
        (select coalesce(jsonb_agg(c.code order by c.code), '[]'::jsonb) from company c
          where c.id = any(f.company_ids)) as companies
      from statement_file f join person p on p.id = f.made_by where f.id = ${id}::bigint`,
  );
  if (!file) return fail({ code: "NOT_FOUND", what: "such file of statements" });
  return file.companies.every((c) => context.may("read.banks", c))
    ? ok(file)
    : fail({ code: "FORBIDDEN", what: "see a file of all its companies" });
}

/** A part of a file as the bank sent it, with what was read of each line. */
export const viewStatementFile = defineUseCase({
  name: "viewStatementFile",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({
    id: number().integer().required(),
    /** A line that is to be in sight, from 1. */
    at: number().integer().min(1).default(1),
  }),
  run: async (context, input): Promise<Result<StatementFileView>> => {
    const found = await readFile(context, input.id);
    if (!found.ok) return found;
    const { content, companies: _companies, ...file } = found.value;
    const all = textOfFile(Buffer.from(content, "base64"));
    const lines = all === null ? [] : all.split(/\r\n|\r|\n/);
    // Some lines before the one that is asked for, so that it is read in its place.
    const from = Math.max(1, Math.min(input.at - 20, lines.length - SHOWN_LINES + 1));
    const to = Math.min(lines.length, from + SHOWN_LINES - 1);
    const read = await rows<StatementFileView["read"][number] & { id: bigint | number }>(
      context.tx,
      sql`select l.id::int as id, l.from_line as "from", l.to_line as "to", b.code as bank,
          s.number as statement, l.amount, s.currency, l.state
        from bank_statement s join statement_line l on l.statement_id = s.id
          join bank_account b on b.id = s.bank_account_id
        where s.file_id = ${input.id}::bigint and l.from_line <= ${to} and l.to_line >= ${from}
        order by l.from_line, l.id`,
    );
    return ok({
      ...file,
      id: Number(file.id),
      isText: all !== null,
      lines: lines.length,
      from,
      text: lines.slice(from - 1, to).map((l) => l.slice(0, 1_000)),
      read,
    });
  },
});

/** A file of statements as it came, to be kept elsewhere. */
export const statementFileContent = defineUseCase({
  name: "statementFileContent",
  kind: "read",
  rights: ["read.banks"],
  what: "see bank statements",
  of: "checked",
  schema: object({ id: number().integer().required() }),
  run: async (context, input): Promise<Result<{ name: string; content: string }>> => {
    const found = await readFile(context, input.id);
    return found.ok ? ok({ name: found.value.name, content: found.value.content }) : found;
  },
});
