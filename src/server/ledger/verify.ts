import { sql, type SQL } from "drizzle-orm";
import { canonicalJournal, type HashedLine } from "@/core/ledger";
import { arrayOf, rows, sha256, type Db } from "../db";
import { faultsOfSeals } from "../evidence";

export interface Check {
  name: string;
  /** How much was looked at. */
  looked: number;
  /** What is wrong; nothing, where all is well. */
  faults: string[];
}

/** At most this many faults are named; the count says the rest. */
const NAMED = 20;

/**
 * Rebuilds what can be rebuilt and compares: stored balances with the lines, each company's hash
 * chain with the journals,
 * numbers without gaps, references to what is there. Reads only.
 */
export async function verify(tx: Db): Promise<Check[]> {
  return [
    await balancesAgainstLines(tx),
    await codingsAgainstLines(tx),
    await journalsBalance(tx),
    ...(await chains(tx)),
    await numbering(tx),
    await receivedNotInvoiced(tx),
    await taxesAgainstAccounts(tx),
    await references(tx),
    await anchors(tx),
    await itemsAgainstAccounts(tx),
    await itemsAgainstAllocations(tx),
    { name: "What was sealed is what it was", ...(await faultsOfSeals(tx)) },
  ];
}

/**
 * Turnover from the lines, with or without the openings of later years, in the shape of a balance
 * table.
 */
const rebuilt = (keys: SQL, openings: boolean): SQL => sql`
  select company_id, book_id, year_id, period_no, closing, ${keys}, sum(debit)::bigint as debit,
    sum(credit)::bigint as credit from (
    select l.company_id, l.book_id, l.year_id, l.period_no, l.closing, ${keys},
      case when side = 'D' then amount else 0 end as debit, case when side = 'C' then amount
      else 0 end as credit from journal_line l
    ${
      openings
        ? sql`union all
    select l.company_id, l.book_id, y2.id, 0::smallint, false, ${keys},
      case when side = 'D' then amount else -amount end, 0 from journal_line l
      join account a on a.id = l.account_id and a.type in ('asset', 'liability', 'equity', 'units')
      join fiscal_year y1 on y1.id = l.year_id join fiscal_year y2 on y2.company_id = l.company_id
        and y2.start_date > y1.start_date`
        : sql``
    }
  ) t group by company_id, book_id, year_id, period_no, closing, ${keys}`;

async function compareBalances(
  tx: Db,
  table: SQL,
  keys: SQL,
  openings: boolean,
  columns: string,
  name: string,
): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', 'company', company_id, 'book', book_id, 'year', year_id, 'period',
      period_no, 'account', account_id, 'stored', coalesce(s.debit - s.credit, 0), 'lines',
      coalesce(r.debit - r.credit, 0)) as fault
        from (select * from ${table} where debit <> 0 or credit <> 0) s full
          join (select * from (${rebuilt(keys, openings)}) q
          where debit <> 0 or credit <> 0) r using (${sql.raw(columns)})
        where (s.debit, s.credit) is distinct from (r.debit, r.credit) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from ${table}`);
  return { name, looked: count!.n, faults: faults.map((f) => f.fault) };
}

const balancesAgainstLines = (tx: Db) =>
  compareBalances(
    tx,
    sql`account_balance`,
    sql`account_id`,
    true,
    "company_id, book_id, year_id, period_no, closing, account_id",
    "Stored balances equal the journal lines",
  );
const codingsAgainstLines = (tx: Db) =>
  compareBalances(
    tx,
    sql`coding_balance`,
    sql`account_id, coding_id, currency`,
    false,
    "company_id, book_id, year_id, period_no, closing, account_id, coding_id, currency",
    "Balances by coding equal the journal lines",
  );

/**
 * How many stored balances of these periods differ from the lines that they are made of: what a
 * close asks, a small part of verify.
 */
export async function periodBalancesDiffer(
  tx: Db,
  companyId: number,
  periods: readonly { yearId: number; no: number }[],
): Promise<number> {
  const wanted = sql`(select * from unnest(${arrayOf(periods.map((p) => p.yearId))}::int[],
    ${arrayOf(periods.map((p) => p.no))}::smallint[]))`;
  const [row] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from (select book_id, year_id, period_no, account_id, closing,
      debit, credit from account_balance where company_id = ${companyId} and (year_id,
      period_no) in ${wanted} and (debit <> 0 or credit <> 0)) s
        full join (select l.book_id, l.year_id, l.period_no, l.closing, l.account_id,
          sum(case when l.side = 'D' then l.amount else 0 end)::bigint as debit,
          sum(case when l.side = 'C' then l.amount else 0 end)::bigint as credit
          from journal j join journal_line l on l.journal_id = j.id
            where j.company_id = ${companyId} and (j.year_id, j.period_no) in ${wanted}
            group by 1, 2, 3, 4, 5) r using (book_id, year_id, period_no, closing, account_id)
        where (coalesce(s.debit, 0), coalesce(s.credit, 0)) is distinct
          from (coalesce(r.debit, 0), coalesce(r.credit, 0))`,
  );
  return row!.n;
}

