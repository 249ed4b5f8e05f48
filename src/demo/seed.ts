import { takeOverTheAssets } from "./assets";
import { sql } from "drizzle-orm";
import { addDays, describeFound, endOfMonth, type CalendarDate, type Result } from "@/core/shared";
import { findPerson, hashPassword, runAs, type Caller } from "@/server/access";
import type { Database } from "@/server/db";
import { saveApprovalRule } from "@/server/approvals";
import {
  createJournal,
  saveBatch,
  saveDraft,
  saveRecurring,
  saveShortcut,
  saveTemplate,
  submitDraft,
} from "@/server/ledger";
import {
  agreeToAccount,
  listBankAccounts,
  saveBank,
  saveBankAccount,
  saveSignature,
} from "@/server/banks";
import { saveReason } from "@/server/documents";
import { saveLetterLayout } from "@/server/letters";
import { allocate, saveWriteOffLimit } from "@/server/openItems";
import { postInvoice, saveInvoice, submitInvoice } from "@/server/payables";
import { saveTaxCode } from "@/server/taxes";
import { addPartnerBank, decidePartnerBank, savePartner, saveTerms } from "@/server/partners";
import { saveSaleItem } from "@/server/trade";
import { fetchRates } from "@/server/rates";
import {
  addYear,
  install,
  installChart,
  isInstalled,
  saveCompany,
  saveDimensionValue,
  savePair,
  switchPeriods,
} from "@/server/organisation";
import { postRun, proposeRun } from "@/server/runs";
import { buyFor, openBuying, setUpBuying, type At } from "./buying";
import { demoLetters } from "./letters";
import { addBankMonth } from "./bankYear";
import { addBankFiles } from "./bankFiles";
import { demoReasons } from "./reasons";
import { demoSaleItems } from "./saleItems";
import { demoWriteOffLimits } from "./writeOffLimits";
import { demoBankRecords, demoBanks, demoSignature } from "./banks";
import { addDrafts } from "./drafts";
import { addDeposits, addLineRules, settleCards } from "./deposits";
import { addStatements } from "./statements";
import { addTransfer } from "./transfers";
import { history } from "./history";
import { demoCustomers, demoSuppliers, demoTerms } from "./partners";
import { DEMO_PASSWORD, DEMO_PEOPLE } from "./people";
import { COMPANIES, COST_CENTRES, PROJECTS } from "./structure";
import { collect, setUpCollecting } from "./collecting";
import { agreeOnPrices } from "./agreeing";
import { debitCustomers } from "./debiting";
import { remindCustomers } from "./reminding";
import { writeOffOld } from "./writingOff";
import { Past } from "./past";
import { sellSeasons } from "./seasonTickets";
import { tradeBothWays } from "./bothWays";
import { randomFrom } from "./random";
import { entries, forApproval, harbourPapers, shortcuts, recurring } from "./entries";
import { demoTaxCodes, openInvoice, postedInvoices, waitingInvoice } from "./invoices";
import { openDrafts } from "./openDrafts";
import { FERRY, FERRY_BOOKS } from "./ferrySet";

/** The day on which the demo stands, whatever the real date. */
export const WORKING_DATE: CalendarDate = "2026-11-05";

/** Fails loudly: the scenario is ours, so a problem in it is a fault of ours. */
function must<T>(result: Result<T>, what: string): T {
  if (!result.ok)
    throw new Error(
      `${what}: ${result.problems
        .slice(0, 5)
        .map((p) => `${p.journal ?? ""} ${describeFound(p)}`)
        .join(" ")}`,
    );
  return result.value;
}

/**
 * Builds the Hollin Sound Group through the same use cases as a person's work: set-up, three years
 * of journals as of the days
 * on which they were posted, closes and year ends in their time. Does nothing where somebody is
 * there already.
 */
