import { sql } from "drizzle-orm";
import { dateText, fail, ok, type Result } from "@/core/shared";
import type { TableReading } from "@/core/banks/statements/table";
import type { Context } from "../../access";
import { arrayOf, rows } from "../../db";
import type { ReadBy } from "../../files";
import { matchOpenLines } from "./matchOpenLines";
import { keepNotices, openByNotices, placeNotices } from "./notices";
import { statementOfBankTable } from "./bankTable";
import { takeReport } from "./paymentsRejected";
import { askForPosting } from "./postCertain";
import { ownAccounts, placeStatements, type Placed } from "./placeStatements";

/** What a file brought. */
export interface Imported {
  file: number;
  /** What it was: camt.053, MT940, table, pain.002, … */
  format: string;
  statements: { id: number; bank: string; number: string; lines: number; doubt: string }[];
  lines: number;
  /** Movements of a table that were there already. */
  known: number;
  /** Movements with their parts that it tells of, and lines that such parts have opened. */
  notices: number;
  opened: number;
  /** How many are beyond doubt; null while a job looks at them. */
  certain: number | null;
  /** Payments that the bank has refused. */
  rejected: number;
  /** Whether it is large, and a job takes it in. */
  isComing: boolean;
}

/** A file of a bank as it was sent. */
export interface SentFile {
  name: string;
  /** SHA-256 of its bytes, in hexadecimal figures. */
  digest: string;
  bank: string;
  reading: TableReading | null;
  opening: string;
  byFolder: boolean;
}

type ReadFile = ReadBy<"statements">;

/** What a file holds, and of which accounts it is. */
interface PlacedFile {
  format: string;
  placed: Placed[];
  notices: Extract<ReturnType<typeof placeNotices>, { ok: true }>["value"];
  report: Extract<Awaited<ReturnType<typeof takeReport>>, { ok: true }>["value"] | null;
  /** Movements of a table that are there already. */
  known: number;
}

/**
 * Finds the accounts of what a file holds, and says everything that stands against taking it in. One
 * file after the other: of two that are the same the second finds the first.
 */
export async function placeFile(
  context: Context,
  file: SentFile,
  read: ReadFile,
): Promise<Result<PlacedFile>> {
  const { tx } = context;
  await tx.execute(sql`lock table statement_file in share row exclusive mode`);
  const [same] = await rows<{ name: string; at: string; by: string }>(
    tx,
    sql`select f.name, f.made_at as at, p.name as by from statement_file f
      join person p on p.id = f.made_by where f.digest = ${file.digest} and f.taken_back_at is null`,
  );
  if (same)
    return fail({
      code: "INVALID",
      what: `The same file was taken in on ${dateText(same.at.slice(0, 10))} by ${same.by}, as ${same.name}`,
    });
  const accounts = await ownAccounts(tx);
  const table = read.table
    ? await statementOfBankTable(context, accounts, { ...file, cells: read.table })
    : null;
  if (table && !table.ok) return table;
  const statements = table ? [table.value.statement] : read.statements;
  const placed = await placeStatements(context, accounts, statements, {
    format: read.format,
    byFolder: file.byFolder,
  });
  if (!placed.ok) return placed;
  const notices = placeNotices(context, accounts, read.notices);
  if (!notices.ok) return notices;
  const report = read.report ? await takeReport(context, read.report) : null;
  if (report && !report.ok) return report;
  return ok({
    format: read.format,
    placed: placed.value,
    notices: notices.value,
    report: report?.value ?? null,
    known: table?.value.known ?? 0,
  });
}

/** Stores the lines of a statement, the n-th of its file. */
export type StoreLines = (context: Context, id: number, of: Placed, n: number) => Promise<void>;

/** Takes in what was placed, whole; its lines are matched, and posted where that is set up. */
export async function takeIn(
  context: Context,
  file: SentFile & { content: string },
  { format, placed, notices, report, known }: PlacedFile,
  store: StoreLines,
): Promise<Result<Imported>> {
  const { tx, person, now, audit } = context;
  const all = [...placed, ...notices];
  const companies = [...all.map((p) => p.account.companyId), ...(report ? [report.companyId] : [])];
  const [kept] = await rows<{ id: bigint }>(
    tx,
    sql`insert into statement_file (name, format, digest, content, company_ids, made_by, made_at)
      values (${file.name}, ${format}, ${file.digest}, ${file.content},
      ${arrayOf([...new Set(companies)])}::int[], ${person.id},
      ${now.toISOString()}) returning id`,
  );
  const taken: Imported["statements"] = [];
  for (const [n, p] of placed.entries()) {
    const { statement, account, doubt } = p;
    const [made] = await rows<{ id: bigint }>(
      tx,
      sql`insert into bank_statement (file_id, made_by, made_at, company_id, bank_account_id, number,
        currency, opening_date, opening, closing_date, closing, doubt)
        values (${kept!.id}, ${person.id}, ${now.toISOString()}, ${account.companyId},
        ${account.id}, ${statement.number},
        ${statement.currency}, ${statement.opening.date}, ${statement.opening.amount},
        ${statement.closing.date}, ${statement.closing.amount}, ${doubt}) returning id`,
    );
    await store(context, Number(made!.id), p, n);
    taken.push({
      id: Number(made!.id),
      bank: account.code,
      number: statement.number,
      lines: statement.lines.length,
      doubt,
    });
    await audit({
      action: "statement taken in",
      kind: "bank statement",
      recordId: Number(made!.id),
      label: `${account.code} ${statement.number}`,
      companyId: account.companyId,
      after: { file: file.name, lines: statement.lines.length },
    });
  }
  await keepNotices(tx, Number(kept!.id), notices);
  const touched = [...new Set(all.map((p) => p.account.id))];
  const opened = await openByNotices(tx, touched);
  const matched = new Set(all.flatMap((p) => (p.account.matchesAtOnce ? [p.account.id] : [])));
  const certain = matched.size === 0 ? 0 : await matchOpenLines(context, [...matched]);
  await askForPosting(
    context,
    placed.map((p) => ({ bank: p.account.id, upTo: p.statement.closing.date })),
  );
  return ok({
    file: Number(kept!.id),
    format,
    statements: taken,
    known,
    lines: taken.reduce((t, s) => t + s.lines, 0),
    notices: notices.length,
    opened,
    certain,
    rejected: report?.rejected ?? 0,
    isComing: false,
  });
}