async function journalsBalance(tx: Db): Promise<Check> {
  const faults = await rows<{ number: string }>(
    tx,
    sql`select j.number from journal j
      join (select journal_id, sum(case when currency = 'XXX' then 0 when side = 'D' then amount
      else -amount end) as net, sum(case when side = 'D' and currency <> 'XXX' then amount
      else 0 end) as debits, count(*) as n from journal_line group by 1) l on l.journal_id = j.id
        where l.net <> 0 or l.debits <> j.total or l.n <> j.line_count
        union all select number from journal j where not exists (select 1 from journal_line l
          where l.journal_id = j.id) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from journal`);
  return {
    name: "Every journal balances and is whole",
    looked: count!.n,
    faults: faults.map((f) => `journal ${f.number}`),
  };
}

interface ChainRow {
  id: bigint;
  companyId: number;
  seq: bigint;
  number: string;
  typeId: number;
  bookId: number;
  date: string;
  yearId: number;
  periodNo: number;
  closing: boolean;
  description: string;
  reference: string;
  reverseOn: string | null;
  reverses: bigint | null;
  origin: bigint | null;
  postedBy: number;
  postedAt: string;
  previousHash: string;
  hash: string;
  lines: [
    number,
    number,
    string,
    string,
    string,
    string,
    string,
    string,
    string | null,
    string | null,
    string | null,
    number | null,
    string | null,
    string,
  ][];
}

/** Journals are read in pages, so that memory does not grow with the ledger. */
const PAGE = 2000;

async function chains(tx: Db): Promise<Check[]> {
  const heads = await rows<{ companyId: number; code: string; seq: bigint; hash: string }>(
    tx,
    sql`select c.company_id as "companyId", k.code, c.seq, c.hash from chain c
      join company k on k.id = c.company_id order by k.code`,
  );
  const checks: Check[] = [];
  for (const head of heads) {
    const faults: string[] = [];
    let seq = 0n;
    let previous = "";
    for (;;) {
      const page = await rows<ChainRow>(
        tx,
        sql`select j.id, j.company_id as "companyId", j.seq, j.number, j.type_id as "typeId",
          j.book_id as "bookId", j.date, j.year_id as "yearId", j.period_no as "periodNo",
          j.closing, j.description, j.reference, j.reverse_on as "reverseOn",
              j.reverses_id as reverses, j.origin_id as origin, j.posted_by as "postedBy",
                to_char(j.posted_at at time zone 'UTC',
                'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "postedAt", j.previous_hash as "previousHash",
                j.hash,
              (select jsonb_agg(jsonb_build_array(l.line_no, l.account_id, k.key, l.side,
                l.amount::text, l.currency, l.foreign_amount::text, l.description, l.partner,
                l.due_date, l.rate::text, l.counterparty_id, l.quantity::text, coalesce(l.note, ''))
                order by l.line_no)
                 from journal_line l join coding k on k.id = l.coding_id where l.journal_id = j.id) as lines
            from journal j where j.company_id = ${head.companyId} and j.seq > ${seq} order by j.seq
              limit ${PAGE}`,
      );
      for (const j of page) {
        if (j.seq !== seq + 1n)
          faults.push(`${head.code}: journal ${seq + 1n} of the chain is missing`);
        if (j.previousHash !== previous) faults.push(`${j.number} does not follow its predecessor`);
        const lines = (j.lines ?? []).map(
          ([
            lineNo,
            accountId,
            coding,
            side,
            amount,
            currency,
            foreignAmount,
            description,
            partner,
            dueDate,
            rate,
            counterpartyId,
            quantity,
            note,
          ]): HashedLine => ({
            lineNo,
            accountId,
            coding,
            side: side === "D" ? "debit" : "credit",
            amount: BigInt(amount),
            currency,
            foreignAmount: BigInt(foreignAmount),
            description,
            partner,
            dueDate,
            rate,
            counterpartyId,
            quantity: quantity === null ? null : BigInt(quantity),
            note,
          }),
        );
        const { lines: _l, previousHash: _p, hash: _h, ...rest } = j;
        const text = canonicalJournal(
          {
            ...rest,
            id: Number(j.id),
            seq: Number(j.seq),
            reverses: j.reverses === null ? null : Number(j.reverses),
            origin: j.origin === null ? null : Number(j.origin),
            lines,
          },
          j.previousHash,
        );
        if (sha256(text) !== j.hash)
          faults.push(`${j.number} is not what was posted: its hash differs`);
        seq = j.seq;
        previous = j.hash;
      }
      if (page.length < PAGE) break;
    }
    if (head.seq !== seq || head.hash !== previous)
      faults.push(`${head.code}: the head of the chain is not its last journal`);
    checks.push({
      name: `Hash chain of ${head.code}`,
      looked: Number(seq),
      faults: faults.slice(0, NAMED),
    });
  }
  return checks;
}

