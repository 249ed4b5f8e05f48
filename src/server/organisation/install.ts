import { sql } from "drizzle-orm";
import {
  CONTROL_KINDS,
  starterChart,
  type Chart,
  type ControlKind,
  type DimensionRule,
} from "@/core/ledger";
import { starterOutlines, type Outline } from "@/core/statements";
import { rows, arrayOf, type Db } from "../db";
import { hashPassword } from "../access";

interface TypeSeed {
  code: string;
  name: string;
  area: string;
  manual?: boolean;
  reversal?: "swap" | "negative";
  series?: string;
  controls?: readonly ControlKind[];
  naming?: string;
  reverses?: boolean;
}

/**
 * The journal types that the application works with. Those that nobody enters by hand come from
 * documents and runs.
 */
const TYPES: readonly TypeSeed[] = [
  {
    code: "general",
    name: "General",
    area: "ledger",
    manual: true,
    controls: ["payables", "receivables"],
  },
  {
    code: "accrual",
    name: "Accrual",
    area: "ledger",
    manual: true,
    reversal: "negative",
    reverses: true,
    naming: "Accrual, {month}: ",
    controls: ["payables", "receivables"],
  },
  {
    code: "correction",
    name: "Correction",
    area: "ledger",
    manual: true,
    controls: ["payables", "receivables"],
  },
  {
    code: "payroll",
    name: "Payroll",
    area: "ledger",
    manual: true,
    naming: "Payroll {month} {year}",
  },
  {
    code: "group",
    name: "Between companies",
    area: "ledger",
    manual: true,
    controls: ["intercompany"],
  },
  {
    code: "opening",
    name: "Opening balances",
    area: "ledger",
    controls: [...CONTROL_KINDS],
  },
  { code: "year-end", name: "Year end", area: "ledger", series: "closing" },
  {
    code: "purchase",
    name: "Purchases",
    area: "payables",
    controls: ["payables", "GRNI", "tax", "stock", "asset", "intake", "intercompany"],
  },
  {
    code: "payment",
    name: "Payments",
    area: "payables",
    controls: ["payables", "receivables", "bank", "tax", "intercompany", "transit"],
  },
  {
    code: "sales",
    name: "Sales",
    area: "receivables",
    controls: ["receivables", "tax", "intercompany"],
  },
  {
    code: "receipt",
    name: "Receipts",
    area: "receivables",
    controls: ["receivables", "bank", "tax", "intercompany", "transit"],
  },
  {
    code: "bank",
    name: "Bank",
    area: "banks",
    controls: ["bank", "tax", "intercompany", "transit", "payables", "receivables"],
  },
  { code: "tax", name: "Tax return", area: "ledger", controls: ["tax"] },
  { code: "asset", name: "Assets", area: "assets", controls: ["asset", "intake"] },
  { code: "stock", name: "Stock", area: "stock", controls: ["stock"] },
];

/** Whether anybody has been set up yet. */
export async function isInstalled(db: Db): Promise<boolean> {
  const [row] = await rows<{ there: boolean }>(
    db,
    sql`select exists (select 1 from person) as there`,
  );
  return row!.there;
}

/**
 * The part of an installation that needs no choice: a book, number series, journal types, the first
 * dimensions,
 * and the first person, who sets the rest up. Does nothing where somebody is there already.
 */
