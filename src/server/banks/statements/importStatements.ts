import { createHash } from "node:crypto";
import { sql } from "drizzle-orm";
import { boolean, string } from "yup";
import { openBatches, type BankStatement } from "@/core/banks/statements";
import { dateText, fail, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { arrayOf, insertAll, rows, schema } from "../../db";
import { readOutside } from "../../files";
import { lineRow } from "./lineRow";
import { matchOpenLines } from "./matchOpenLines";
import { keepNotices, openByNotices, placeNotices } from "./notices";
import { bankFileSchema } from "./bankFile";
import { statementOfBankTable, tableReadingSchema } from "./bankTable";
import { takeReport } from "./paymentsRejected";
import { askForPosting } from "./postCertain";
import { ownAccounts, placeStatements, type Account } from "./placeStatements";

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
}

/**
 * Takes a bank's file of statements in, whole or not at all: each statement has to be of an account
 * of ours, in its currency, and not there yet. The bytes are kept as they came. Its lines are
 * matched at once.
 */
export const importStatements = defineUseCase({
  name: "importStatements",
  kind: "write",
  rights: ["prepare.banks"],
  what: "take bank statements in",
  of: "checked",
  schema: bankFileSchema.shape({
    /** Of a table: the account that it is of, how it is read, and what the account held before. */
    bank: string().trim().max(20).default(""),
    reading: tableReadingSchema.nullable().default(null),
    opening: string().trim().max(30).default(""),
    /** Whether the folder of the server brings it. */
    byFolder: boolean().default(false),
  }),
  prepare: (input) => readOutside("statements", input.name, Buffer.from(input.content, "base64")),
  run: async (context, input, read): Promise<Result<Imported>> => {
    const { tx, person, now, audit } = context;
    const bytes = Buffer.from(input.content, "base64");
    const digest = createHash("sha256").update(bytes).digest("hex");
    // One file after the other: of two that are the same the second finds the first.
    await tx.execute(sql`lock table statement_file in share row exclusive mode`);
    const [same] = await rows<{ name: string; at: string; by: string }>(
      tx,
      sql`select f.name, f.made_at as at, p.name as by from statement_file f
        join person p on p.id = f.made_by where f.digest = ${digest} and f.taken_back_at is null`,
    );
    if (same)
      return fail({
        code: "INVALID",
        what: `The same file was taken in on ${dateText(same.at.slice(0, 10))} by ${same.by}, as ${same.name}`,
      });
    const accounts = await ownAccounts(tx);
    const table = read.table
      ? await statementOfBankTable(context, accounts, { ...input, cells: read.table })
      : null;
    if (table && !table.ok) return table;
    const statements = table ? [table.value.statement] : read.statements;
    const placed = await placeStatements(context, accounts, statements, {
      format: read.format,
      byFolder: input.byFolder,
    });
    if (!placed.ok) return placed;
    const notices = placeNotices(context, accounts, read.notices);
    if (!notices.ok) return notices;
    const report = read.report ? await takeReport(context, read.report) : null;
    if (report && !report.ok) return report;
    const all = [...placed.value, ...notices.value];
    const companies = [
      ...all.map((p) => p.account.companyId),
      ...(report ? [report.value.companyId] : []),
    ];
    const [file] = await rows<{ id: bigint }>(
      tx,
      sql`insert into statement_file (name, format, digest, content, company_ids, made_by, made_at)
        values (${input.name}, ${read.format}, ${digest}, ${bytes.toString("base64")},
        ${arrayOf([...new Set(companies)])}::int[], ${person.id},
        ${now.toISOString()}) returning id`,
    );
    const taken: Imported["statements"] = [];
    for (const { statement, account, doubt } of placed.value) {
      const [kept] = await rows<{ id: bigint }>(
        tx,
        sql`insert into bank_statement (file_id, made_by, made_at, company_id, bank_account_id, number,
          currency, opening_date, opening, closing_date, closing, doubt)
          values (${file!.id}, ${person.id}, ${now.toISOString()}, ${account.companyId},
          ${account.id}, ${statement.number},
          ${statement.currency}, ${statement.opening.date}, ${statement.opening.amount},
          ${statement.closing.date}, ${statement.closing.amount}, ${doubt}) returning id`,
      );
      await keepLines(context, Number(kept!.id), account, statement);
      taken.push({
        id: Number(kept!.id),
        bank: account.code,
        number: statement.number,
        lines: statement.lines.length,
        doubt,
      });
      await audit({
        action: "statement taken in",
        kind: "bank statement",
        recordId: Number(kept!.id),
        label: `${account.code} ${statement.number}`,
        companyId: account.companyId,
        after: { file: input.name, lines: statement.lines.length },
      });
    }
    await keepNotices(tx, Number(file!.id), notices.value);
    const touched = [...new Set(all.map((p) => p.account.id))];
    const opened = await openByNotices(tx, touched);
    const matched = new Set(all.flatMap((p) => (p.account.matchesAtOnce ? [p.account.id] : [])));
    const certain = matched.size === 0 ? 0 : await matchOpenLines(context, [...matched]);
    await askForPosting(
      context,
      placed.value.map((p) => ({ bank: p.account.id, upTo: p.statement.closing.date })),
    );
    return ok({
      file: Number(file!.id),
      format: read.format,
      statements: taken,
      known: table?.value.known ?? 0,
      lines: taken.reduce((t, s) => t + s.lines, 0),
      notices: notices.value.length,
      opened,
      certain,
      rejected: report?.value.rejected ?? 0,
    });
  },
});

async function keepLines(
  { tx }: Context,
  id: number,
  account: Account,
  statement: BankStatement,
): Promise<void> {
  await insertAll(
    tx,
    schema.statementLine,
    openBatches(statement.lines).map((l, position) =>
      lineRow(
        { statementId: id, companyId: account.companyId, bankAccountId: account.id, position },
        l,
      ),
    ),
  );
}
