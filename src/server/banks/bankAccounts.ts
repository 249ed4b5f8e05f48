import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  bankAccountSchema,
  NO_BANK_ADDRESS,
  readBankAddress,
  type BankAddress,
} from "@/core/banks";
import {
  fail,
  isCurrency,
  minor,
  ok,
  readAmount,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import { rows, type Db } from "../db";
import { defineUseCase } from "../access";

export interface BankAccount extends BankAddress {
  id: number;
  code: string;
  name: string;
  companyId: number;
  company: string;
  companyName: string;
  currency: string;
  bankName: string;
  account: string;
  underWayAccount: string;
  /** Minor units of its currency. */
  overdraft: Minor;
  beyond: "warn" | "refuse";
  /** The largest single payment, minor units of its currency; null for any. */
  largestPayment: Minor | null;
  lastCheque: number;
  chequeSort: string;
  chequeAccount: string;
  chequeCancelling: "at once" | "review";
  signed: boolean;
  version: number;
}

const COLUMNS = sql`b.id, b.code, b.name, b.company_id as "companyId", c.code as company,
  c.name as "companyName", b.currency, b.iban, b.bic,
  b.number, b.routing, b.country, b.bank_name as "bankName", b.account,
  b.under_way_account as "underWayAccount", b.overdraft, b.beyond,
  b.largest_payment as "largestPayment",
  b.last_cheque::int as "lastCheque", b.cheque_sort as "chequeSort",
    b.cheque_account as "chequeAccount", b.cheque_cancelling as "chequeCancelling",
    b.signature <> '' as signed, b.version from bank_account b
    join company c on c.id = b.company_id`;

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
          lock
            ? sql`for
        update of b`
            : sql``
        }`,
    )
  )[0];

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

export const saveBankAccount = defineUseCase({
  name: "saveBankAccount",
  kind: "write",
  rights: ["prepare.banks", "setup.rules"],
  what: "change bank accounts",
  company: (i) => i.company,
  // So that of two people who give the same ledger account to two bank accounts one is told.
  locks: (_, i) => Promise.resolve([i.company]),
  schema: bankAccountSchema.shape({ version: number().integer() }),
  run: async ({ tx, masters, audit }, input): Promise<Result<{ id: number }>> => {
    const problems: Found[] = [];
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    if (!isCurrency(input.currency))
      problems.push({ code: "CURRENCY_UNKNOWN", currency: input.currency, field: "currency" });
    const read = readBankAddress(input);
    if (!read.ok) problems.push(...read.problems.map((p) => ({ code: "INVALID" as const, ...p })));
    const place = read.ok ? read.address : NO_BANK_ADDRESS;
    const account = masters.accountByNumber.get(input.account);
    if (!account)
      problems.push({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    else if (account.control !== "bank")
      problems.push({
        code: "INVALID",
        what: `Account ${account.number} is no bank's control account`,
        field: "account",
      });
    else if (account.currency && account.currency !== input.currency)
      problems.push({
        code: "ACCOUNT_CURRENCY",
        account: account.number,
        name: account.name,
        only: account.currency,
        currency: input.currency,
        field: "account",
      });
    else problems.push(...(await takenBy(tx, company.id, account.number, input.code)));
    const underWay = masters.accountByNumber.get(input.underWayAccount);
    if (!underWay)
      problems.push({
        code: "ACCOUNT_UNKNOWN",
        account: input.underWayAccount,
        field: "underWayAccount",
      });
    else if (underWay.control !== "transit")
      problems.push({
        code: "INVALID",
        what: `Account ${underWay.number} is no control account of money under way (transit)`,
        field: "underWayAccount",
      });
    const overdraft = isCurrency(input.currency)
      ? readAmount(input.overdraft || "0", input.currency)
      : null;
    if (overdraft && (!overdraft.ok || overdraft.amount < 0n))
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: input.overdraft, field: "overdraft" });
    const largest =
      input.largestPayment && isCurrency(input.currency)
        ? readAmount(input.largestPayment, input.currency)
        : null;
    if (largest && (!largest.ok || largest.amount <= 0n))
      problems.push({
        code: "AMOUNT_NOT_NUMBER",
        text: input.largestPayment ?? "",
        field: "largestPayment",
      });
    if (problems.length > 0) return fail(...problems);
    const before = await readBankAccount(tx, { code: input.code }, true);
    if (before && input.version === undefined)
      return fail({ code: "EXISTS", what: `Code ${input.code}`, field: "code" });
    if (before && input.version !== before.version)
      return fail({ code: "STALE", by: "Somebody else", at: "" });
    if (before && before.companyId !== company.id)
      return fail({
        code: "IN_USE",
        what: `${input.code} belongs to ${before.companyName}`,
        field: "company",
      });
    const moves =
      before && (before.account !== input.account || before.currency !== input.currency);
    if (moves && (await hasStatements(tx, before.id)))
      return fail({
        code: "IN_USE",
        what: `${input.code} has statements: its ledger account and currency stay`,
        field: before.account === input.account ? "currency" : "account",
      });
    const values = sql`${input.name}, ${company.id}, ${input.currency}, ${place.iban}, ${place.bic},
      ${place.number}, ${place.routing}, ${place.country},
      ${input.bankName}, ${input.account}, ${input.underWayAccount},
      ${overdraft?.ok ? overdraft.amount : minor(0n)}, ${input.refuse ? "refuse" : "warn"},
      ${largest?.ok ? largest.amount : null},
      ${input.lastCheque}, ${input.chequeSort}, ${input.chequeAccount},
      ${input.chequeReview ? "review" : "at once"}`;
    const columns = sql`name, company_id, currency, iban, bic, number, routing, country, bank_name, account,
      under_way_account, overdraft, beyond, largest_payment, last_cheque, cheque_sort, cheque_account,
      cheque_cancelling`;
    const [saved] = before
      ? await rows<{ id: number }>(
          tx,
          sql`update bank_account set (${columns}) = (${values}), version = version + 1
            where id = ${before.id} returning id`,
        )
      : await rows<{ id: number }>(
          tx,
          sql`insert into bank_account (code, ${columns}) values (${input.code}, ${values}) returning id`,
        );
    await audit({
      action: before ? "changed" : "added",
      kind: "bank account",
      recordId: saved!.id,
      label: input.code,
      companyId: company.id,
      before,
      after: input,
    });
    return ok({ id: saved!.id });
  },
});

