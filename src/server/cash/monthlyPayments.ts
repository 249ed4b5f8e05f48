import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import { monthlyDays } from "@/core/cash";
import { isResult } from "@/core/ledger";
import { addDays, dateText, endOfMonth, fail, minor, ok } from "@/core/shared";
import type { CalendarDate, Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import type { ExpectsAtBank } from "../banks";
import { arrayOf, readSetting, rows, writeSetting, type Db } from "../db";
import type { CompanyOfCash, ExpectedFlow } from "./expectedFlows";

const SETTING = "cash.monthly";

/** An account whose balance is paid on a day of each month: net pay, social security. */
export interface MonthlyPayment {
  account: string;
  name: string;
  /** Of the month; its last day where that is shorter. */
  day: number;
}

const readMonthly = async (tx: Db): Promise<Readonly<Record<string, number>>> =>
  (await readSetting<Record<string, number>>(tx, SETTING)) ?? {};

/** The accounts that are paid monthly, in all companies. */
export const listMonthlyPayments = defineUseCase({
  name: "listMonthlyPayments",
  kind: "read",
  rights: ["read.banks", "read.setup"],
  what: "see what is paid monthly",
  of: "shared",
  schema: object(),
  run: async ({ tx, masters }): Promise<Result<MonthlyPayment[]>> =>
    ok(
      Object.entries(await readMonthly(tx))
        .map(([account, day]) => ({
          account,
          name: masters.accountByNumber.get(account)?.name ?? "",
          day,
        }))
        .sort((a, b) => a.day - b.day || (a.account < b.account ? -1 : 1)),
    ),
});

/** Says on which day of the month the balance of an account is paid, or that it is not any more. */
export const saveMonthlyPayment = defineUseCase({
  name: "saveMonthlyPayment",
  kind: "write",
  rights: ["setup.rules"],
  what: "say what is paid monthly",
  of: "group",
  schema: object({
    account: string().trim().required("The account is missing"),
    day: number()
      .typeError("A day of the month is a number")
      .integer("A day of the month is a whole number")
      .min(1, "The first day of a month is 1")
      .max(31, "The last day of a month is 31")
      .required("The day is missing"),
    ended: boolean().default(false),
  }),
  run: async ({ tx, masters, audit }, input): Promise<Result<object>> => {
    const account = masters.accountByNumber.get(input.account);
    if (!account)
      return fail({ code: "ACCOUNT_UNKNOWN", account: input.account, field: "account" });
    // What control accounts hold is expected item by item, or as taxes; results are no debt.
    if (account.control !== null || isResult(account.type) || account.type === "units")
      return fail({
        code: "INVALID",
        what: `Account ${account.number} holds nothing that is paid once a month: choose a liability that is no control account`,
        field: "account",
      });
    const before = await readMonthly(tx);
    const { [account.number]: _own, ...others } = before;
    const after = input.ended ? others : { ...others, [account.number]: input.day };
    await writeSetting(tx, SETTING, after);
    await audit({
      action: "changed",
      kind: "monthly payment",
      recordId: account.number,
      label: account.name,
      companyId: null,
      before,
      after,
    });
    return ok({});
  },
});

/**
 * What is paid monthly: on the next day what stands on its account today, or, where nothing does, as
 * much as came onto it last month; that again in the months after.
 */
export async function monthlyToPay(
  { tx, today, masters }: Context,
  company: CompanyOfCash,
  upTo: CalendarDate,
): Promise<Omit<ExpectedFlow, "amount">[]> {
  const monthly = await readMonthly(tx);
  const accounts = Object.keys(monthly);
  if (accounts.length === 0) return [];
  const lastMonth = addDays(`${today.slice(0, 8)}01`, -1);
  const standing = await standingOn({ tx, masters }, company.id, accounts);
  const came = await rows<{ account: string; last: bigint }>(
    tx,
    sql`select a.number as account, -sum(l.amount)::bigint as last
      from journal_line l join account a on a.id = l.account_id
      where l.company_id = ${company.id} and a.number = any(${arrayOf(accounts)}::text[])
        and l.side = 'C' and l.amount > 0 and l.book_id in (0, ${masters.mainBook!.id})
        and l.date between ${`${lastMonth.slice(0, 8)}01`} and ${endOfMonth(lastMonth)}
      group by a.number`,
  );
  const lastOf = new Map(came.map((c) => [c.account, c.last]));
  const found = standing.map((s) => ({ ...s, last: lastOf.get(s.account) ?? 0n }));
  return found.flatMap((f) =>
    monthlyDays(today, monthly[f.account]!, upTo).flatMap((day, n) => {
      const isStanding = n === 0 && f.standing !== 0n;
      const owed = isStanding ? f.standing : f.last;
      if (owed === 0n) return [];
      return [
        {
          source: "monthly" as const,
          early: day,
          usual: day,
          late: day,
          why: isStanding
            ? `As it stands on its account today, paid on ${dateText(day)}`
            : `As much as came onto its account last month, paid on ${dateText(day)}`,
          company: company.code,
          partner: "",
          partnerName: "",
          what: f.name,
          document: null,
          account: f.account,
          owed: minor(owed),
          currency: company.currency,
        },
      ];
    }),
  );
}

/**
 * What is paid monthly, for statements of banks: what stands on its account today, about its day in
 * the months of the lines.
 */
export const paidMonthly: ExpectsAtBank = async ({ tx, masters }, of, span) => {
  const monthly = await readMonthly(tx);
  const accounts = Object.keys(monthly);
  const functional = masters.companyByCode.get(of.company)!.currency;
  if (accounts.length === 0 || of.currency !== functional) return [];
  const standing = await standingOn({ tx, masters }, of.companyId, accounts);
  return standing
    .filter((s) => s.standing !== 0n)
    .map((s) => ({
      what: s.name,
      // From the month before the first day on, since a day late in it can be meant by an early line.
      days: monthlyDays(addDays(span.from, -31), monthly[s.account]!, addDays(span.to, 31)),
      amount: minor(s.standing),
      partner: "",
      coding: { account: s.account, dimensions: {}, text: s.name },
    }));
};

/** What stands on accounts of a company in its main book, a debit positive. */
const standingOn = (
  { tx, masters }: Pick<Context, "tx" | "masters">,
  companyId: number,
  accounts: readonly string[],
) =>
  rows<{ account: string; name: string; standing: bigint }>(
    tx,
    sql`select a.number as account, a.name,
        coalesce((select sum(v.debit - v.credit) from coding_balance v
          where v.company_id = ${companyId} and v.account_id = a.id
            and v.book_id in (0, ${masters.mainBook!.id})), 0)::bigint as standing
      from account a where a.number = any(${arrayOf(accounts)}::text[]) order by a.number`,
  );
