import type { TypedRates } from "@/core/rates";
import { sql } from "drizzle-orm";
import {
  Masters,
  type Account,
  type AccountPurpose,
  type CompanyPair,
  type Dimension,
  type DimensionValue,
  type Heading,
  type JournalType,
} from "@/core/ledger";
import type { Book, Company } from "@/core/organisation";
import type { CalendarDate } from "@/core/shared";
import { rows, type Db } from "../db";

interface Copy {
  revision: bigint;
  masters: Masters;
}

/**
 * One copy per database, known to be old by the revision counter that every change of master data
 * moves.
 */
const copies = new WeakMap<object, Copy>();

/**
 * Master data and the working date, for one transaction. One query where nothing changed since the
 * last time.
 */
export async function loadMasters(
  tx: Db,
): Promise<{ masters: Masters; today: CalendarDate | null; isDemo: boolean }> {
  const [head] = await rows<{
    n: bigint;
    today: CalendarDate | null;
    isDemo: boolean;
    changing: boolean;
  }>(
    tx,
    sql`select r.n, (select value #>> '{}' from setting where key = 'working-date') as today,
      exists (select 1 from setting where key = 'demo' and value = 'true'::jsonb) as "isDemo",
      coalesce(r.xmin::text = pg_current_xact_id_if_assigned()::text, false) as changing
      from revision r
      where r.id = 1`,
  );
  // Transactions of one database share its session object's dialect, which makes a key that lives
  // as long as the database.
  const key = (tx as unknown as { dialect: object }).dialect;
  const copy = copies.get(key);
  const { n, today, isDemo, changing } = head!;
  if (copy && copy.revision === n) return { masters: copy.masters, today, isDemo };
  const masters = await readMasters(tx);
  // What this very transaction has changed may yet be undone; only settled data is kept.
  if (!changing) copies.set(key, { revision: n, masters });
  return { masters, today, isDemo };
}

/** Reads the master data anew, also what this transaction has just written. */
export async function readMasters(tx: Db): Promise<Masters> {
  const companies = await rows<Company>(
    tx,
    sql`select id, code, name, currency, country from company order by id`,
  );
  const books = await rows<Book>(
    tx,
    sql`select id, code, name, main, ended from book where id > 0 order by id`,
  );
  const accounts = await rows<Account>(
    tx,
    sql`select a.id, a.number, a.name, a.type, a.control, a.monetary, a.currency, a.heading_id as "headingId",
      a.blocked, (select jsonb_agg(c.code order by c.id) from company c
      where c.id = any(a.company_ids)) as "usedBy",
          coalesce((select jsonb_object_agg(d.dimension_id, d.rule) from account_dimension d
            where d.account_id = a.id), '{}') as rules
        from account a order by a.number`,
  );
  const headings = await rows<Heading>(
    tx,
    sql`select id, code, name, parent_id as "parentId", sort from heading order by sort`,
  );
  const types = await rows<JournalType>(
    tx,
    sql`select id, code, name, area, series, manual, reversal, controls, naming, reverses,
      auto_reverse as "autoReverse", books, approval, (select s.prefix from number_series s
      where s.code = series) as prefix from journal_type order by id`,
  );
  const dimensions = await rows<Dimension>(
    tx,
    sql`select id, slot, code, name, balancing, balancing_account as "balancingAccount"
      from dimension order by slot`,
  );
  const values = await rows<DimensionValue>(
    tx,
    sql`select id, dimension_id as "dimensionId", code, name, parent_id as "parentId",
      active_from as "activeFrom", active_to as "activeTo", blocked,
          responsible_id as "responsibleId", proposes from dimension_value order by code`,
  );
  const pairs = await rows<CompanyPair>(
    tx,
    sql`select a.code as first, b.code as second, p.first_due_from as "firstDueFrom",
      p.first_due_to as "firstDueTo", p.second_due_from as "secondDueFrom",
      p.second_due_to as "secondDueTo", p.type
        from company_pair p join company a on a.id = p.first_id join company b on b.id = p.second_id
          order by p.id`,
  );
  const purposes = await rows<{ purpose: AccountPurpose; account: string }>(
    tx,
    sql`select substr(key, 9) as purpose, value #>> '{}' as account from setting where key like 'account.%'`,
  );
  const [typed] = await rows<{ value: TypedRates }>(
    tx,
    sql`select value #>> '{}' as value from setting where key = 'rates.typed'`,
  );
  return new Masters(
    companies,
    books,
    accounts,
    headings,
    types,
    dimensions,
    values,
    pairs,
    Object.fromEntries(purposes.map((p) => [p.purpose, p.account])),
    typed?.value,
  );
}
