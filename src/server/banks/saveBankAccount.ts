import { sql } from "drizzle-orm";
import { number } from "yup";
import { ACCOUNT_NUMBER, readCoding } from "@/core/ledger";
import {
  allowsMore,
  bankAccountSchema,
  isSameAddress,
  NO_BANK_ADDRESS,
  readBankAddress,
  type AccountLimits,
  type AccountRequest,
  type BankAddress,
} from "@/core/banks";
import {
  fail,
  isCalendarDate,
  isCurrency,
  minor,
  ok,
  readAmount,
  type Found,
  type Result,
} from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows, type Db } from "../db";
import { readBankAccount, type BankAccount } from "./bankAccounts";
import { wantsSecondPerson } from "./agreeToAccount";
import { bankOfAccount } from "./bankRecords";
import { whatIsOpen } from "./whatIsOpen";

export const saveBankAccount = defineUseCase({
  name: "saveBankAccount",
  kind: "write",
  rights: ["prepare.banks", "setup.rules"],
  what: "change bank accounts",
  company: (i) => i.company,
  // So that of two people who give the same ledger account to two bank accounts one is told.
  locks: (_, i) => Promise.resolve([i.company]),
  schema: bankAccountSchema.shape({ version: number().integer() }),
  run: async (context, input): Promise<Result<{ id: number }>> => {
    const { tx, masters, audit } = context;
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
    if (!account) {
      const added = await addLedgerAccount(context, input);
      if (!added.ok) problems.push(...added.problems);
    } else if (account.control !== "bank")
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
    const tolerance = isCurrency(input.currency)
      ? readAmount(input.tolerance || "0", input.currency)
      : null;
    if (tolerance && (!tolerance.ok || tolerance.amount < 0n))
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: input.tolerance, field: "tolerance" });
    for (const field of ["openedOn", "closedOn"] as const)
      if (input[field] && !isCalendarDate(input[field]))
        problems.push({ code: "INVALID", what: "This is no day", field });
    const usual = valuesSaid(input.dimensions);
    for (const fault of readCoding(masters, null, usual, { date: null }).found)
      problems.push({ ...fault, field: `dimensions.${fault.field ?? ""}` });
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
    const openedOn = input.openedOn === undefined ? before?.openedOn : input.openedOn || null;
    const closedOn =
      input.closedOn === undefined
        ? (before?.closesOn ?? before?.closedOn)
        : input.closedOn || null;
    const closes = before && closedOn && closedOn !== before.closedOn;
    const open = closes ? await whatIsOpen(context, before) : null;
    if (open) return fail({ code: "IN_USE", what: open, field: "closedOn" });
    const limits: AccountLimits = {
      currency: input.currency,
      overdraft: overdraft?.ok ? overdraft.amount : minor(0n),
      tolerance: tolerance?.ok ? tolerance.amount : minor(0n),
      beyond: input.refuse ? "refuse" : "warn",
      largestPayment: largest?.ok ? largest.amount : null,
      reviews: input.reviews,
    };
    const request = await requestOf(context, before, {
      ...place,
      limits,
      holder: input.holder,
      closes: Boolean(closes),
      opens: !!before?.closedOn && (!closedOn || closedOn > before.closedOn),
    });
    const bank = await bankOfAccount(context, {
      bankId: input.bankId === undefined ? (before?.bankId ?? null) : input.bankId,
      newBank: input.newBank,
    });
    if (!bank.ok) return bank;
    const values = sql`${input.name}, ${bank.value}, ${input.kind ?? before?.kind ?? "current"},
      ${openedOn ?? null}::date,
      ${(request.waits === "closing" ? before?.closedOn : closedOn) ?? null}::date,
      ${request.waits}, ${arrayOf(request.askedBy)}::int[],
      ${request.waits === "closing" ? (closedOn ?? null) : null}::date, ${input.holder},
      ${input.signatories}, ${limits.tolerance},
      ${company.id}, ${input.currency}, ${place.iban}, ${place.bic},
      ${place.number}, ${place.routing}, ${place.country},
      ${input.bankName}, ${input.account}, ${input.underWayAccount},
      ${limits.overdraft}, ${limits.beyond}, ${limits.largestPayment},
      ${input.lastCheque}, ${input.chequeSort}, ${input.chequeAccount},
      ${arrayOf(limits.reviews)}::text[], ${input.postsCertain}, ${input.statementFormat},
      ${input.fromFolder}, ${input.matchesAtOnce}, ${JSON.stringify(usual)}::jsonb`;
    const columns = sql`name, bank_id, kind, opened_on, closed_on, waits,
      asked_by, closes_on, holder, signatories, tolerance, company_id, currency, iban, bic, number,
      routing, country, bank_name, account, under_way_account, overdraft, beyond,
      largest_payment, last_cheque, cheque_sort, cheque_account, undo_reviews, posts_certain,
      statement_format, from_folder, matches_at_once, dimensions`;
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

/**
 * What of a bank account waits for a second person once it is saved: that it is new or open again,
 * that money would go elsewhere than before, that more would be allowed, or that it is to be closed.
 * What waits already goes on waiting, and nobody who has changed any of it agrees.
 */
async function requestOf(
  { tx, person }: Context,
  before: BankAccount | undefined,
  after: BankAddress & {
    holder: string;
    limits: AccountLimits;
    closes: boolean;
    opens: boolean;
  },
): Promise<{ waits: AccountRequest; askedBy: number[] }> {
  const none = { waits: "" as const, askedBy: [] };
  if (!(await wantsSecondPerson(tx))) return none;
  const askedBy = [...new Set([...(before?.askedBy ?? []), person.id])];
  const asked = (waits: AccountRequest) => ({ waits, askedBy });
  if (!before || before.waits === "opening" || after.opens) return asked("opening");
  if (
    before.waits === "change" ||
    !isSameAddress(before, after) ||
    allowsMore(before, after.limits)
  )
    return asked("change");
  return after.closes ? asked("closing") : none;
}

/** The usual values that are said, by dimension. */
const valuesSaid = (dimensions: Readonly<Record<string, string>>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(dimensions)
      .map(([code, value]) => [code, value.trim()] as const)
      .filter(([, value]) => value !== ""),
  );

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

/**
 * Adds the ledger account of a new bank account beside those that are there: an asset, a bank's
 * control account, in the account's currency alone.
 */
async function addLedgerAccount(
  { tx, audit, mayEverywhere }: Context,
  input: { account: string; newAccount: string; currency: string },
): Promise<Result<unknown>> {
  if (input.newAccount === "")
    return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
  if (!mayEverywhere("setup.organisation"))
    return fail({ code: "FORBIDDEN", what: "add accounts to the chart", field: "newAccount" });
  const [beside] = await rows<{ headingId: number }>(
    tx,
    sql`select heading_id as "headingId" from account where control = 'bank'
      order by number > ${input.account}, abs(length(number) - length(${input.account})), number desc
      limit 1`,
  );
  if (!beside)
    return fail({
      code: "INVALID",
      what: "The chart has no bank's control account yet that shows where it belongs: add it there",
      field: "account",
    });
  if (!ACCOUNT_NUMBER.test(input.account))
    return fail({
      code: "INVALID",
      what: "An account number has up to 20 figures or capitals",
      field: "account",
    });
  const [saved] = await rows<{ id: number }>(
    tx,
    sql`insert into account (number, name, type, control, monetary, heading_id, blocked, currency)
      values (${input.account}, ${input.newAccount}, 'asset', 'bank', true, ${beside.headingId},
        false, ${input.currency}) returning id`,
  );
  await audit({
    action: "added",
    kind: "account",
    recordId: saved!.id,
    label: input.account,
    after: { number: input.account, name: input.newAccount, control: "bank" },
  });
  return ok({});
}
