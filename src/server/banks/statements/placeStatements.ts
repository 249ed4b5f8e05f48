import { sql } from "drizzle-orm";
import { isFormat, STATEMENT_FORMAT_NAMES, type StatementFormat } from "@/core/banks";
import type { BankStatement } from "@/core/banks/statements";
import { dateText, fail, ok, type Found, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { rows, type Db } from "../../db";
import { doubtOf } from "./doubtOf";
import { reconciledUntil } from "./reconciledUntil";

/** How banks name an account. */
export interface NamedAccount {
  code: string;
  iban: string;
  number: string;
  routing: string;
}

export interface Account extends NamedAccount {
  id: number;
  companyId: number;
  company: string;
  companyName: string;
  currency: string;
  /** In which form its statements come, and whether by the folder of the server. */
  format: StatementFormat;
  fromFolder: boolean;
  matchesAtOnce: boolean;
  /** The last day up to which it is reconciled. */
  reconciled: string | null;
}

export interface Placed {
  statement: BankStatement;
  account: Account;
  doubt: string;
}

/** All accounts of the group, held while a file is taken in. */
export const ownAccounts = (tx: Db): Promise<Account[]> =>
  rows<Account>(
    tx,
    sql`select b.id, b.code, b.company_id as "companyId", c.code as company,
      c.name as "companyName", b.currency, b.iban, b.number, b.routing,
      b.statement_format as format, b.from_folder as "fromFolder",
      b.matches_at_once as "matchesAtOnce",
      ${reconciledUntil(sql`b.id`)} as reconciled
      from bank_account b join company c on c.id = b.company_id order by b.id for share of b`,
  );

/** The account of ours that a file names, where the person may take its statements in. */
export function accountOf(
  { may }: Context,
  accounts: readonly Account[],
  of: { account: string; currency: string; what: string; from: number },
): Result<Account> {
  const fault = (what: string) => fail({ code: "INVALID" as const, what, line: of.from });
  const named = accounts.filter((a) => isNamed(a, of.account));
  const inCurrency = named.filter((a) => a.currency === of.currency);
  const [account] = inCurrency.length > 0 ? inCurrency : named;
  if (!account) return fault(`Account ${of.account || "(none)"} of ${of.what} is none of ours`);
  if (inCurrency.length > 1) {
    const codes = inCurrency.map((a) => a.code).join(" and ");
    return fault(
      `Account ${of.account} of ${of.what} could be ${codes}; give them their bank codes`,
    );
  }
  if (!may("prepare.banks", account.company))
    return fail({ code: "FORBIDDEN", what: `take in statements of ${account.companyName}` });
  if (account.currency !== of.currency)
    return fault(`${account.code} is kept in ${account.currency}, ${of.what} in ${of.currency}`);
  return ok(account);
}

/** Finds the account of each statement, and says everything that stands against taking it in. */
export async function placeStatements(
  context: Context,
  accounts: readonly Account[],
  statements: readonly BankStatement[],
  file: { format: string; byFolder: boolean },
): Promise<Result<Placed[]>> {
  const { tx } = context;
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
    const found = accountOf(context, accounts, { ...s, what: `statement ${s.number}` });
    if (!found.ok) {
      problems.push(...found.problems);
      continue;
    }
    const account = found.value;
    if (!isFormat(account.format, file.format)) {
      fault(
        `Statements of ${account.code} come as ${STATEMENT_FORMAT_NAMES[account.format]}; this one is ${file.format}`,
      );
      continue;
    }
    if (file.byFolder && !account.fromFolder) {
      fault(`Statements of ${account.code} are taken in by a person, not by the folder`);
      continue;
    }
    if (s.closing.date > context.today) {
      fault(`Statement ${s.number} closes on ${dateText(s.closing.date)}, which has not come yet`);
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
export function isNamed(a: NamedAccount, account: string): boolean {
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
