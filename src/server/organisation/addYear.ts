import { sql } from "drizzle-orm";
import { boolean, number, object, string } from "yup";
import {
  nextYearName,
  planYear,
  WEEK_DIVISIONS,
  type Company,
  type Division,
  type FiscalYear,
} from "@/core/organisation";
import { addDays, fail, ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../access";
import { arrayOf, rows } from "../db";
import { loadYears } from "./periods";

interface Wanted {
  name: string;
  description: string;
  start: CalendarDate;
  end: CalendarDate | undefined;
  division: Division;
  adjustment: boolean;
}

/** Writes one year; what the year before it leaves becomes its opening balances. */
async function write(
  { tx, audit }: Context,
  company: Company,
  wanted: Wanted,
  last: Pick<FiscalYear, "id"> | undefined,
): Promise<Result<{ id: number; end: CalendarDate }>> {
  const plan = planYear(wanted);
  if (!plan.ok) return plan;
  const { end, periods: p } = plan.value;
  const [year] = await rows<{ id: number }>(
    tx,
    sql`insert into fiscal_year (company_id, name, description, start_date, end_date)
      values (${company.id}, ${wanted.name}, ${wanted.description}, ${wanted.start}, ${end})
      returning id`,
  );
  await tx.execute(sql`insert into period (year_id, no, name, start_date, end_date, adjustment)
    select ${year!.id}, * from unnest(${arrayOf(p.map((x) => x.no))}::smallint[],
      ${arrayOf(p.map((x) => x.name))}::text[], ${arrayOf(p.map((x) => x.start))}::date[],
      ${arrayOf(p.map((x) => x.end))}::date[],
      ${arrayOf(p.map((x) => x.adjustment))}::boolean[])`);
  if (last)
    await tx.execute(sql`insert into account_balance (company_id, book_id, year_id, period_no,
      closing, account_id, debit, credit)
      select b.company_id, b.book_id, ${year!.id}, 0, false, b.account_id,
        sum(b.debit - b.credit), 0 from account_balance b join account a on a.id = b.account_id
      where b.company_id = ${company.id} and b.year_id = ${last.id} and a.type in ('asset',
        'liability', 'equity', 'units') group by 1, 2, 6`);
  await audit({
    action: "added",
    kind: "year",
    recordId: year!.id,
    label: `${company.code} ${wanted.name}`,
    companyId: company.id,
    after: { ...wanted, end, periods: p.length },
  });
  return ok({ id: year!.id, end });
}

/**
 * Years that follow on the one before them. Their opening balances are what the years before them
 * leave on the accounts of the balance sheet.
 */
export const addYear = defineUseCase({
  name: "addYear",
  kind: "write",
  rights: ["setup.organisation"],
  what: "set up fiscal years",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    name: string()
      .required("A name is needed")
      .matches(/^[A-Za-z0-9/]{2,9}$/, "A year's name has 2 to 9 letters or figures, like 2027"),
    description: string().default("").max(100),
    start: string().required("A start is needed"),
    /** The last day; what the division makes of it where it is empty. */
    end: string().default(""),
    division: string()
      .oneOf(["months", ...WEEK_DIVISIONS, "count"] as const)
      .default("months"),
    count: number().integer().default(12),
    adjustment: boolean().default(true),
    /** How many more years follow, of the usual length. */
    more: number().integer().min(0).max(9).default(0),
  }),
  run: async (context, input): Promise<Result<{ id: number; end: CalendarDate }>> => {
    const { tx, masters } = context;
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    await tx.execute(sql`select 1 from chain where company_id = ${company.id} for update`);
    const years = await loadYears(tx, [company.id]);
    const taken = new Set(years.map((y) => y.name));
    const { division, count } = input;
    let wanted: Wanted = {
      name: input.name,
      description: input.description,
      start: input.start,
      end: input.end || undefined,
      division: division === "count" ? { count } : division,
      adjustment: input.adjustment,
    };
    let last: { id: number; end: CalendarDate } | undefined = years.at(-1);
    for (let i = 0; i <= input.more; i++) {
      if (taken.has(wanted.name))
        return fail({ code: "YEAR_EXISTS", year: wanted.name, field: "name" });
      if (last && wanted.start !== addDays(last.end, 1))
        return fail({ code: "YEAR_GAP", date: addDays(last.end, 1), field: "start" });
      const made = await write(context, company, wanted, last);
      if (!made.ok) return made;
      last = made.value;
      taken.add(wanted.name);
      wanted = {
        ...wanted,
        name: nextYearName(wanted.name),
        start: addDays(last.end, 1),
        end: undefined,
      };
    }
    return ok({ id: last!.id, end: last!.end });
  },
});