/**
 * What journals with records of taxes post on the accounts of the taxes, to the unit of their own
 * currency, is what the records say.
 */
async function taxesAgainstAccounts(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`with part as (
          select company_id, account, journal_id, currency, recoverable as amount from tax_record
            where account <> ''
          union all select company_id, owed_account, journal_id, currency, -tax from tax_record
            where owed_account <> ''),
        line as (select l.company_id, a.number as account, l.journal_id, l.currency,
          case when l.currency = c.currency then l.amount else l.foreign_amount end
          * case l.side when 'D' then 1 else -1 end as amount
          from journal_line l join account a on a.id = l.account_id
          join company c on c.id = l.company_id
          where l.journal_id in (select journal_id from tax_record)
            and a.number in (select account from part))
        select concat_ws(' ', 'journal', journal_id, 'account', account, currency, 'posts',
          coalesce(sum(posted), 0), 'and its records say', coalesce(sum(recorded), 0)) as fault
        from (select journal_id, account, currency, amount as posted, 0 as recorded from line
          union all select journal_id, account, currency, 0, amount from part) x
        group by journal_id, account, currency having sum(posted) <> sum(recorded) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from tax_record`);
  return {
    name: "Taxes recorded are what is posted on their accounts",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}

/** What documents say is received and not invoiced, and what its control account holds. */
async function receivedNotInvoiced(tx: Db): Promise<Check> {
  const found = await rows<{ company: string; entries: bigint; balance: bigint }>(
    tx,
    sql`select c.code as company, coalesce(e.sum, 0)::bigint as entries, coalesce(l.sum,
      0)::bigint as balance from company c
          left join (select company_id, sum(functional) as sum from grni_entry
            group by 1) e on e.company_id = c.id
          left join (select company_id, sum(case side when 'C' then amount else -amount end) as sum
            from journal_line where account_id in (select id from account where control = 'GRNI')
            group by 1) l on l.company_id = c.id order by 1`,
  );
  return {
    name: "Received, not invoiced, equals its control account",
    looked: found.length,
    faults: found
      .filter((f) => f.entries !== f.balance)
      .map((f) => `${f.company}: documents say ${f.entries}, the account holds ${f.balance}`),
  };
}

async function numbering(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    // Journals carry their serial; other documents whose series has the name of their kind have it
    // at the end of their number.
    sql`with taken as (
          select series, company_id, year_id, serial from journal
          union all select d.kind, d.company_id, y.id, substring(d.number from '[0-9]+$')::int
            from document d join number_series s on s.code = d.kind
            join fiscal_year y on y.company_id = d.company_id and right(y.name,
              2) = split_part(d.number, '-', 2) where d.kind <> 'journal' and d.number is not null)
        select concat_ws(' ', 'series', n.series, 'company', n.company_id, 'year', n.year_id, 'has',
          count(t.serial), 'numbers up to', coalesce(max(t.serial), 0), 'and the counter stands at',
          n.last) as fault
        from number_counter n left
          join taken t on t.series = n.series and t.company_id = n.company_id
          and t.year_id = n.year_id
        group by n.series, n.company_id, n.year_id, n.last
          having count(t.serial) <> n.last or coalesce(max(t.serial), 0) <> n.last limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from number_counter`);
  return { name: "Numbers run without gaps", looked: count!.n, faults: faults.map((f) => f.fault) };
}