export async function install(
  db: Db,
  first: { login: string; name: string; password: string; roles: readonly string[] },
  books: readonly { code: string; name: string }[] = [{ code: "MAIN", name: "Main book" }],
): Promise<boolean> {
  const passwordHash = await hashPassword(first.password);
  return db.transaction(async (transaction) => {
    const tx = transaction as unknown as Db;
    // Two people at the first-use page at once: the second finds it done.
    await tx.execute(sql`lock table person in exclusive mode`);
    if (await isInstalled(tx)) return false;
    for (const [i, book] of books.entries())
      await tx.execute(
        sql`insert into book (id, code, name, main)
          values (${i + 1}, ${book.code}, ${book.name}, ${i === 0})`,
      );
    await tx.execute(
      sql`insert into number_series (code, prefix, digits) values ('journal', '', 5),
        ('closing', 'Y', 3), ('run', 'R', 4), ('invoice', 'P', 5), ('payment', 'Z', 5),
        ('request', 'Q', 5), ('order', 'O', 5), ('goods-receipt', 'G', 5), ('deposit', 'D', 5),
        ('receipt', 'C', 5), ('sale', 'S', 5), ('asset', 'A', 5)`,
    );
    for (const t of TYPES)
      await tx.execute(
        sql`insert into journal_type (code, name, area, series, manual, reversal, controls, naming,
          reverses) values (${t.code}, ${t.name}, ${t.area}, ${t.series ?? "journal"},
          ${t.manual ?? false}, ${t.reversal ?? "swap"}, ${JSON.stringify(t.controls ?? [])}::jsonb,
          ${t.naming ?? ""}, ${t.reverses ?? false})`,
      );
    await tx.execute(
      sql`insert into dimension (slot, code, name) values (1, 'costCentre', 'Cost centre'),
        (2, 'project', 'Project')`,
    );
    const initials = first.name
      .split(/\s+/)
      .map((w) => w[0] ?? "")
      .join("")
      .slice(0, 3)
      .toUpperCase();
    const [person] = await rows<{ id: number }>(
      tx,
      sql`insert into person (login, name, initials, password_hash)
        values (${first.login}, ${first.name}, ${initials}, ${passwordHash}) returning id`,
    );
    for (const role of first.roles)
      await tx.execute(
        sql`insert into person_role (person_id, role) values (${person!.id}, ${role})`,
      );
    return true;
  });
}

/** A chart, the statements that fit it, and what it says of cost centres. */
export interface ChartSet {
  chart: Chart;
  outlines: Outline[];
  /** What income and expense before the finance result say of cost centres. */
  costCentre: DimensionRule;
}
export const STARTER: ChartSet = {
  chart: starterChart(),
  outlines: starterOutlines(),
  costCentre: "allowed",
};

/** A chart and its statements, for a database whose chart is empty. */
export async function installChart(tx: Db, set: ChartSet = STARTER): Promise<void> {
  const { headings, accounts } = set.chart;
  for (const [i, h] of headings.entries())
    await tx.execute(
      sql`insert into heading (code, name, parent_id, sort) values (${h.code}, ${h.name}, (select id
        from heading where code = ${h.parent}), ${(i + 1) * 10})`,
    );
  await tx.execute(sql`
    insert into account (number, name, type, control, monetary, heading_id)
    select x.number, x.name, x.type, x.control, x.monetary, h.id
      from unnest(${arrayOf(accounts.map((a) => a.number))}::text[],
      ${arrayOf(accounts.map((a) => a.name))}::text[],
      ${arrayOf(accounts.map((a) => a.type))}::text[],
      ${arrayOf(accounts.map((a) => a.control))}::text[],
        ${arrayOf(accounts.map((a) => a.monetary))}::boolean[],
        ${arrayOf(accounts.map((a) => a.heading))}::text[]) as x(number, name, type, control,
        monetary, heading)
    join heading h on h.code = x.heading`);
  await tx.execute(sql`
    insert into account_dimension (account_id, dimension_id, rule)
    select a.id, d.id, case when a.type in ('income', 'expense')
      and a.number < '8500' then ${set.costCentre} when a.type in ('equity') or a.control in ('payables',
      'receivables', 'bank') then 'forbidden' else 'allowed' end
    from account a cross join dimension d where d.code = 'costCentre'`);
  await tx.execute(
    sql`insert into setting (key, value) values ('account.rounding', '"8575"'),
      ('account.exchangeGain', '"8540"'), ('account.exchangeLoss', '"8550"'),
      ('account.discountReceived', '"8560"'),
      ('account.discountAllowed', '"8570"'), ('account.writeOff', '"8580"'),
      ('account.badDebts', '"7460"'), ('account.lossAllowance', '"1319"'),
      ('account.billsReceivable', '"1330"'), ('account.billsPayable', '"2130"'),
      ('account.priceVariance', '"5650"'),
      ('account.quantityVariance', '"5640"') on conflict do nothing`,
  );
  for (const o of set.outlines)
    await tx.execute(
      sql`insert into outline (code, version, name, kind, lines, layout, used_at)
        values (${o.code}, 1, ${o.name}, ${o.kind}, ${JSON.stringify(o.lines)}::jsonb,
        ${JSON.stringify(o.layout)}::jsonb, now()) on conflict do nothing`,
    );
}

/** Whether these are the books of the demo. */
export async function isDemo(db: Db): Promise<boolean> {
  const [row] = await rows<{ there: boolean }>(
    db,
    sql`select exists (select 1 from setting where key = 'demo') as there`,
  );
  return row!.there;
}
