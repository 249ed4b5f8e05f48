import { sql, type SQL } from "drizzle-orm";
import { describe, expect, test } from "vitest";
import { callerOf, must, written } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { createJournal } from "../ledger";
import { verify } from "../verify";
import { rows, type Db } from "./index";

const w = world();

async function refusal(work: (tx: Db) => Promise<unknown>): Promise<string> {
  try {
    await w.database.db.transaction(async (tx) => void (await work(tx as unknown as Db)));
  } catch (error) {
    for (
      let e = error as { cause?: unknown; message: string } | undefined;
      e;
      e = e.cause as typeof e
    )
      if (/ledger guard|violates|duplicate/.test(e.message)) return e.message;
    throw error;
  }
  return "was let through";
}
const attempt = (statement: SQL) => refusal((tx) => tx.execute(statement));

/**
 * A journal written by hand, past the application: every column right but for what a test changes.
 */
async function forge(
  tx: Db,
  change: {
    credit?: bigint;
    periodNo?: number;
    date?: string;
    previous?: string;
    lines?: number;
    registerDate?: string;
  } = {},
): Promise<void> {
  const [head] = await rows<{ seq: bigint; hash: string }>(
    tx,
    sql`select seq, hash from chain where company_id = 1 for update`,
  );
  const seq = head!.seq + 1n;
  const [doc] = await rows<{ id: bigint }>(
    tx,
    sql`insert into document (kind, status, created_by, number, company_id, date, amount, currency)
      values ('journal', 'posted', 1, ${`FORGED-${seq}`}, 1,
        ${change.registerDate ?? change.date ?? "2026-10-05"}, 100, 'EUR') returning id`,
  );
  const [year] = await rows<{ id: number }>(
    tx,
    sql`select id from fiscal_year where company_id = 1 and name = '2026'`,
  );
  const periodNo = change.periodNo ?? 10;
  const date = change.date ?? "2026-10-05";
  await tx.execute(sql`update chain set seq = ${seq}, hash = 'x' where company_id = 1`);
  await tx.execute(sql`insert into journal (id, company_id, seq, number, series, serial, type_id,
    book_id, date, year_id, period_no, description, total, line_count, prepared_by, posted_by,
    posted_at, previous_hash, hash)
    values (${doc!.id}, 1, ${seq}, ${`FORGED-${seq}`}, 'journal', 90000, 1, 0, ${date}, ${year!.id},
      ${periodNo}, 'forged', 100, 2, 1, 1, now(), ${change.previous ?? head!.hash}, 'x')`);
  const line = (no: number, side: string, amount: bigint) =>
    sql`(${doc!.id}, ${no}, 1, ${seq}, 0, ${year!.id}, ${periodNo}, false, ${date}, (select min(id)
      from account), 1, ${side}, ${amount}, 'EUR', ${amount}, '')`;
  const lines = [line(1, "D", 100n), line(2, "C", change.credit ?? 100n)].slice(
    0,
    change.lines ?? 2,
  );
  await tx.execute(
    sql`insert into journal_line (journal_id, line_no, company_id, seq, book_id, year_id, period_no,
      closing, date, account_id, coding_id, side, amount, currency, foreign_amount, description)
      values ${sql.join(lines, sql`, `)}`,
  );
}

describe("the database guards the ledger against whatever code writes", () => {
  test("rows that are posted, and the history, can be neither changed nor deleted nor added to", async () => {
    const accountant = await callerOf(w.database, "accountant");
    const posted = must(await createJournal(accountant, { ...written(), post: true }));
    for (const statement of [
      sql`update journal set description = 'other' where id = ${posted.id}`,
      sql`delete from journal where id = ${posted.id}`,
      sql`update journal_line set amount = amount + 1 where journal_id = ${posted.id}`,
      sql`delete from journal_line where journal_id = ${posted.id} and line_no = 1`,
      sql`truncate journal_line`,
      sql`truncate journal cascade`,
      sql`update audit_event set person_id = null`,
      sql`delete from audit_event`,
      sql`delete from close_record`,
      sql`update coding set value_ids = '{}' where id > 1`,
      sql`update document set number = 'ALP-26-99999' where id = ${posted.id}`,
      sql`delete from document where id = ${posted.id}`,
      sql`update chain set seq = 0`,
      sql`update account set type = 'asset' where number = '6310'`,
      sql`delete from account where number = '6310'`,
      sql`insert into journal_line select journal_id, line_no + 10, company_id, seq, book_id,
        year_id, period_no, closing, date, account_id, coding_id, side, amount, currency,
        foreign_amount, partner, due_date, description from journal_line
        where journal_id = ${posted.id}`,
    ])
      expect(await attempt(statement)).toMatch(/ledger guard|violates/);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("a journal written past the application is held to the same rules", async () => {
    expect(await refusal((tx) => forge(tx, { credit: 99n }))).toMatch(/does not balance/);
    expect(await refusal((tx) => forge(tx, { lines: 1 }))).toMatch(/does not balance|not whole/);
    expect(await refusal((tx) => forge(tx, { periodNo: 12, date: "2026-12-05" }))).toMatch(
      /period that is not open/,
    );
    expect(await refusal((tx) => forge(tx, { date: "2026-09-05" }))).toMatch(
      /does not lie in its period/,
    );
    expect(await refusal((tx) => forge(tx, { previous: "elsewhere" }))).toMatch(
      /does not follow its predecessor/,
    );
    expect(await refusal((tx) => forge(tx, { registerDate: "2026-10-06" }))).toMatch(
      /the register does not say of journal/,
    );
    expect(
      await attempt(
        sql`update document set company_id = 2 where kind = 'journal' and status = 'posted'`,
      ),
    ).toMatch(/ledger guard/);
    expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
  });

  test("what gets past every guard is found by verify: forged hash, wrong balance, gap in numbers", async () => {
    const named = async (work: (tx: Db) => Promise<unknown>): Promise<string[]> => {
      let faults: string[] = [];
      const undo = new Error("undo");
      await w.database.db
        .transaction(async (tx) => {
          await work(tx as unknown as Db);
          await tx.execute(sql`set constraints all immediate`);
          faults = (await verify(tx as unknown as Db))
            .filter((c) => c.faults.length > 0)
            .map((c) => c.name);
          throw undo;
        })
        .catch((error: unknown) => {
          if (error !== undo) throw error;
        });
      return faults;
    };
    expect(await named((tx) => forge(tx))).toEqual(
      expect.arrayContaining([
        "Hash chain of ALP",
        "Stored balances equal the journal lines",
        "Balances by coding equal the journal lines",
        "Numbers run without gaps",
      ]),
    );
    expect(
      await named((tx) =>
        tx.execute(
          sql`update account_balance b set debit = debit + 1 where account_id = (select id
            from account where number = '6310')`,
        ),
      ),
    ).toEqual(["Stored balances equal the journal lines"]);
    expect(await named((tx) => tx.execute(sql`update number_counter set last = last + 1`))).toEqual(
      ["Numbers run without gaps"],
    );
    expect(
      await named((tx) =>
        tx.execute(sql`update document set status = 'reversed' where kind = 'journal'`),
      ),
    ).toEqual(["References lead to what is there"]);
  });
});
