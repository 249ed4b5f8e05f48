import { againstUse, GAINS_TO, isAtBank, type GainsTo, type MoneyAccounts } from "@/core/banks";
import { conversionOn, rateProblem, type Conversion } from "@/core/rates";
import { dateText, fail, isCalendarDate, ok, type Found, type Result } from "@/core/shared";
import { readSetting } from "../db";
import { readBankAccount, type BankAccount } from "./bankAccounts";
import type { Context } from "../access";

import { loadPeriods } from "../organisation";
import { ratesFor } from "../rates";

/** Which company has discounts and exchange differences where one pays for another. */
export async function gainsSetting({
  tx,
}: Context): Promise<{ discountTo: GainsTo; differenceTo: GainsTo }> {
  const set = await readSetting<{ discountTo?: GainsTo; differenceTo?: GainsTo }>(
    tx,
    "payments.forAnother",
  );
  const read = (v: GainsTo | undefined): GainsTo => (v && GAINS_TO.includes(v) ? v : "owing");
  return { discountTo: read(set?.discountTo), differenceTo: read(set?.differenceTo) };
}

interface Place {
  company: { id: number; code: string; name: string; currency: string };
  bank: BankAccount;
  yearId: number;
  accounts: MoneyAccounts;
  rateIn(functional: string): (currency: string) => Conversion | null;
  /** Why there is no rate from one currency to another. */
  missingRate(from: string, to: string): Found;
}

/**
 * Bank account, period, accounts and rates of payments on a day; what is missing of them is said.
 */
export async function paymentPlace(
  context: Context,
  input: { company: string; bank: string; date: string; currencies?: readonly string[] },
): Promise<Result<Place>> {
  const { tx, masters } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const bank = await readBankAccount(tx, { code: input.bank });
  if (!bank) return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
  if (!isCalendarDate(input.date))
    return fail({ code: "DATE_INVALID", text: input.date, field: "date" });
  const problems: Found[] = [];
  const unused = againstUse(bank, input.date);
  if (unused !== null) problems.push({ code: "INVALID", what: unused, field: "bank" });
  if (!isAtBank(bank))
    problems.push({
      code: "INVALID",
      what: `${bank.code} is a cash box: what is paid from it is written in its cash book`,
      field: "bank",
    });
  if (bank.companyId !== company.id && !masters.pair(company.code, bank.company))
    problems.push({
      code: "PAIR_MISSING",
      company: company.name,
      other: bank.companyName,
      field: "bank",
    });
  if (bank.companyId !== company.id && !context.may("post.payables", bank.company))
    problems.push({ code: "FORBIDDEN", what: `pay from ${bank.companyName}`, field: "bank" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= input.date && input.date <= p.end,
  );
  if (!period)
    problems.push({
      code: "PERIOD_MISSING",
      date: dateText(input.date),
      company: company.name,
      field: "date",
    });
  const purposes = {
    discountReceived: "discounts received",
    exchangeGain: "exchange gains",
    exchangeLoss: "exchange losses",
  } as const;
  for (const [purpose, words] of Object.entries(purposes))
    if (!masters.purposes[purpose as keyof typeof purposes])
      problems.push({ code: "PURPOSE_MISSING", purpose: words });
  if (problems.length > 0) return fail(...problems);
  const known = await ratesFor(
    tx,
    masters,
    [...(input.currencies ?? []), bank.currency].map((currency) => ({
      companies: [company.code, bank.company],
      currency,
      date: input.date,
    })),
  );
  const accounts: MoneyAccounts = {
    company: company.code,
    functional: company.currency,
    underWay: bank.underWayAccount,
    discount: masters.purposes.discountReceived!,
    exchangeGain: masters.purposes.exchangeGain!,
    exchangeLoss: masters.purposes.exchangeLoss!,
  };
  return ok({
    company,
    bank,
    yearId: period!.yearId,
    accounts,
    rateIn: (functional) => (currency) =>
      conversionOn(known, "spot", currency, functional, input.date),
    missingRate: (from, to) => rateProblem(known, "spot", from, to, input.date),
  });
}