async function references(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select 'journal ' || j.number || ' has no register entry of its own' as fault from journal j
      left join document d on d.id = j.id where d.id is null or d.number is distinct
      from j.number or d.status not in ('posted', 'reversed')
        union all
          select 'journal ' || j.number || ' and its register entry differ in company, day, amount or
          currency' from journal j join document d on d.id = j.id
          join company c on c.id = j.company_id
          where (d.company_id, d.date, d.amount, d.currency)
          is distinct from (j.company_id, j.date, j.total, c.currency)
        union all
          select 'invoice ' || d.number || ' belongs to another company than journal ' || j.number
          from invoice i join document d on d.id = i.document_id join journal j on j.id = i.journal_id
          where d.company_id <> j.company_id
        union all
          select 'document ' || d.number || ' is marked reversed, and no journal reverses it'
          from document d where d.kind = 'journal' and d.status = 'reversed'
          and not exists (select 1 from journal r where r.reverses_id = d.id)
        union all select 'journal ' || j.number || ' is reversed and not marked so' from journal r
          join journal j on j.id = r.reverses_id join document d on d.id = j.id
          where d.status <> 'reversed'
        union all
          select 'a line of journal ' || l.journal_id ||
          ' names an account, a coding or a journal that is not there' from journal_line l left
          join account a on a.id = l.account_id left join coding k on k.id = l.coding_id left
          join journal j on j.id = l.journal_id where a.id is null or k.id is null or j.id is null
        union all select 'draft ' || d.id || ' has neither content nor journal' from document d
          where d.kind = 'journal' and d.status in ('draft', 'waiting') and not exists (select 1
          from journal_draft x where x.document_id = d.id)
        limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from document`);
  return {
    name: "References lead to what is there",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}

/**
 * Heads of the chain that were noted when periods changed their state must still be in the chain.
 */
async function anchors(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select 'the anchor of ' || c.at::text || ' at journal ' || c.chain_seq || ' no longer fits'
      as fault from close_record c left join journal j on j.company_id = c.company_id
      and j.seq = c.chain_seq
        where c.chain_seq > 0 and j.hash is distinct from c.chain_hash limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from close_record`);
  return {
    name: "Close records anchor the chain",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}

/**
 * What is left of open items is the balance of their control account, for each company, partner and
 * currency: in the currency itself and in functional amounts.
 */
async function itemsAgainstAccounts(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`with balances as (select l.company_id, l.account_id, coalesce(l.partner, '') as partner,
          l.currency, sum(case when l.side = 'D' then l.amount else -l.amount end)::bigint
          as functional, sum(case when l.side = 'D' then l.foreign_amount
          else -l.foreign_amount end)::bigint as amount
          from journal_line l join account a on a.id = l.account_id
          and a.control in ('payables', 'receivables') group by 1, 2, 3, 4),
        items as (select company_id, account_id, partner, currency,
          sum(left_functional)::bigint as functional, sum(left_amount)::bigint as amount
          from open_item group by 1, 2, 3, 4)
        select concat_ws(' ', 'company', company_id, 'account', account_id, 'partner', partner,
          currency, 'balance', coalesce(b.amount, 0), '=', coalesce(b.functional, 0), 'open items',
          coalesce(i.amount, 0), '=', coalesce(i.functional, 0)) as fault
        from balances b full join items i using (company_id, account_id, partner, currency)
          where (coalesce(b.amount, 0), coalesce(b.functional, 0))
          <> (coalesce(i.amount, 0), coalesce(i.functional, 0)) limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(tx, sql`select count(*)::int as n from open_item`);
  return {
    name: "Open items equal their control accounts",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}

/** What is left of an item is what it was made with less what allocations have taken. */
async function itemsAgainstAllocations(tx: Db): Promise<Check> {
  const faults = await rows<{ fault: string }>(
    tx,
    sql`select concat_ws(' ', 'item', i.id, i.reference, 'left', i.left_amount, 'of',
      i.amount) as fault from open_item i left join (select item_id, sum(amount) as amount,
      sum(functional) as functional from allocation_line group by 1) t on t.item_id = i.id
        where i.amount - coalesce(t.amount, 0) <> i.left_amount
          or i.functional - coalesce(t.functional, 0) <> i.left_functional limit ${NAMED}`,
  );
  const [count] = await rows<{ n: number }>(
    tx,
    sql`select count(*)::int as n from allocation_line`,
  );
  return {
    name: "What is left of open items follows from their allocations",
    looked: count!.n,
    faults: faults.map((f) => f.fault),
  };
}
