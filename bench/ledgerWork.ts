import { sql } from "drizzle-orm";
import { runAs } from "../src/server/access";
import { rows, type Database } from "../src/server/db";
import { createJournal, postDrafts, trialBalance } from "../src/server/ledger";
import { verify } from "../src/server/verify";
import { statement } from "../src/server/statements";
import { benchJournal, fill, prepare } from "./ledger";
import { compare, median, type Bar } from "./measure";

/**
 * Fills the bench ledger, and measures what the ledger does with it: reports, posting, a load,
 * verification, and how they grow.
 */
export async function measureLedger(
  database: Database,
  wanted: number,
  say: (line: string) => void,
): Promise<Bar[]> {
  const { db } = database;
  const bars: Bar[] = [];
  const held = (
    work: string,
    against: string,
    kind: Bar["kind"],
    bar: number,
    t: { work: number; against: number },
  ): void => {
    bars.push({
      work,
      against,
      kind,
      bar,
      measured: kind === "atMost" ? t.work / t.against : t.against / t.work,
      workMs: t.work,
      againstMs: t.against,
    });
    say(`  ${work}: ${t.work.toFixed(2)} ms, against ${t.against.toFixed(2)} ms`);
  };

  const caller = await prepare(database);
  const place = { company: "ONE", period: "2026-12", book: "IFRS" };
  let next = 1_000_000;
  const posting = async () => {
    const start = process.hrtime.bigint();
    const draft = benchJournal(next++ * 3);
    const result = await createJournal(caller, {
      company: "ONE",
      type: "general",
      date: draft.date,
      description: draft.description,
      post: true,
      lines: draft.lines.map((l) => ({
        account: l.account,
        dimensions: l.dimensions,
        [l.side]: (Number(l.amount) / 100).toFixed(2),
      })),
    });
    if (!result.ok) throw new Error(JSON.stringify(result.problems));
    return Number(process.hrtime.bigint() - start) / 1e6;
  };
  const medianOf = async (run: () => Promise<number>, rounds: number) => {
    const list: number[] = [];
    for (let i = 0; i < rounds; i++) list.push(await run());
    return median(list.slice(Math.floor(rounds / 5)));
  };
  const timed = async (work: () => Promise<unknown>) => {
    const start = process.hrtime.bigint();
    await work();
    return Number(process.hrtime.bigint() - start) / 1e6;
  };

  const growth: { lines: number; posting: number; balance: number }[] = [];
  let filled = 0;
  for (const lines of [10_000, 100_000, wanted].filter(
    (l, i, all) => l <= wanted && all.indexOf(l) === i,
  )) {
    await fill(caller, filled, Math.floor(lines / 4), say);
    filled = Math.floor(lines / 4);
    growth.push({
      lines,
      posting: await medianOf(posting, 60),
      balance: await medianOf(() => timed(() => trialBalance(caller, place)), 30),
    });
    say(
      `  at ${lines.toLocaleString("en")} lines: posting ${growth.at(-1)!.posting.toFixed(2)} ms, trial balance ${growth.at(-1)!.balance.toFixed(2)} ms`,
    );
  }

  held(
    "trial balance of one company and book",
    "GROUP BY account over its lines",
    "atLeast",
    30,
    await compare(
      () => trialBalance(caller, place),
      () =>
        db.execute(
          sql`select account_id, sum(case when side = 'D' then amount else -amount end)
            from journal_line where company_id = 1 and book_id in (0, 1) group by account_id`,
        ),
      9,
    ),
  );
  held(
    "income statement, 12 months as columns",
    "GROUP BY account and period",
    "atLeast",
    15,
    await compare(
      () => statement(caller, { ...place, code: "income-statement", layout: "months" }),
      () =>
        db.execute(
          sql`select account_id, year_id, period_no, sum(case when side = 'D' then amount
            else -amount end) from journal_line where company_id = 1 and book_id in (0, 1)
            group by 1, 2, 3`,
        ),
      9,
    ),
  );

  // The bare counterpart of one posting: the same rows, written again under new keys, all triggers
  // on.
  let serial = 0;
  const bare = async () => {
    serial++;
    await db.transaction(async (tx) => {
      const [head] = (
        (await tx.execute(
          sql`select seq, hash from chain where company_id = 2 for update`,
        )) as unknown as { rows: { seq: bigint; hash: string }[] }
      ).rows;
      const seq = head!.seq + 1n;
      const [doc] = (
        (await tx.execute(
          sql`insert into document (kind, type, number, company_id, date, amount, currency, title,
            search, created_by, status) values ('journal', 'general', ${`BARE-${serial}`}, 2,
            '2026-05-05', 200, 'EUR', 'Bare', ${`bare ${serial}`}, 1, 'posted') returning id`,
        )) as unknown as { rows: { id: bigint }[] }
      ).rows;
      const [year] = (
        (await tx.execute(
          sql`select id from fiscal_year where company_id = 2 and name = '2026'`,
        )) as unknown as { rows: { id: number }[] }
      ).rows;
      await tx.execute(
        sql`insert into number_counter values ('journal', 2, ${year!.id}, 1)
          on conflict (series, company_id, year_id) do update set last = number_counter.last + 1`,
      );
      await tx.execute(sql`insert into journal (id, company_id, seq, number, series, serial,
        type_id, book_id, date, year_id, period_no, description, total, line_count, prepared_by,
        posted_by, posted_at, previous_hash, hash)
        values (${doc!.id}, 2, ${seq}, ${`BARE-${serial}`}, 'journal', ${5_000_000 + serial}, 1, 0,
          '2026-05-05', ${year!.id}, 5, 'Bare', 200, 4, 1, 1, now(), ${head!.hash},
          ${`h${serial}`})`);
      await tx.execute(sql`insert into journal_line (journal_id, line_no, company_id, seq, book_id,
        year_id, period_no, closing, date, account_id, coding_id, side, amount, currency,
        foreign_amount, description)
        select ${doc!.id}, g, 2, ${seq}, 0, ${year!.id}, 5, false, '2026-05-05', 200 + g, 1 + g,
          case when g % 2 = 0 then 'C' else 'D' end, 100, 'EUR', 100, 'Bare'
          from generate_series(1, 4) g`);
      await tx.execute(
        sql`insert into account_balance select 2, 0, ${year!.id}, 5, false, 200 + g, 100, 0
          from generate_series(1, 4) g on conflict (company_id, book_id, year_id, period_no,
          closing, account_id) do update set debit = account_balance.debit + 100`,
      );
      await tx.execute(
        sql`insert into coding_balance (company_id, book_id, year_id, period_no, closing,
          account_id, coding_id, currency, debit, credit, foreign_debit, foreign_credit) select 2, 0, ${year!.id}, 5, false, 200 + g, 1 + g, 'EUR',
          100, 0, 100, 0 from generate_series(1, 4) g on conflict (company_id, book_id, year_id,
          period_no, closing, account_id, coding_id,
          currency, counterparty_id) do update set debit = coding_balance.debit + 100`,
      );
      await tx.execute(
        sql`update chain set seq = ${seq}, hash = ${`h${serial}`} where company_id = 2`,
      );
      await tx.execute(
        sql`insert into audit_event (action, kind, record_id)
          values ('posted', 'journal', ${String(doc!.id)})`,
      );
    });
  };
  held(
    "posting one four-line journal",
    "the same rows by bare SQL in one transaction",
    "atMost",
    3,
    await compare(posting, bare, 60),
  );

  // A load of 100,000 lines in 500 journals; the bare counterpart puts the same line rows into a
  // table with the same indexes.
  await db.execute(sql`create table bare_line (like journal_line including all)`);
  const load = Array.from({ length: 500 }, (_, i) => benchJournal(2_000_000 + i * 3, 200));
  const undo = new Error("undo");
  const slices: unknown[][] = [];
  const loadOnce = async () => {
    const done = await runAs(caller, async (c) => {
      const posted = await postDrafts(c, load);
      if (!posted.ok) throw new Error(JSON.stringify(posted.problems.slice(0, 2)));
      return posted;
    });
    if (!done.ok) throw undo;
  };
  await loadOnce();
  const [last] = await rows<{ id: bigint }>(db, sql`select max(id) as id from journal`);
  const columns = await rows<Record<string, unknown>>(
    db,
    sql`select journal_id, line_no, company_id, seq, book_id, year_id, period_no, date, account_id,
      coding_id, side, amount, currency, foreign_amount, description from journal_line
      where journal_id > ${last!.id - 500n} limit 100000`,
  );
  for (let i = 0; i < columns.length; i += 5000) slices.push(columns.slice(i, i + 5000));
  const literal = (slice: Record<string, unknown>[], key: string) =>
    sql`${`{${slice.map((r) => (typeof r[key] === "string" ? `"${r[key] as string}"` : String(r[key]))).join(",")}}`}::text`;
  const bareLoad = async () => {
    await db.transaction(async (tx) => {
      for (const part of slices) {
        const s = part as Record<string, unknown>[];
        await tx.execute(sql`insert into bare_line (journal_id, line_no, company_id, seq, book_id,
          year_id, period_no, closing, date, account_id, coding_id, side, amount, currency,
          foreign_amount, description)
          select j, n, c, q, b, y, p, false, d, a, k, s, m, cur, f, t
            from unnest(${literal(s, "journal_id")}::bigint[], ${literal(s, "line_no")}::int[],
            ${literal(s, "company_id")}::int[], ${literal(s, "seq")}::bigint[],
            ${literal(s, "book_id")}::smallint[], ${literal(s, "year_id")}::int[],
            ${literal(s, "period_no")}::smallint[],
            ${literal(s, "date")}::date[], ${literal(s, "account_id")}::int[],
              ${literal(s, "coding_id")}::int[], ${literal(s, "side")}::char(1)[],
              ${literal(s, "amount")}::bigint[], ${literal(s, "currency")}::char(3)[],
              ${literal(s, "foreign_amount")}::bigint[],
              ${literal(s, "description")}::text[]) as x(j, n, c, q, b, y, p, d, a, k, s, m, cur, f,
              t)`);
      }
    });
    await db.execute(sql`truncate bare_line`);
  };
  held(
    "load of 100,000 lines, checked and posted",
    "INSERT … SELECT FROM unnest of the same line rows",
    "atMost",
    4,
    await compare(loadOnce, bareLoad, 3),
  );

  held(
    "verify",
    "fetching all lines once",
    "atMost",
    3,
    await compare(
      () => verify(db),
      async () => {
        let after = 0n;
        for (;;) {
          const page = await rows<{ journal_id: bigint }>(
            db,
            sql`select * from journal_line
              where journal_id > ${after} and journal_id <= ${after + 5000n} order by journal_id,
              line_no`,
          );
          after += 5000n;
          if (page.length === 0 && after > last!.id + 10_000n) break;
        }
      },
      1,
    ),
  );
  const first = growth[0]!;
  const end = growth.at(-1)!;
  held(
    `posting at ${end.lines.toLocaleString("en")} lines`,
    `itself at ${first.lines.toLocaleString("en")}`,
    "atMost",
    1.5,
    { work: end.posting, against: first.posting },
  );
  held(
    `trial balance at ${end.lines.toLocaleString("en")} lines`,
    `itself at ${first.lines.toLocaleString("en")}`,
    "atMost",
    1.5,
    { work: end.balance, against: first.balance },
  );

  return bars;
}
