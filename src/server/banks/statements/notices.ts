import { sql } from "drizzle-orm";
import {
  isWhole,
  linesOfNotices,
  partsOf,
  type BankNotice,
  type StatementDetail,
  type StatementLine,
} from "@/core/banks/statements";
import { minor, ok, type Result } from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf, insertAll, rows, schema, type Db } from "../../db";
import { keptDetail, lineRow } from "./lineRow";
import { accountOf, type Account } from "./placeStatements";

interface PlacedNotice {
  account: Account;
  line: StatementLine;
}

/** The movements of notices whose parts are all said, with the accounts that they are of. */
export function placeNotices(
  context: Context,
  accounts: readonly Account[],
  notices: readonly BankNotice[],
): Result<PlacedNotice[]> {
  const placed: PlacedNotice[] = [];
  for (const n of notices) {
    const found = accountOf(context, accounts, { ...n, what: "a notice" });
    if (!found.ok) return found;
    placed.push(...n.lines.filter(isWhole).map((line) => ({ account: found.value, line })));
  }
  return ok(placed);
}

export const keepNotices = (tx: Db, fileId: number, placed: readonly PlacedNotice[]) =>
  insertAll(
    tx,
    schema.bankNotice,
    placed.map(({ account, line }) => ({
      fileId,
      bankAccountId: account.id,
      booked: line.booked,
      amount: line.amount,
      bankReference: line.keys.bank.slice(0, 60),
      text: line.text.slice(0, 200),
      details: line.details.map(keptDetail),
    })),
  );

interface LineToOpen {
  id: bigint;
  bankId: number;
  statementId: bigint;
  companyId: number;
  amount: bigint;
  booked: string;
  valued: string;
  bank: string;
  code: string;
  takesBack: boolean;
  text: string;
  fromLine: number;
  toLine: number;
  last: number;
}

interface WaitingNotice {
  id: bigint;
  bankId: number;
  booked: string;
  amount: bigint;
  bank: string;
  text: string;
  details: (Omit<StatementDetail, "amount"> & { amount: string | null })[];
}

/**
 * Puts the parts that banks have told of in the place of lines that nobody has decided on. Returns
 * how many lines were opened.
 */
export async function openByNotices(tx: Db, accounts: readonly number[]): Promise<number> {
  const notices = await rows<WaitingNotice>(
    tx,
    sql`select id, bank_account_id as "bankId", booked, amount, bank_reference as bank, text, details
      from bank_notice where line_id is null and bank_account_id = any(${arrayOf(accounts)}::int[])
      order by id for update`,
  );
  if (notices.length === 0) return 0;
  const lines = await rows<LineToOpen>(
    tx,
    sql`select l.id, l.bank_account_id as "bankId", l.statement_id as "statementId",
        l.company_id as "companyId", l.amount, l.booked, l.valued, l.bank_reference as bank, l.code,
        l.takes_back as "takesBack", l.text, l.from_line as "fromLine", l.to_line as "toLine",
        (select max(o.position) from statement_line o where o.statement_id = l.statement_id) as last
      from statement_line l join bank_statement s on s.id = l.statement_id
      where l.bank_account_id = any(${arrayOf(accounts)}::int[]) and s.file_id is not null
        and l.state in ('certain', 'to decide', 'unexplained') and l.batch is null
        and l.amount = any(${arrayOf([...new Set(notices.map((n) => n.amount))])}::bigint[])
      order by l.id for update of l`,
  );
  const lineOf = new Map(lines.map((l) => [Number(l.id), l]));
  const noticeOf = new Map(notices.map((n) => [Number(n.id), n]));
  const opened = accounts.flatMap((account) => {
    const of = <T extends { bankId: number }>(all: readonly T[]) =>
      all.filter((x) => x.bankId === account);
    const pairs = linesOfNotices(of(lines).map(numbered), of(notices).map(numbered));
    return [...pairs].map(([line, notice]) => ({
      line: lineOf.get(line)!,
      notice: noticeOf.get(notice)!,
    }));
  });
  await putInPlace(tx, opened);
  return opened.length;
}

const numbered = <T extends { id: bigint }>(of: T) => ({ ...of, id: Number(of.id) });

/** The line becomes its first part; the others stand behind all lines of its statement. */
async function putInPlace(
  tx: Db,
  opened: readonly { line: LineToOpen; notice: WaitingNotice }[],
): Promise<void> {
  const added = new Map<bigint, number>();
  const parts = opened.map(({ line, notice }) =>
    partsOf(asLine(line, notice)).map((part, i) => {
      const before = added.get(line.statementId) ?? 0;
      if (i > 0) added.set(line.statementId, before + 1);
      return lineRow(
        {
          statementId: Number(line.statementId),
          companyId: line.companyId,
          bankAccountId: line.bankId,
          position: line.last + before + 1,
        },
        part,
      );
    }),
  );
  const first = parts.map(([p], i) => ({ ...p!, id: String(opened[i]!.line.id) }));
  await tx.execute(
    sql`update statement_line l set amount = x.amount, party_name = x."partyName",
        party_account = x."partyAccount", party_bic = x."partyBic", end_to_end = x."endToEnd",
        creditor_reference = x."creditorReference", mandate = x.mandate, cheque = x.cheque,
        bank_reference = x."bankReference", text = x.text, return_reason = x."returnReason",
        batch = x.batch, details = '[]', state = 'unexplained', candidates = '[]', but = '',
        outcome = null, version = version + 1
      from jsonb_to_recordset(${JSON.stringify(first, asText)}::jsonb) as x(id bigint,
        amount bigint, "partyName" text, "partyAccount" text, "partyBic" text, "endToEnd" text,
        "creditorReference" text, mandate text, cheque text, "bankReference" text, text text,
        "returnReason" text, batch jsonb)
      where l.id = x.id`,
  );
  await insertAll(
    tx,
    schema.statementLine,
    parts.flatMap((p) => p.slice(1)),
  );
  await tx.execute(
    sql`update bank_notice n set line_id = x.line from unnest(
        ${arrayOf(opened.map((o) => o.notice.id))}::bigint[],
        ${arrayOf(opened.map((o) => o.line.id))}::bigint[]) as x(notice, line)
      where n.id = x.notice`,
  );
}

const asText = (_key: string, value: unknown) =>
  typeof value === "bigint" ? String(value) : value;

/** The line of the statement with what the notice says of it. */
const asLine = (line: LineToOpen, notice: WaitingNotice): StatementLine => ({
  booked: line.booked,
  valued: line.valued,
  amount: minor(line.amount),
  takesBack: line.takesBack,
  code: line.code,
  party: { name: "", account: "", bic: "" },
  keys: { endToEnd: "", creditorReference: "", mandate: "", cheque: "", bank: line.bank },
  text: line.text || notice.text,
  returnReason: "",
  details: notice.details.map((d) => ({
    ...d,
    amount: d.amount === null ? null : minor(BigInt(d.amount)),
  })),
  from: line.fromLine,
  to: line.toLine,
});
