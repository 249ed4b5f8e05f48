import { sql } from "drizzle-orm";
import { standingIn, type SumInCurrency } from "@/core/banks";
import { convertBy, type Conversion } from "@/core/rates";
import { amountText, minor, type CalendarDate, type Minor } from "@/core/shared";
import { rows } from "../db";
import type { Context } from "../access";
import type { BankAccount } from "./bankAccounts";
import { balancesByCurrencyOn } from "../openItems";
import type { RunPayment } from "./postedPayments";
import { bankOfSide } from "./sideOfTransfer";

/** From a currency into the one that is asked for; null where no rate is known. */
type RateIn = (into: string) => (currency: string) => Conversion | null;

/**
 * What paying does to the bank account, in its currency: warnings, or a refusal where the account
 * says so.
 */
export async function againstBank(
  context: Context,
  bank: BankAccount,
  company: { id: number; name: string },
  day: CalendarDate,
  payments: readonly RunPayment[],
  rateIn: RateIn,
): Promise<{ left: Minor | null; blocks: string[]; warnings: string[] }> {
  const left = await leftAfter(context, bank, day, payments, rateIn);
  const beyond = beyondLimit(bank, left);
  const foreign = [...new Set(payments.map((p) => p.currency))].filter((c) => c !== bank.currency);
  return {
    left,
    blocks: [
      ...(beyond && bank.beyond === "refuse" ? [beyond] : []),
      ...tooLarge(bank, payments, rateIn(bank.currency)),
    ],
    warnings: [
      ...(beyond && bank.beyond === "warn" ? [beyond] : []),
      ...(foreign.length > 0
        ? [
            `The bank converts ${foreign.join(", ")}; what it takes will differ from the day's rate.`,
          ]
        : []),
      ...(bank.companyId === company.id
        ? []
        : [`${bank.companyName} pays; ${company.name} will owe it the amount.`]),
    ],
  };
}

/** What is promised for a later day leaves nothing today, but is no larger than what may leave at all. */
export const againstPromise = (
  bank: BankAccount,
  payments: readonly RunPayment[],
  rateIn: RateIn,
): { left: null; blocks: string[]; warnings: string[] } => ({
  left: null,
  blocks: tooLarge(bank, payments, rateIn(bank.currency)),
  warnings: [],
});

/** The balance less what is under way from it and what is paid now; null without a rate. */
async function leftAfter(
  context: Context,
  bank: BankAccount,
  day: CalendarDate,
  payments: readonly RunPayment[],
  rateIn: RateIn,
): Promise<Minor | null> {
  const functional = context.masters.companyById.get(bank.companyId)!.currency;
  const account = context.masters.accountByNumber.get(bank.account);
  const held = account
    ? await balancesByCurrencyOn(context, bank.companyId, [account.id], day)
    : [];
  const sums = [...held, ...(await underWayFrom(context, bank, day))];
  const standing = standingIn(bank.currency, functional, sums, rateIn(bank.currency)(functional));
  if (standing === null) return null;
  let left: bigint = standing;
  for (const { amount, currency } of payments) {
    const rate = rateIn(bank.currency)(currency);
    if (rate === null) return null;
    left -= convertBy(amount, currency, bank.currency, rate);
  }
  return minor(left);
}

/**
 * What is left of money under way from a bank account, and of its bills and notes that are due. Of
 * accounts that several bank accounts share, what no payment names is counted for each: it is not known
 * where it comes from.
 */
const underWayFrom = (
  { tx }: Context,
  bank: BankAccount,
  day: CalendarDate,
): Promise<SumInCurrency[]> =>
  rows<SumInCurrency>(
    tx,
    sql`select i.currency, sum(i.left_amount)::bigint as amount,
        sum(i.left_functional)::bigint as functional
      from open_item i join account a on a.id = i.account_id
        left join (document_link l join payment p on p.document_id = l.from_id and l.kind = 'made')
          on l.to_id = i.journal_id
      where i.company_id = ${bank.companyId} and i.area = 'transit' and i.left_amount <> 0
        and case when p.due_date is not null then p.due_date <= ${day}
          else i.date <= ${day} and a.number = ${bank.underWayAccount} end
        and coalesce(${bankOfSide("i", "p")}, ${bank.id}) = ${bank.id}
      group by 1`,
  );

function beyondLimit(bank: BankAccount, left: Minor | null): string | null {
  if (left === null)
    return `Nobody can say what ${bank.name} would stand at: a rate to ${bank.currency} is not known.`;
  if (left >= -(bank.overdraft + bank.tolerance)) return null;
  const limit =
    bank.overdraft > 0n
      ? `, beyond its limit of ${amountText(bank.overdraft, bank.currency)} ${bank.currency}`
      : "";
  return `${bank.name} would stand at ${amountText(left, bank.currency)} ${bank.currency}${limit}.`;
}

/** Payments above the largest that may leave the account; without a rate nobody can say that one is not. */
function tooLarge(
  bank: BankAccount,
  payments: readonly RunPayment[],
  rateOf: (currency: string) => Conversion | null,
): string[] {
  const most = bank.largestPayment;
  if (most === null) return [];
  return payments
    .filter((p) => {
      const rate = rateOf(p.currency);
      return rate === null || convertBy(p.amount, p.currency, bank.currency, rate) > most;
    })
    .map(
      (p) =>
        `The payment of ${amountText(p.amount, p.currency)} ${p.currency} to ${p.payee} is larger than ${amountText(most, bank.currency)} ${bank.currency}, the largest from ${bank.name}.`,
    );
}
