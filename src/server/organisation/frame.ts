import { object } from "yup";
import type { Right } from "@/core/access";
import { ROLE_RIGHTS } from "@/core/access";
import { periodKey, stateOf, type PeriodState } from "@/core/organisation";
import { ok, type CalendarDate, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { isDemo } from "./install";
import { loadPeriods } from "./periods";

export interface FramePeriod {
  key: string;
  name: string;
  year: string;
  no: number;
  start: CalendarDate;
  end: CalendarDate;
  adjustment: boolean;
  /** State of the ledger by book code. */
  states: Record<string, PeriodState>;
}
export interface FrameData {
  today: CalendarDate;
  demo: boolean;
  companies: { code: string; name: string; currency: string; periods: FramePeriod[] }[];
  books: { code: string; name: string; main: boolean; ended: boolean }[];
  dimensions: { id: number; code: string; name: string }[];
  person: {
    name: string;
    login: string;
    initials: string;
    roles: string[];
    /** Held in some company. */
    rights: Right[];
    /** Held in every company: what all share is changed with these. */
    groupRights: Right[];
  };
}

/**
 * What every screen stands in: the person and their rights, the companies they may see, books and
 * periods.
 */
export const frame = defineUseCase({
  name: "frame",
  kind: "read",
  rights: "signed-in",
  what: "work here",
  of: "self",
  schema: object(),
  run: async ({ tx, masters, person, today, mayEverywhere }): Promise<Result<FrameData>> => {
    const everywhere = person.grants.some((g) => g.company === null);
    const companies = masters.companies.filter(
      (c) => everywhere || person.grants.some((g) => g.company === c.code),
    );
    const periods = await loadPeriods(
      tx,
      companies.map((c) => c.id),
      { areas: ["ledger"] },
    );
    const rights = [...new Set(person.grants.flatMap((g) => [...ROLE_RIGHTS[g.role]]))];
    return ok({
      today,
      demo: await isDemo(tx),
      companies: companies.map((c) => ({
        code: c.code,
        name: c.name,
        currency: c.currency,
        periods: periods
          .filter((p) => p.companyId === c.id)
          .map((p) => ({
            key: periodKey(p),
            name: p.name,
            year: p.yearName,
            no: p.no,
            start: p.start,
            end: p.end,
            adjustment: p.adjustment,
            states: Object.fromEntries(
              masters.allBooks.map((b) => [b.code, stateOf(p, b.id, "ledger")]),
            ),
          })),
      })),
      books: masters.allBooks.map(({ code, name, main, ended }) => ({ code, name, main, ended })),
      dimensions: masters.dimensions.map(({ id, code, name }) => ({ id, code, name })),
      person: {
        name: person.name,
        login: person.login,
        initials: person.initials,
        roles: [...new Set(person.grants.map((g) => g.role))],
        rights,
        groupRights: rights.filter(mayEverywhere),
      },
    });
  },
});