export async function seed(
  database: Database,
  say: (line: string) => void = () => {},
): Promise<void> {
  if (await isInstalled(database.db)) return;
  await install(
    database.db,
    {
      login: "admin",
      name: DEMO_PEOPLE.find((p) => p.login === "admin")!.name,
      password: DEMO_PASSWORD,
      roles: ["admin"],
    },
    FERRY_BOOKS,
  );
  await database.db.transaction(async (tx) => installChart(tx as never, FERRY));
  await addPeople(database);
  await database.db.execute(
    sql`insert into setting (key, value)
      values ('working-date', ${JSON.stringify(WORKING_DATE)}::jsonb), ('demo', 'true'::jsonb)`,
  );
  const as = async (login: string, now?: Date): Promise<Caller> => ({
    database,
    person: await findPerson(database, login),
    ...(now ? { now: () => now } : {}),
  });
  const admin = await as("admin", at("2023-11-20", 9));
  for (const c of COMPANIES) {
    must(await saveCompany(admin, c), c.code);
    for (const year of ["2024", "2025", "2026"])
      must(await addYear(admin, { company: c.code, name: year, start: `${year}-01-01` }), year);
  }
  for (const [code, name, parent, blocked] of COST_CENTRES)
    must(
      await saveDimensionValue(admin, {
        dimension: "costCentre",
        code,
        name,
        parent,
        blocked,
        responsible: code === "HARB" ? "budget" : null,
      }),
      code,
    );
  for (const [code, name, activeFrom, activeTo] of PROJECTS)
    must(
      await saveDimensionValue(admin, {
        dimension: "project",
        code,
        name,
        activeFrom,
        activeTo,
        proposes: code === "P-070" ? { costCentre: "HARB" } : {},
      }),
      code,
    );
  const clerks = await as("controller", at("2023-11-22", 10));
  for (const t of demoTerms) must(await saveTerms(clerks, t), t.code);
  for (const t of demoTaxCodes) must(await saveTaxCode(clerks, t), t.code);
  for (const i of demoSaleItems) must(await saveSaleItem(clerks, i), i.code);
  for (const { iban, ...p } of [...demoSuppliers, ...demoCustomers]) {
    must(await savePartner(clerks, p), p.name);
    if (!iban) continue;
    const { id } = must(
      await addPartnerBank(await as("payables", at("2023-11-22", 10)), {
        partner: p.code,
        iban,
        holder: p.name,
      }),
      iban,
    );
    must(await decidePartnerBank(clerks, { id, to: "confirmed" }), iban);
  }
  const banks = new Map<string, number>();
  for (const b of demoBankRecords) banks.set(b.name, must(await saveBank(clerks, b), b.name).id);
  for (const b of demoBanks) {
    must(await saveBankAccount(clerks, { ...b, bankId: banks.get(b.bankName) }), b.code);
    must(await saveSignature(clerks, { code: b.code, picture: demoSignature() }), b.code);
  }
  const treasury = await as("treasury", at("2023-11-22", 11));
  for (const { code, version } of must(await listBankAccounts(treasury, {}), "bank accounts"))
    must(await agreeToAccount(treasury, { code, version }), code);
  for (const reason of demoReasons) must(await saveReason(clerks, reason), reason.text);
  for (const w of demoWriteOffLimits)
    must(await saveWriteOffLimit(clerks, w), `${w.person} ${w.company}`);
  for (const layout of demoLetters) must(await saveLetterLayout(admin, layout), layout.company);
  const worksAt: At = (login, day, hour = 10) => as(login, at(day, hour));
  await setUpBuying(worksAt);
  await setUpCollecting(worksAt, must);
  say("people, companies, chart, cost centres, partners");

  const ids = new Map<string, number>();
  for (const p of DEMO_PEOPLE) ids.set(p.login, (await findPerson(database, p.login))!.id);
  const controller = (when: CalendarDate) => as("controller", at(when, 17));
  const books = { book: "all", area: "all" };
  for (const c of COMPANIES)
    must(
      await switchPeriods(await controller("2023-12-28"), {
        ...books,
        company: c.code,
        periods: periodsOf("2024-01", "2026-11"),
        to: "open",
      }),
      "opening",
    );

  const past = history(WORKING_DATE);
  const poster: Caller = {
    database,
    person: {
      ...(await findPerson(database, "controller"))!,
      grants: [{ role: "controller", company: null }],
    },
  };
  const random = randomFrom(7);
  const timeOf = (day: CalendarDate, after: number) =>
    Math.max(after + 1000, at(day, 8).getTime() + random.between(0, 8 * 3_600_000) / 8);
  const posted = new Past(poster, ids, worksAt, must, timeOf);
  for (const month of monthsOf(past.map((p) => p.postedOn))) {
    await posted.post(past.filter((p) => p.postedOn.slice(0, 7) === month));
    if (month >= "2025-11" && month <= "2026-11")
      await buyFor(
        worksAt,
        month,
        monthsBetween("2025-11", month),
        month === "2026-11" ? WORKING_DATE : endOfMonth(`${month}-01`),
      );
    await addBankMonth(database, worksAt, must, monthBefore(month));
    await closeInTime(month, controller);
    say(`${month}: ${posted.journals} journals, ${posted.lines} lines`);
  }
  await settleHistory(poster);
  await takeOverTheAssets(database, worksAt, must);
  say("assets");
  const feeder = await as("controller", at("2026-11-04", 7));
  for (const [from, to] of [
    ["2024-01-01", "2025-12-31"],
    ["2026-01-01", "2026-11-04"],
  ])
    must(await fetchRates(feeder, { from, to }), "rates");
  for (const second of ["MBY", "KIT"])
    must(
      await savePair(feeder, {
        first: "HSF",
        second,
        firstDueFrom: "1340",
        firstDueTo: "2150",
        secondDueFrom: "1340",
        secondDueTo: "2150",
      }),
      "pairs",
    );
  must(
    await saveApprovalRule(feeder, {
      type: "general",
      minimum: "50,000.00",
      currency: "EUR",
      role: "controller",
    }),
    "approval",
  );
  for (const { by, on, content } of entries)
    must(
      await createJournal(await as(by, at(on, 15)), { ...content, post: true }),
      content.description,
    );
  for (const { by, content, hour } of openDrafts)
    must(await saveDraft(await as(by, at(WORKING_DATE, hour)), { content }), content.description);
  const clerk = await as("accountant", at(WORKING_DATE, 10));
  const { id: batch } = must(
    await saveBatch(clerk, {
      content: {
        company: "HSF",
        period: "2026-10",
        name: "Harbour works, October",
        description: "Slip of the harbour master, 4 papers",
        controls: [{ currency: "EUR", amount: "4,980.00" }],
      },
    }),
    "batch",
  );
  for (const content of harbourPapers)
    must(await saveDraft(clerk, { content, batch }), content.description);
  for (const { costCentre, ...s } of shortcuts)
    must(await saveShortcut(clerk, { company: "HSF", ...s, dimensions: { costCentre } }), s.name);
  must(
    await saveTemplate(clerk, {
      name: "Quay repairs accrual",
      amounts: false,
      content: openDrafts[0]!.content,
    }),
    "template",
  );
  const waiting = must(
    await saveDraft(await as("accountant", at(WORKING_DATE, 8)), { content: forApproval }),
    "for approval",
  );
  must(
    await submitDraft(await as("accountant", at(WORKING_DATE, 8)), {
      id: waiting.id,
      version: waiting.version,
      content: forApproval,
    }),
    "for approval",
  );
  for (const { name, first, every = 1, description, lines } of recurring)
    must(
      await saveRecurring(clerk, {
        name,
        rhythm: { every, unit: "month", first, until: "" },
        content: { company: "HSF", type: "general", description, lines },
      }),
      name,
    );
  const september = must(
    await proposeRun(await as("accountant", at("2026-10-30", 9)), {
      kind: "recurring",
      params: { company: "HSF", upTo: "2026-09-30", only: [] },
    }),
    "recurring",
  );
  must(
    await postRun(await as("controller", at("2026-10-30", 10)), { key: String(september.id) }),
    "recurring",
  );
  must(
    await saveApprovalRule(feeder, {
      type: "purchase",
      minimum: "25,000.00",
      currency: "EUR",
      role: "controller",
    }),
    "approval of invoices",
  );
  const payables = await as("payables", at(WORKING_DATE, 9));
  for (const content of postedInvoices) {
    const kept = must(await saveInvoice(payables, { content }), content.number);
    must(
      await postInvoice(payables, { id: kept.id, version: kept.version, content }),
      content.number,
    );
  }
  must(await saveInvoice(payables, { content: openInvoice }), openInvoice.number);
  const sent = must(
    await saveInvoice(payables, { content: waitingInvoice }),
    waitingInvoice.number,
  );
  must(
    await submitInvoice(payables, { id: sent.id, version: sent.version, content: waitingInvoice }),
    waitingInvoice.number,
  );
  await openBuying(worksAt, WORKING_DATE);
  await collect(database, worksAt, must, WORKING_DATE);
  await writeOffOld(database, worksAt, must);
  await remindCustomers(database, worksAt, must, WORKING_DATE);
  await sellSeasons(database, worksAt, must);
  await tradeBothWays(database, worksAt, must);
  await agreeOnPrices(worksAt, must, WORKING_DATE);
  await debitCustomers(database, worksAt, must, WORKING_DATE);
  await addStatements(database, worksAt, must);
  await addBankFiles(worksAt, must);
  await addTransfer(worksAt, must);
  await addDeposits(database, worksAt, must);
  await settleCards(database, worksAt, must);
  await addDrafts(database, worksAt, must);
  await addLineRules(worksAt, must);
  say("bank statements");
  must(
    await saveApprovalRule(feeder, {
      type: "payment",
      minimum: "350,000.00",
      currency: "EUR",
      role: "controller",
    }),
    "approval of payments",
  );
  await database.db.execute(sql`analyze`);
}