/** What was reconciled stands on the ledger account and in the currency of then. */
const hasStatements = async (tx: Db, id: number): Promise<boolean> =>
  (
    await rows<{ id: bigint }>(
      tx,
      sql`select id from bank_statement where bank_account_id = ${id} limit 1`,
    )
  ).length > 0;

/** What a bank account holds is what its ledger account holds: no other one may stand on it. */
async function takenBy(tx: Db, companyId: number, account: string, code: string): Promise<Found[]> {
  const [other] = await rows<{ code: string }>(
    tx,
    sql`select code from bank_account
      where company_id = ${companyId} and account = ${account} and code <> ${code} limit 1`,
  );
  return other
    ? [
        {
          code: "INVALID",
          what: `Account ${account} is the ledger account of ${other.code} already; each bank account has its own`,
          field: "account",
        },
      ]
    : [];
}

/** Largest picture of a signature that is taken, in bytes. */
const MOST = 200_000;

/** The picture of the signature that its cheques carry: PNG. */
export const saveSignature = defineUseCase({
  name: "saveSignature",
  kind: "write",
  rights: ["setup.rules"],
  what: "change signatures",
  of: "checked",
  schema: object({
    code: string().required(),
    picture: string()
      .required("A picture is needed")
      .max(MOST * 2),
  }),
  run: async ({ tx, audit, may }, input) => {
    const account = await readBankAccount(tx, { code: input.code }, true);
    if (!account) return fail({ code: "NOT_FOUND", what: `bank account ${input.code}` });
    if (!may("setup.rules", account.company))
      return fail({ code: "FORBIDDEN", what: `change signatures of ${account.companyName}` });
    const bytes = Buffer.from(input.picture, "base64");
    if (
      bytes.length > MOST ||
      !bytes.subarray(0, 8).equals(Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]))
    )
      return fail({
        code: "INVALID",
        what: "A signature is a PNG picture of at most 200 kB",
        field: "picture",
      });
    await tx.execute(
      sql`update bank_account set signature = ${bytes.toString("base64")} where id = ${account.id}`,
    );
    await audit({
      action: "signature changed",
      kind: "bank account",
      recordId: account.id,
      label: account.code,
      companyId: account.companyId,
    });
    return ok({});
  },
});
