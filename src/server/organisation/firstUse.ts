import { object, string, type InferType } from "yup";
import { checkPassword } from "@/core/access";
import {
  describeFound,
  fail,
  isCalendarDate,
  isCurrency,
  ok,
  parse,
  type Found,
  type Result,
} from "@/core/shared";
import type { Database, Db } from "../db";
import { findPerson } from "../access";
import { install, installChart, isInstalled } from "./install";
import { addYear } from "./addYear";
import { saveCompany } from "./companies";
import { switchPeriods } from "./switchPeriods";

export const firstUseSchema = object({
  code: string()
    .required("A code is needed")
    .matches(/^[A-Z0-9]{2,6}$/, "A code has two to six capitals or figures"),
  name: string().required("The company's name is needed").max(80),
  currency: string().required(),
  country: string()
    .required("A country is needed")
    .matches(/^[A-Za-z]{2}$/, "A country has two letters, like IE"),
  start: string().required("The first day of the year is needed"),
  year: string()
    .required("The year's name is needed")
    .matches(/^[A-Za-z0-9/]{2,9}$/, "A year's name has 2 to 9 letters or figures"),
  chart: string().oneOf(["starter", "empty"]).default("starter"),
  /** The accounting basis that everything is seen by; others can be added. */
  book: string()
    .required("The book's name is needed")
    .max(60)
    .matches(/[A-Za-z0-9]/, "The book's name has letters or figures"),
  person: string().required("Your name is needed").max(80),
  login: string()
    .required("A sign-in name is needed")
    .matches(
      /^[a-z][a-z0-9._-]{1,39}$/,
      "A sign-in name has 2 to 40 small letters, figures, points or dashes",
    ),
  password: string().required("A password is needed").max(200),
});
export type FirstUse = InferType<typeof firstUseSchema>;

/** A book's code, as it stands beside figures: what its name has in letters and figures. */
const bookCode = (name: string): string =>
  name
    .toUpperCase()
    .replace(/[^A-Z0-9]+/g, "")
    .slice(0, 10);

/** What the form of the fields alone does not say: of what was typed, each by itself. */
function furtherProblems(raw: Partial<Record<keyof FirstUse, unknown>>): Found[] {
  const text = (key: keyof FirstUse): string => String(raw[key] ?? "").trim();
  const problems: Found[] = [];
  const password = checkPassword(String(raw.password ?? ""), text("login"));
  if (!password.ok) problems.push(...password.problems);
  if (!isCurrency(text("currency")))
    problems.push({ code: "CURRENCY_UNKNOWN", currency: text("currency"), field: "currency" });
  if (!isCalendarDate(text("start")))
    problems.push({ code: "DATE_INVALID", text: text("start"), field: "start" });
  return problems;
}

/**
 * Everything an empty installation needs to begin: books, a chart, the first company with its year,
 * and its administrator. Only once.
 */
export async function firstUse(
  database: Database,
  raw: unknown,
): Promise<Result<{ login: string }>> {
  const parsed = parse(firstUseSchema, raw);
  // All that is wrong at once, whoever finds it.
  const problems: Found[] = [
    ...(parsed.ok ? [] : parsed.problems),
    ...furtherProblems((raw ?? {}) as Partial<Record<keyof FirstUse, unknown>>),
  ];
  const seen = new Set<string | null | undefined>();
  const first = problems.filter((p) => !p.field || (!seen.has(p.field) && seen.add(p.field)));
  if (!parsed.ok || first.length > 0) return fail(...first);
  const input = parsed.value;
  if (await isInstalled(database.db)) return fail({ code: "EXISTS", what: "An administrator" });
  const made = await install(
    database.db,
    {
      login: input.login,
      name: input.person,
      password: input.password,
      roles: ["admin", "controller"],
    },
    [{ code: bookCode(input.book), name: input.book.trim() }],
  );
  if (!made) return fail({ code: "EXISTS", what: "An administrator" });
  if (input.chart === "starter")
    await database.db.transaction((tx) => installChart(tx as unknown as Db));
  const caller = { database, person: await findPerson(database, input.login) };
  for (const result of [
    await saveCompany(caller, {
      code: input.code,
      name: input.name,
      currency: input.currency,
      country: input.country,
    }),
    await addYear(caller, { company: input.code, name: input.year, start: input.start }),
    await switchPeriods(caller, {
      company: input.code,
      book: "all",
      area: "all",
      periods: [`${input.year}-01`],
      to: "open",
    }),
  ])
    if (!result.ok) throw new Error(result.problems.map(describeFound).join(" "));
  return ok({ login: input.login });
}