const monthBefore = (month: string): string => addDays(`${month}-01`, -1).slice(0, 7);

/** Sets the payments of the past against the invoices that they paid, as of their days. */
async function settleHistory(caller: Caller): Promise<void> {
  const pairs = (await caller.database.db.execute(sql`
    select p.journal_id::int as "journalId", p.date, i.id::int as first, p.id::int as second
      from open_item p join open_item i on i.company_id = p.company_id and i.area = p.area
      and i.partner = p.partner and i.reference = p.reference and i.left_amount = -p.left_amount
      and i.date <= p.date and i.id < p.id
    where p.left_amount <> 0 and p.reference <> '' order by p.journal_id`)) as unknown as {
    rows: { journalId: number; date: CalendarDate; first: number; second: number }[];
  };
  const byJournal = new Map<
    number,
    { date: CalendarDate; pairings: { first: number; second: number }[] }
  >();
  for (const { journalId, date, first, second } of pairs.rows)
    byJournal.set(journalId, {
      date,
      pairings: [...(byJournal.get(journalId)?.pairings ?? []), { first, second }],
    });
  for (const [journalId, { date, pairings }] of byJournal)
    must(
      await runAs({ ...caller, now: () => at(date, 18) }, (context) =>
        allocate(context, "payment", date, pairings, { journalId }),
      ),
      `settled ${date}`,
    );
}

