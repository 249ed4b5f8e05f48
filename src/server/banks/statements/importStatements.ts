import { createHash } from "node:crypto";
import { sql } from "drizzle-orm";
import { object, string } from "yup";
import type { BankStatement } from "@/core/banks/statements";
import { dateText, fail, ok, type Found, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { insertAll, rows, schema } from "../../db";
import { readOutside } from "../../files";
import { doubtOf } from "./doubtOf";
import { lineRow } from "./lineRow";
import { matchOpenLines } from "./matchOpenLines";
import { reconciledUntil } from "./reconciledUntil";

/** The largest file that is taken, in bytes. */
export const MAX_STATEMENT_FILE = 50_000_000;

/** What a file brought. */
export interface Imported {
  file: number;
  statements: { id: number; bank: string; number: string; lines: number; doubt: string }[];
  lines: number;
  certain: number;
}

interface Account {
  id: number;
  code: string;
  companyId: number;
  company: string;
  companyName: string;
  currency: string;
  iban: string;
  number: string;
  routing: string;
  /** The last day up to which it is reconciled. */
  reconciled: string | null;
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
  schema: object({
    name: string().trim().required("The file has no name").max(200),
    /** base64 */
    content: string()
      .required("The file is empty")
      .max(Math.ceil(MAX_STATEMENT_FILE / 3) * 4, "The file is larger than 50 MB"),
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
        join person p on p.id = f.made_by where f.digest = ${digest}`,
    );
    if (same)
      return fail({
        code: "INVALID",
        what: `The same file was taken in on ${dateText(same.at.slice(0, 10))} by ${same.by}, as ${same.name}`,
      });
    const placed = await placeAll(context, read.statements);
    if (!placed.ok) return placed;
    const [file] = await rows<{ id: bigint }>(
      tx,
      sql`insert into statement_file (name, format, digest, content, made_by, made_at)
        values (${input.name}, ${read.format}, ${digest}, ${bytes.toString("base64")}, ${person.id},
        ${now.toISOString()}) returning id`,
    );
    const statements: Imported["statements"] = [];
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
      statements.push({
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
    const accounts = [...new Set(placed.value.map((p) => p.account.id))];
    const certain = await matchOpenLines(context, accounts);
    return ok({
      file: Number(file!.id),
      statements,
      lines: statements.reduce((t, s) => t + s.lines, 0),
      certain,
    });
  },
});

interface Placed {
  statement: BankStatement;
  account: Account;
  doubt: string;
}

/** Finds the account of each statement, and says everything that stands against taking it in. */
async function placeAll(
  context: Context,
  statements: readonly BankStatement[],
): Promise<Result<Placed[]>> {
  const { tx, may } = context;
  const accounts = await rows<Account>(
    tx,
    sql`select b.id, b.code, b.company_id as "companyId", c.code as company,
      c.name as "companyName", b.currency, b.iban, b.number, b.routing,
      ${reconciledUntil(sql`b.id`)} as reconciled
      from bank_account b join company c on c.id = b.company_id order by b.id for share of b`,
  );
  const before = await rows<Before>(
    tx,
    sql`select bank_account_id as bank, number, closing_date as date, closing
      from bank_statement order by closing_date, id`,
  );
  const problems: Found[] = [];
  const placed: Placed[] = [];
  const ordered = [...statements].sort((a, b) =>
    a.closing.date < b.closing.date ? -1 : a.closing.date > b.closing.date ? 1 : 0,
  );
  for (const s of ordered) {
    const fault = (what: string) => void problems.push({ code: "INVALID", what, line: s.from });
    const named = accounts.filter((a) => isNamed(a, s.account));
    const inCurrency = named.filter((a) => a.currency === s.currency);
    const [account] = inCurrency.length > 0 ? inCurrency : named;
    if (!account) {
      fault(`Account ${s.account || "(none)"} of statement ${s.number} is none of ours`);
      continue;
    }
    if (inCurrency.length > 1) {
      const codes = inCurrency.map((a) => a.code).join(" and ");
      fault(
        `Account ${s.account} of statement ${s.number} could be ${codes}; give them their bank codes`,
      );
      continue;
    }
    if (!may("prepare.banks", account.company)) {
      problems.push({ code: "FORBIDDEN", what: `take in statements of ${account.companyName}` });
      continue;
    }
    if (account.currency !== s.currency) {
      fault(
        `${account.code} is kept in ${account.currency}, statement ${s.number} in ${s.currency}`,
      );
      continue;
    }
    const own = before.filter((b) => b.bank === account.id);
    if (own.some((b) => b.number === s.number && b.date === s.closing.date)) {
      fault(
        `Statement ${s.number} of ${account.code} to ${dateText(s.closing.date)} is there already`,
      );
      continue;
    }
    const first = s.lines.reduce((d, l) => (l.booked < d ? l.booked : d), s.closing.date);
    if (account.reconciled !== null && first <= account.reconciled) {
      fault(
        `${account.code} is reconciled up to ${dateText(account.reconciled)}; statement ${s.number} has movements of ${dateText(first)}. Reopen the reconciliation first`,
      );
      continue;
    }
    const last = own.filter((b) => b.date <= s.closing.date).at(-1);
    before.push({
      bank: account.id,
      number: s.number,
      date: s.closing.date,
      closing: s.closing.amount,
    });
    before.sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0));
    placed.push({ statement: s, account, doubt: last ? doubtOf(last, s) : "" });
  }
  if (problems.length > 0) return { ok: false, problems };
  return ok(placed);
}

/** A bank names an account by its IBAN, or by bank code and number. */
function isNamed(a: Account, account: string): boolean {
  if (account === "") return false;
  if (a.iban !== "" && a.iban === account) return true;
  const number = a.number.replace(/[\s.-]/g, "").toUpperCase();
  if (number === "") return a.iban !== "" && isWithin(a.iban, account);
  const bank = a.routing.replace(/[\s.-]/g, "").toUpperCase();
  return account === number || account === `${bank}/${number}` || account === `${bank}${number}`;
}

/** MT940 often has bank code and number, which an IBAN ends with: 50010517/5407324931. */
const isWithin = (iban: string, account: string): boolean =>
  /^\d{8,}\/?\d{6,}$/.test(account) && iban.endsWith(account.replace("/", ""));

/** A statement that is there already, or stands before another one in the file. */
interface Before {
  bank: number;
  number: string;
  date: string;
  closing: bigint;
}

async function keepLines(
  { tx }: Context,
  id: number,
  account: Account,
  statement: BankStatement,
): Promise<void> {
  await insertAll(
    tx,
    schema.statementLine,
    statement.lines.map((l, position) =>
      lineRow(
        { statementId: id, companyId: account.companyId, bankAccountId: account.id, position },
        l,
      ),
    ),
  );
}
