import { object, string } from "yup";
import { AREAS, type Area } from "@/core/access";
import {
  divisionOf,
  nextYearName,
  periodKey,
  stateOf,
  type FiscalYear,
  type PeriodState,
} from "@/core/organisation";
import { addDays, fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { loadPeriods, loadYears } from "./periods";
import { periodRight } from "./switchPeriods";

export interface PeriodMatrix {
  company: string;
  book: string;
  years: (FiscalYear & {
    periods: {
      key: string;
      name: string;
      start: string;
      end: string;
      adjustment: boolean;
      states: Record<Area, PeriodState>;
    }[];
  })[];
  /** What a new year would be. */
  next: { name: string; start: string; division: string; count: number };
  /** Books whose periods can be switched. */
  books: { code: string; name: string }[];
  /** Areas whose periods the person may switch. */
  may: Area[];
  mayAddYear: boolean;
}

export const periodMatrix = defineUseCase({
  name: "periodMatrix",
  kind: "read",
  rights: ["read.setup", "setup.organisation", "read.close", "period.ledger"],
  what: "see years and periods",
  company: (i) => i.company,
  schema: object({ company: string().required(), book: string() }),
  run: async ({ tx, masters, may, today }, input): Promise<Result<PeriodMatrix>> => {
    const company = masters.companyByCode.get(input.company);
    if (!company)
      return fail({ code: "COMPANY_UNKNOWN", company: input.company, field: "company" });
    const book = input.book ? masters.bookByCode.get(input.book) : masters.mainBook;
    if (!book) return fail({ code: "BOOK_UNKNOWN", book: input.book ?? "", field: "book" });
    const years = await loadYears(tx, [company.id]);
    const periods = await loadPeriods(tx, [company.id]);
    const last = years.at(-1);
    const start = last ? addDays(last.end, 1) : `${today.slice(0, 4)}-01-01`;
    const division = divisionOf(periods.filter((p) => p.yearId === last?.id));
    return ok({
      company: company.code,
      book: book.code,
      years: [...years].reverse().map((y) => ({
        ...y,
        periods: periods
          .filter((p) => p.yearId === y.id)
          .map((p) => ({
            key: periodKey(p),
            name: p.name,
            start: p.start,
            end: p.end,
            adjustment: p.adjustment,
            states: Object.fromEntries(AREAS.map((a) => [a, stateOf(p, book.id, a)])) as Record<
              Area,
              PeriodState
            >,
          })),
      })),
      next: {
        name: last ? nextYearName(last.name) : start.slice(0, 4),
        start,
        division: typeof division === "string" ? division : "count",
        count: typeof division === "string" ? 12 : division.count,
      },
      books: masters.books.map(({ code, name }) => ({ code, name })),
      may: AREAS.filter((a) => may(periodRight(a), company.code)),
      mayAddYear: may("setup.organisation", company.code),
    });
  },
});