/**
 * Quarters close in the month after they end, years in March with their year ends, September is
 * closing, as of the working date.
 */
async function closeInTime(
  month: string,
  controller: (when: CalendarDate) => Promise<Caller>,
): Promise<void> {
  const [year, m] = month.split("-").map(Number) as [number, number];
  const when = `${month}-28`;
  for (const { code: company } of COMPANIES) {
    const close = async (periods: string[]) =>
      void must(
        await switchPeriods(await controller(when), {
          book: "all",
          area: "all",
          company,
          periods,
          to: "closed",
        }),
        `${company} ${periods.join()}`,
      );
    if (m === 5) await close(periodsOf(`${year}-01`, `${year}-03`));
    if (m === 8) await close(periodsOf(`${year}-04`, `${year}-06`));
    if (m === 10 && year < 2026) await close(periodsOf(`${year}-07`, `${year}-09`));
    if (m === 3 && year > 2024) {
      for (const book of ["IFRS", "LOCAL", "TAX"]) {
        const run = must(
          await proposeRun(await controller(when), {
            kind: "year-end",
            params: { company, year: String(year - 1), book },
          }),
          `year end ${year - 1}`,
        );
        must(
          await postRun(await controller(when), { key: String(run.id) }),
          `year end ${year - 1}`,
        );
      }
      await close(periodsOf(`${year - 1}-10`, `${year - 1}-13`));
    }
    if (month === "2026-10") {
      await close(periodsOf("2026-07", "2026-08"));
      must(
        await switchPeriods(await controller("2026-10-29"), {
          book: "all",
          area: "ledger",
          company,
          periods: ["2026-09"],
          to: "closing",
        }),
        "closing",
      );
      must(
        await switchPeriods(await controller("2026-10-29"), {
          book: "all",
          area: "payables",
          company,
          periods: ["2026-09"],
          to: "closed",
        }),
        "payables",
      );
    }
  }
}

async function addPeople(database: Database): Promise<void> {
  const passwordHash = await hashPassword(DEMO_PASSWORD);
  for (const p of DEMO_PEOPLE.filter((x) => x.login !== "admin")) {
    const initials = p.name
      .split(/[\s-]+/)
      .map((w) => w[0])
      .join("")
      .slice(0, 2)
      .toUpperCase();
    await database.db.execute(
      sql`with made as (insert into person (login, name, initials, password_hash)
        values (${p.login}, ${p.name}, ${initials}, ${passwordHash})
        returning id) insert into person_role (person_id, role) select id, ${p.login} from made`,
    );
  }
}

const at = (day: CalendarDate, hour: number): Date =>
  new Date(`${day}T${String(hour).padStart(2, "0")}:00:00Z`);

/**
 * Period keys from one to another, adjustment periods (13) included where the year is passed
 * through.
 */
function periodsOf(from: string, to: string): string[] {
  const keys: string[] = [];
  for (let year = Number(from.slice(0, 4)); year <= Number(to.slice(0, 4)); year++)
    for (let no = 1; no <= 13; no++) {
      const key = `${year}-${String(no).padStart(2, "0")}`;
      if (key >= from && key <= to) keys.push(key);
    }
  return keys;
}

const monthsBetween = (from: string, to: string): number =>
  (Number(to.slice(0, 4)) - Number(from.slice(0, 4))) * 12 +
  Number(to.slice(5)) -
  Number(from.slice(5));

function monthsOf(days: readonly CalendarDate[]): string[] {
  return [...new Set(days.map((d) => d.slice(0, 7)))].sort();
}
