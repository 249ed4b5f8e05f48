import { againstUse, isAtBank, type MoneyAccounts } from "@/core/banks";
import { conversionOn, rateProblem, type Conversion } from "@/core/rates";
import { dateText, fail, isCalendarDate, ok, type CalendarDate, type Result } from "@/core/shared";
import type { Context } from "../access";
import { loadPeriods } from "../organisation";
import { ratesFor } from "../rates";
import { readBankAccount, type BankAccount } from "./bankAccounts";
import { moneyAccounts } from "./moneyAccounts";

/** Where money of customers comes in before the bank's statement says so. */
export interface MoneyPlace {
  company: { id: number; code: string; name: string; currency: string };
  bank: BankAccount;
  date: CalendarDate;
  year: { id: number; name: string };
  accounts: MoneyAccounts;
  /** From the currency of the account into the company's, on that day. */
  rate: Conversion;
}

/**
 * The bank account, the day and the accounts by which money of customers is posted, if it can be.
 */
export async function moneyPlace(
  context: Context,
  input: { company: string; bank: string; date: string },
  /** What the money is called where a cash box is refused. */
  what: string,
): Promise<Result<MoneyPlace>> {
  const { tx, masters } = context;
  const company = masters.companyByCode.get(input.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
  const bank = await readBankAccount(tx, { code: input.bank });
  if (!bank || bank.companyId !== company.id)
    return fail({ code: "NOT_FOUND", what: `bank account ${input.bank}`, field: "bank" });
  if (!isAtBank(bank))
    return fail({
      code: "INVALID",
      what: `${bank.code} is a cash box: ${what} goes to a bank`,
      field: "bank",
    });
  const { date } = input;
  if (!isCalendarDate(date)) return fail({ code: "DATE_INVALID", text: date, field: "date" });
  const unused = againstUse(bank, date);
  if (unused !== null) return fail({ code: "INVALID", what: unused, field: "bank" });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= date && date <= p.end,
  );
  if (!period)
    return fail({
      code: "PERIOD_MISSING",
      date: dateText(date),
      company: company.name,
      field: "date",
    });
  const accounts = moneyAccounts(context, company);
  if (!accounts.ok) return accounts;
  const rates = await ratesFor(tx, masters, [
    { companies: [company.code], currency: bank.currency, date },
  ]);
  const rate = conversionOn(rates, "spot", bank.currency, company.currency, date);
  if (rate === null)
    return fail({
      ...rateProblem(rates, "spot", bank.currency, company.currency, date),
      field: "date",
    });
  return ok({
    company,
    bank,
    date,
    year: { id: period.yearId, name: period.yearName },
    accounts: { ...accounts.value, underWay: bank.underWayAccount },
    rate,
  });
}
