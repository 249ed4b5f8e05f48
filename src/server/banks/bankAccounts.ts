import { sql } from "drizzle-orm";
import { object } from "yup";
import type {
  AccountKind,
  AccountRequest,
  BankAddress,
  StatementFormat,
  UndoKind,
} from "@/core/banks";
import { ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { arrayOf, rows, type Db } from "../db";
import { defineUseCase } from "../access";

export interface BankAccount extends BankAddress {
  id: number;
  code: string;
  name: string;
  companyId: number;
  company: string;
  companyName: string;
  currency: string;
  kind: AccountKind;
  /** The bank of the list where it is kept; null where it is only named. */
  bankId: number | null;
  /** Days on which the bank pays nothing, beside weekends and those of a currency. */
  holidays: CalendarDate[];
  /** The day before which no money moves there. */
  openedOn: CalendarDate | null;
  /** The day from which nothing is paid from it any more. */
  closedOn: CalendarDate | null;
  /** What waits for a second person, and for which day where it is closing. */
  waits: AccountRequest;
  /** All who have changed any of what waits; none of them agrees. */
  askedBy: number[];
  askedByName: string;
  closesOn: CalendarDate | null;
  /** Who holds it, where that is not the company; who may sign at the bank. */
  holder: string;
  signatories: string;
  bankName: string;
  account: string;
  underWayAccount: string;
  /** Minor units of its currency. */
  overdraft: Minor;
  /** By how much beyond that before anything is said. */
  tolerance: Minor;
  beyond: "warn" | "refuse";
  /** The largest single payment, minor units of its currency; null for any. */
  largestPayment: Minor | null;
  lastCheque: number;
  chequeSort: string;
  chequeAccount: string;
  /** What of it is undone only once a second person has looked. */
  reviews: UndoKind[];
  /** Whether what is certain of a file is posted when it comes in. */
  postsCertain: boolean;
  /** In which form its statements come, by which way, and whether they are matched at once. */
  /** Values of what is coded of its lines where nothing else is said, by dimension. */
  dimensions: Record<string, string>;
  statementFormat: StatementFormat;
  fromFolder: boolean;
  matchesAtOnce: boolean;
  signed: boolean;
  version: number;
}

const COLUMNS = sql`b.id, b.code, b.name, b.company_id as "companyId", c.code as company,
  c.name as "companyName", b.currency, b.kind, b.bank_id as "bankId",
  b.opened_on as "openedOn", b.closed_on as "closedOn", b.waits,
  to_jsonb(b.asked_by) as "askedBy",
  coalesce((select string_agg(q.name, ' and ' order by q.name) from person q
    where q.id = any(b.asked_by)), '') as "askedByName", b.closes_on as "closesOn", b.holder, b.signatories,
  b.tolerance, b.iban, b.bic,
  b.number, b.routing, b.country, b.bank_name as "bankName", b.account,
  b.under_way_account as "underWayAccount", b.overdraft, b.beyond,
  b.largest_payment as "largestPayment",
  b.last_cheque::int as "lastCheque", b.cheque_sort as "chequeSort",
    b.cheque_account as "chequeAccount", to_jsonb(b.undo_reviews) as reviews,
    b.posts_certain as "postsCertain", b.dimensions, b.statement_format as "statementFormat",
    b.from_folder as "fromFolder", b.matches_at_once as "matchesAtOnce",
    b.signature <> '' as signed, b.version,
    coalesce(to_jsonb(k.holidays), '[]'::jsonb) as holidays from bank_account b
    join company c on c.id = b.company_id left join bank k on k.id = b.bank_id`;

export const readBankAccount = async (
  tx: Db,
  by: { code: string } | { id: number },
  lock = false,
): Promise<BankAccount | undefined> =>
  (
    await rows<BankAccount>(
      tx,
      sql`select ${COLUMNS}
        where ${"code" in by ? sql`b.code = ${by.code}` : sql`b.id = ${by.id}`} ${
          lock ? sql`for update of b` : sql``
        }`,
    )
  )[0];

export const bankAccountsByCode = async (
  tx: Db,
  codes: readonly string[],
): Promise<Map<string, BankAccount>> =>
  new Map(
    (
      await rows<BankAccount>(
        tx,
        sql`select ${COLUMNS} where b.code = any(${arrayOf([...new Set(codes)])}::text[])`,
      )
    ).map((b) => [b.code, b]),
  );

const READ = ["read.banks", "read.payables", "read.setup"] as const;

/** Bank accounts of the companies whose banks the person sees. */
export const listBankAccounts = defineUseCase({
  name: "listBankAccounts",
  kind: "read",
  rights: READ,
  what: "see bank accounts",
  of: "checked",
  schema: object(),
  run: async ({ tx, may }): Promise<Result<BankAccount[]>> =>
    ok(
      (await rows<BankAccount>(tx, sql`select ${COLUMNS} order by c.code, b.code`)).filter((b) =>
        READ.some((r) => may(r, b.company)),
      ),
    ),
});
