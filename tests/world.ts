import { must } from "./must";
import { sql } from "drizzle-orm";
import { ROLES } from "../src/core/access";
import { FERRY, FERRY_BOOKS } from "../src/demo/ferrySet";
import type { JournalDraft } from "../src/core/ledger";
import { minor } from "../src/core/shared";
import { findPerson, runAs, savePerson, type Caller, type Person } from "../src/server/access";
import type { Database } from "../src/server/db";
import {
  addYear,
  install,
  installChart,
  saveCompany,
  saveDimensionValue,
  switchPeriods,
} from "../src/server/organisation";
import { savePartner } from "../src/server/partners";
import type { Proposal } from "../src/core/runs";
import { getRun, readProposal } from "../src/server/runs";

export { must };

export const PASSWORD = "seven gulls over ostry";
const areaBooks = ["IFRS", "LOCAL", "TAX"];
export const months = (year: string, from: number, to: number): string[] =>
  Array.from({ length: to - from + 1 }, (_, i) => `${year}-${String(from + i).padStart(2, "0")}`);

/** Alpha's own bank account, as payments want it: far from its limit. */
export const BANK_OF_ALPHA = {
  code: "MAIN",
  name: "Current account",
  company: "ALP",
  currency: "EUR",
  account: "1110",
  underWayAccount: "1120",
  overdraft: "900,000.00",
};

/** A tax code that invoices of the tests are written with: 23 %, deducted on 1410. */
export const STANDARD_TAX = {
  code: "S",
  name: "Standard",
  kind: "standard",
  account: "1410",
  returnLine: "60",
  rates: [{ from: "2020-01-01", percent: "23" }],
};

/** What stands against something, by code. */
export const codes = (result: { ok: boolean; problems?: readonly { code: string }[] }): string[] =>
  result.ok ? [] : (result.problems ?? []).map((p) => p.code);

/**
 * A small world: two companies (EUR and GBP) with years 2025 and 2026, 2025 and January to October
 * 2026 open,
 * the starter chart, three cost centres, and a person for each role whose sign-in name is the role.
 */
export async function buildWorld(database: Database): Promise<void> {
  await install(
    database.db,
    {
      login: "root",
      name: "Root Builder",
      password: PASSWORD,
      roles: ["admin", "controller"],
    },
    FERRY_BOOKS,
  );
  await database.db.transaction(async (tx) => installChart(tx as never, FERRY));
  await database.db.execute(
    sql`insert into setting (key, value) values ('working-date', '"2026-10-15"'),
      ('banks.secondPerson', 'false')`,
  );
  const root: Caller = { database, person: await findPerson(database, "root") };
  for (const [code, name, currency, country] of [
    ["ALP", "Alpha Ferries", "EUR", "DE"],
    ["BET", "Beta Yard", "GBP", "GB"],
  ] as const) {
    must(await saveCompany(root, { code, name, currency, country }));
    for (const year of ["2025", "2026"])
      must(await addYear(root, { company: code, name: year, start: `${year}-01-01` }));
    for (const book of areaBooks)
      must(
        await switchPeriods(root, {
          company: code,
          book,
          area: "all",
          periods: [...months("2025", 1, 13), ...months("2026", 1, 10)],
          to: "open",
        }),
      );
  }
  for (const [code, name, parent] of [
    ["OPS", "Operations", null],
    ["VESS", "Vessels", "OPS"],
    ["HARB", "Harbour works", "OPS"],
    ["ADM", "Administration", null],
  ] as const)
    must(
      await saveDimensionValue(root, {
        dimension: "costCentre",
        code,
        name,
        parent,
        blocked: code === "OPS",
      }),
    );
  must(
    await saveDimensionValue(root, {
      dimension: "project",
      code: "P-071",
      name: "Hull survey",
      activeFrom: "2026-01-01",
      activeTo: "2026-12-31",
    }),
  );
  must(
    await savePartner(root, {
      code: "Tarn Rope & Chain",
      name: "Tarn Rope & Chain",
      supplier: true,
      country: "IE",
    }),
  );
  must(
    await savePartner(root, {
      code: "PEL",
      name: "Pelling Marine Fuels",
      supplier: true,
      country: "IE",
      currency: "USD",
    }),
  );
  for (const role of ROLES)
    must(
      await savePerson(root, {
        login: role,
        name: `Person ${role}`,
        password: PASSWORD,
        grants: [{ role, company: null }],
      }),
    );
}

/** The person of a sign-in name: "root", a role, or one that the test made. */
export async function callerOf(
  database: Database,
  login: string,
): Promise<Caller & { person: Person }> {
  const person = await findPerson(database, login);
  if (!person) throw new Error(`no person ${login}`);
  return { database, person };
}

export const journal = (over: Partial<JournalDraft> = {}, amount = 1000n): JournalDraft => ({
  company: "ALP",
  type: "general",
  book: null,
  date: "2026-10-05",
  description: "Fenders",
  ...over,
  lines: over.lines ?? [
    {
      account: "6310",
      dimensions: { costCentre: "HARB" },
      description: "",
      side: "debit",
      amount: minor(amount),
    },
    { account: "2410", dimensions: {}, description: "", side: "credit", amount: minor(amount) },
  ],
});

/** A journal as a person writes it. */
export const written = (over: Record<string, unknown> = {}) => ({
  company: "ALP",
  type: "general",
  date: "2026-10-05",
  description: "Fenders",
  reference: "",
  book: null,
  currency: null,
  period: null,
  lines: [
    {
      account: "6310",
      dimensions: { costCentre: "HARB" },
      description: "",
      debit: "48,200.00",
      credit: "",
    },
    { account: "2410", dimensions: {}, description: "", debit: "", credit: "48,200.00" },
  ],
  ...over,
});

export { runAs };

/** All that a run proposes, as it is stored. */
export const proposalOf = async (caller: Caller, key: string | number): Promise<Proposal> =>
  readProposal(caller.database.db, must(await getRun(caller, { key: String(key) })).id);
