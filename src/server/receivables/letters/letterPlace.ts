import { sql, type SQL } from "drizzle-orm";
import { array, object, string, type InferType } from "yup";
import {
  addDays,
  dateText,
  dayField,
  fail,
  ok,
  type CalendarDate,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf } from "../../db";
import { loadPeriods } from "../../organisation";

/** What a run of letters is asked for. */
export const lettersSchema = object({
  company: string().required(),
  what: string()
    .oneOf(["reminder", "statement"] as const)
    .default("reminder"),
  date: dayField().required("The date of the letters is missing"),
  /** Whom: of a group, of a collector, or these; empty for all. */
  group: string().trim().max(20).default(""),
  collector: string().trim().max(60).default(""),
  customers: array(string().trim().required().max(60)).max(5000).default([]),
});
export type LettersParams = InferType<typeof lettersSchema>;

/** Letters are dated so many days from today at most. */
const AWAY = 31;

export interface LettersPlace {
  company: { id: number; code: string; name: string; currency: string };
  yearId: number;
  on: CalendarDate;
}

/** Where and when the letters are written, or what stands against that. */
export async function placeOfLetters(
  { tx, masters, today }: Pick<Context, "tx" | "masters" | "today">,
  params: LettersParams,
): Promise<Result<LettersPlace>> {
  const company = masters.companyByCode.get(params.company);
  if (!company) return fail({ code: "COMPANY_UNKNOWN", company: params.company, field: "company" });
  const on = params.date!;
  if (on < addDays(today, -AWAY) || on > addDays(today, AWAY))
    return fail({
      code: "INVALID",
      what: `Letters are dated within ${AWAY} days of today; ${dateText(on)} is not`,
      field: "date",
    });
  const period = (await loadPeriods(tx, [company.id])).find(
    (p) => !p.adjustment && p.start <= on && on <= p.end,
  );
  if (!period)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: on.slice(0, 7),
      company: company.name,
      field: "date",
    });
  return ok({ company, yearId: period.yearId, on });
}

/**
 * Open items that letters could be about, with their customers as `p`: of a reminder those that are
 * overdue, and credits.
 */
export const itemsAskedFor = (
  { company, on }: LettersPlace,
  params: LettersParams,
): SQL => sql`open_item i join partner p on p.code = i.partner
  where i.company_id = ${company.id} and i.area = 'receivables' and i.left_amount <> 0
    ${params.what === "reminder" ? sql`and (i.due_date < ${on} or i.left_amount < 0)` : sql``}
    ${whom(params)}`;

/** The codes of the customers of whom a letter could be made: a credit alone makes no reminder. */
export const customersAskedFor = (
  { company, on }: LettersPlace,
  params: LettersParams,
): SQL => sql`select p.code from partner p
  where exists (select 1 from open_item i where i.partner = p.code
      and i.company_id = ${company.id} and i.area = 'receivables' and i.left_amount <> 0
      ${params.what === "reminder" ? sql`and i.due_date < ${on} and i.left_amount > 0` : sql``})
    ${whom(params)}`;

const whom = ({ group, collector, customers }: LettersParams): SQL => sql`
    ${group === "" ? sql`` : sql`and p.customer_group = ${group}`}
    ${collector === "" ? sql`` : sql`and p.collector = ${collector}`}
    ${customers.length === 0 ? sql`` : sql`and p.code = any(${arrayOf(customers)}::text[])`}`;
