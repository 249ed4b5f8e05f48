import { FERRY, FERRY_BOOKS } from "../src/demo/ferrySet";
import { sql } from "drizzle-orm";
import type { JournalDraft } from "../src/core/ledger";
import { minor } from "../src/core/shared";
import { findPerson, runAs, type Caller } from "../src/server/access";
import type { Database } from "../src/server/db";
import { postDrafts } from "../src/server/ledger";
import {
  addYear,
  install,
  installChart,
  saveCompany,
  switchPeriods,
} from "../src/server/organisation";
import { must } from "../tests/must";

export const COMPANIES = ["ONE", "TWO", "TRI"];
const CENTRES = 200;
const PROJECTS = 100;

/**
 * The empty bench ledger: three companies, 36 months, 400 accounts, 20,000 codings to draw from.
 */
export async function prepare(database: Database): Promise<Caller> {
  await install(
    database.db,
    {
      login: "bench",
      name: "Bench",
      password: "bench bench bench",
      roles: ["admin", "controller"],
    },
    FERRY_BOOKS,
  );
  await database.db.transaction((tx) => installChart(tx as never, FERRY));
  await database.db.execute(
    sql`insert into account (number, name, type, control, monetary, heading_id)
      select 'B' || g, 'Bench ' || g, (array['asset','liability','income','expense'])[1 + g % 4],
      null, false, (select min(id) from heading) from generate_series(1, 206) g`,
  );
  await database.db.execute(sql`delete from account_dimension`);
  await database.db.execute(
    sql`insert into dimension_value (dimension_id, code, name) select d.id, 'V' || g, 'Value ' || g
      from dimension d cross join generate_series(1, ${CENTRES}) g
      where d.slot = 1 or g <= ${PROJECTS}`,
  );
  const caller: Caller = { database, person: await findPerson(database, "bench") };
  for (const code of COMPANIES) {
    must(await saveCompany(caller, { code, name: code, currency: "EUR", country: "IE" }));
    for (const year of ["2024", "2025", "2026"])
      must(
        await addYear(caller, {
          company: code,
          name: year,
          start: `${year}-01-01`,
          adjustment: false,
        }),
      );
    must(
      await switchPeriods(caller, {
        company: code,
        book: "all",
        area: "all",
        periods: ["2024", "2025", "2026"].flatMap((y) =>
          Array.from({ length: 12 }, (_, i) => `${y}-${String(i + 1).padStart(2, "0")}`),
        ),
        to: "open",
      }),
    );
  }
  return caller;
}

const pick = (seed: number, of: number): number =>
  Math.abs(Math.imul(seed ^ 0x9e3779b1, 0x85ebca6b) >> 7) % of;

/**
 * A journal of the bench: four lines by default, spread over companies, months, accounts and
 * codings, the same for the same number.
 */
export function benchJournal(n: number, lines = 4): JournalDraft {
  const month = pick(n, 36);
  const account = (k: number) => `B${1 + pick(n * 31 + k, 206)}`;
  const dimensions = (k: number) => ({
    costCentre: `V${1 + pick(n * 17 + k, CENTRES)}`,
    project: `V${1 + pick(n * 7 + k, PROJECTS)}`,
  });
  return {
    company: COMPANIES[n % 3]!,
    type: "general",
    book: null,
    date: `${2024 + Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, "0")}-${String(1 + pick(n, 28)).padStart(2, "0")}`,
    description: `Bench ${n}`,
    lines: Array.from({ length: lines }, (_, k) => ({
      account: account(k),
      dimensions: dimensions(k),
      description: "",
      side: k % 2 ? ("credit" as const) : ("debit" as const),
      amount: minor(BigInt(100 + pick(n, 100_000))),
    })),
  };
}

/** Posts journals up to a number of lines, through the one way into the ledger. */
export async function fill(
  caller: Caller,
  from: number,
  to: number,
  say: (line: string) => void,
): Promise<void> {
  const size = 2500;
  for (let n = from; n < to; n += size) {
    must(
      await runAs(caller, (c) =>
        postDrafts(
          c,
          Array.from({ length: Math.min(size, to - n) }, (_, i) => benchJournal(n + i)),
        ),
      ),
    );
    if (n % 25_000 === 0) say(`${(n * 4).toLocaleString("en")} lines`);
  }
  await caller.database.db.execute(sql`analyze`);
}
