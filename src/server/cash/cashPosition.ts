import { sql } from "drizzle-orm";
import { boolean, object, string } from "yup";
import {
  cashForecast,
  daySteps,
  isInStep,
  shortageOf,
  weekSteps,
  type CashStep,
  type ForecastStep,
} from "@/core/cash";
import { conversionOn, convertBy } from "@/core/rates";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { balanceNow } from "../banks";
import { arrayOf, rows } from "../db";
import { newestRates } from "../rates";
import { expectedFlows, type CompanyOfCash, type ExpectedFlow } from "./expectedFlows";

const WEEKS = 13;
const DAYS = 14;

/** A bank account as it stands today. */
export interface CashAccount {
  code: string;
  name: string;
  bank: string;
  company: string;
  currency: string;
  /** In its currency, by the ledger. */
  balance: Minor;
  /** In the one currency; null where no rate is known. */
  inOne: Minor | null;
  /** What the bank said last, and of which day. */
  statement: { closing: Minor; date: CalendarDate } | null;
  /** Lines of its statements that are not posted, in number and sum. */
  notPosted: { count: number; sum: Minor };
}

export interface CashPosition {
  /** The currency in which all is summed: that of the company. */
  currency: string;
  today: CalendarDate;
  accounts: CashAccount[];
  total: Minor;
  steps: ForecastStep[];
  shortage: { expected: CalendarDate | null; possible: CalendarDate | null };
  /** Currencies without a rate: what is in them is in no sum. */
  missing: string[];
}

const asked = {
  company: string().required(),
  /** All companies whose banks the person sees, or this one. */
  all: boolean().default(false),
  by: string().oneOf(["day", "week"]).default("week"),
};

/** What all bank accounts hold today, and what is expected to come and go. */
export const cashPosition = defineUseCase({
  name: "cashPosition",
  kind: "read",
  rights: ["read.banks"],
  what: "see cash",
  company: (i) => i.company,
  schema: object(asked),
  run: async (context, input): Promise<Result<CashPosition>> => {
    const scope = scopeOf(context, input);
    if (!scope) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const { companies, currency } = scope;
    const steps = stepsOf(context.today, input.by);
    const accounts = await accountsOf(context, companies, currency);
    const { flows, missing } = await flowsOf(context, companies, currency, steps.at(-1)!.to);
    const total = minor(accounts.reduce((t, a) => t + (a.inOne ?? 0n), 0n));
    const forecast = cashForecast(total, flows, steps);
    const { expected, possible } = shortageOf(forecast, minor(0n));
    const without = accounts.filter((a) => a.inOne === null).map((a) => a.currency);
    return ok({
      currency,
      today: context.today,
      accounts,
      total,
      steps: forecast,
      shortage: { expected: expected?.to ?? null, possible: possible?.to ?? null },
      missing: [...new Set([...missing, ...without])].sort(),
    });
  },
});

/** What a step of the forecast is made of, the largest first; at most 500 of them. */
export const cashFlows = defineUseCase({
  name: "cashFlows",
  kind: "read",
  rights: ["read.banks"],
  what: "see cash",
  company: (i) => i.company,
  schema: object({ ...asked, to: string().required() }),
  run: async (
    context,
    input,
  ): Promise<Result<{ step: CashStep; flows: ExpectedFlow[]; count: number; sum: Minor }>> => {
    const scope = scopeOf(context, input);
    if (!scope) return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const steps = stepsOf(context.today, input.by);
    const index = steps.findIndex((s) => s.to === input.to);
    if (index < 0) return fail({ code: "NOT_FOUND", what: "such day or week", field: "to" });
    const { companies, currency } = scope;
    const { flows } = await flowsOf(context, companies, currency, steps.at(-1)!.to);
    const own = flows.filter((f) => isInStep(f.usual, steps, index));
    const size = (f: ExpectedFlow) => (f.amount < 0n ? -f.amount : f.amount);
    own.sort((a, b) => (size(a) < size(b) ? 1 : size(a) > size(b) ? -1 : 0));
    return ok({
      step: steps[index]!,
      flows: own.slice(0, 500),
      count: own.length,
      sum: minor(own.reduce((t, f) => t + f.amount, 0n)),
    });
  },
});

const stepsOf = (today: CalendarDate, by: "day" | "week"): CashStep[] =>
  by === "day" ? daySteps(today, DAYS) : weekSteps(today, WEEKS);

function scopeOf(
  { masters, may }: Context,
  input: { company: string; all: boolean },
): { companies: CompanyOfCash[]; currency: string } | null {
  const own = masters.companyByCode.get(input.company);
  if (!own) return null;
  const companies = input.all ? masters.companies.filter((c) => may("read.banks", c.code)) : [own];
  return { companies, currency: own.currency };
}

async function flowsOf(
  context: Context,
  companies: readonly CompanyOfCash[],
  currency: string,
  upTo: CalendarDate,
): Promise<{ flows: ExpectedFlow[]; missing: string[] }> {
  const found = [];
  for (const company of companies)
    found.push(await expectedFlows(context, company, currency, upTo));
  return {
    flows: found.flatMap((f) => f.flows),
    missing: found.flatMap((f) => f.missing),
  };
}

async function accountsOf(
  context: Context,
  companies: readonly CompanyOfCash[],
  into: string,
): Promise<CashAccount[]> {
  const { tx, today } = context;
  const found = await rows<{
    code: string;
    name: string;
    bank: string;
    company: string;
    currency: string;
    balance: bigint;
    closing: bigint | null;
    closingDate: string | null;
    count: number;
    sum: bigint;
  }>(
    tx,
    sql`select b.code, b.name, b.bank_name as bank, c.code as company, b.currency,
        ${balanceNow(context)} as balance, s.closing, s.closing_date as "closingDate", n.count, n.sum
      from bank_account b join company c on c.id = b.company_id
        join account a on a.number = b.account
        left join lateral (select s.closing, s.closing_date from bank_statement s
          where s.bank_account_id = b.id and s.closing_date <= ${today}
          order by s.closing_date desc, s.id desc limit 1) s on true
        cross join lateral (select count(*)::int as count, coalesce(sum(l.amount), 0)::bigint as sum
          from statement_line l where l.company_id = b.company_id and l.bank_account_id = b.id
            and l.state <> 'posted') n
      where b.company_id = any(${arrayOf(companies.map((c) => c.id))}::int[])
        and (b.closed_on is null or b.closed_on > ${today})
      order by c.code, b.code`,
  );
  const rates = await newestRates(tx, [today]);
  return found.map(({ count, sum, closing, closingDate, ...a }) => {
    const rate = conversionOn(rates, "spot", a.currency, into, today);
    return {
      ...a,
      balance: minor(a.balance),
      inOne: rate === null ? null : convertBy(minor(a.balance), a.currency, into, rate),
      statement:
        closing === null || closingDate === null
          ? null
          : { closing: minor(closing), date: closingDate },
      notPosted: { count, sum: minor(sum) },
    };
  });
}
