import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import path from "node:path";
import { sql } from "drizzle-orm";
import { matchLines } from "../src/core/banks/matching";
import { NO_KEYS, NO_PARTY, type BankStatement } from "../src/core/banks/statements";
import { writeMt940 } from "../src/core/banks/statements/writeMt940";
import { decodeJson, encodeJson, minor } from "../src/core/shared";
import { importStatements, saveBankAccount } from "../src/server/banks";
import { insertAll, openDatabase, rows, schema, type Database } from "../src/server/db";
import type { Caller } from "../src/server/access";
import { workOnAll } from "../src/server/jobs";
import { bankLines, judged } from "../tests/bankLines";
import { must } from "../tests/must";
import { prepare } from "./ledger";
import { compare, median, type Bar } from "./measure";

const LINES = 10_000;
const ITEMS = 50_000;
const IMPORTED = 50_000;
const ROUNDS = 3;
const IBAN = "DE02500105170137075030";

/** Matching held against the bare reading of its rows, and import against their bare insertion. */
export async function measureBanks(say: (line: string) => void): Promise<Bar[]> {
  const folder = mkdtempSync(path.join(tmpdir(), "yellow-anchor-banks-"));
  const database = await openDatabase({ folder });
  try {
    const caller = await prepare(database);
    return [await measureMatching(database, say), await measureImport(database, caller, say)];
  } finally {
    await database.close();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** The generated items and lines as rows of plain tables, read into what the matching works on. */
async function measureMatching(database: Database, say: (line: string) => void): Promise<Bar> {
  const { db } = database;
  const facts = bankLines({ lines: LINES, items: ITEMS }, 7);
  for (const [table, kept] of [
    ["bench_item", facts.items],
    ["bench_line", facts.lines],
  ] as const) {
    await db.execute(sql.raw(`create table ${table} (id int primary key, row jsonb not null)`));
    for (let at = 0; at < kept.length; at += 5000)
      await db.execute(
        sql`insert into ${sql.raw(table)} (id, row)
          select (x ->> 'n')::int, x -> 'row' from jsonb_array_elements(${JSON.stringify(
            kept
              .slice(at, at + 5000)
              .map((row, i) => ({ n: at + i, row: JSON.parse(encodeJson(row)) as unknown })),
          )}::jsonb) x`,
      );
  }
  const read = () =>
    Promise.all(
      ["bench_item", "bench_line"].map((table) =>
        rows<{ row: unknown }>(db, sql`select row from ${sql.raw(table)} order by id`),
      ),
    );
  const typed = <T>(kept: readonly { row: unknown }[]): T[] =>
    decodeJson(JSON.stringify(kept.map((r) => r.row))) as T[];
  let found = matchLines(facts);
  const times = await compare(
    async () => {
      const [items, lines] = await read();
      found = matchLines({
        ...facts,
        items: typed<(typeof facts.items)[number]>(items!),
        lines: typed<(typeof facts.lines)[number]>(lines!),
      });
    },
    read,
    ROUNDS,
  );
  const { certain, wrong, clear, clearFound, named, first } = judged(facts.truth, found);
  const part = (of: number, all: number) => (of / all).toFixed(4);
  say(
    `matching: ${certain} certain, ${wrong.length} of them wrong; recall ${part(clearFound, clear)}, right one certain or first ${part(first, named)}`,
  );
  return {
    work: `matching ${LINES.toLocaleString("en")} lines with ${ITEMS.toLocaleString("en")} items`,
    against: "bare reading of the rows",
    kind: "atMost",
    bar: 6,
    measured: times.work / times.against,
    workMs: times.work,
    againstMs: times.against,
  };
}

class TakeBack extends Error {}

async function measureImport(
  database: Database,
  caller: Caller,
  say: (line: string) => void,
): Promise<Bar> {
  const { db } = database;
  must(
    await saveBankAccount(caller, {
      code: "MAIN",
      name: "Current account",
      company: "ONE",
      currency: "EUR",
      account: "1110",
      underWayAccount: "1120",
      iban: IBAN,
    }),
  );
  const times = { work: [] as number[], against: [] as number[] };
  let opening = 0n;
  for (let round = 0; round <= ROUNDS; round++) {
    const statement = statementOf(round, opening);
    opening = statement.closing.amount;
    const content = Buffer.from(writeMt940(`B${round}`, [statement])).toString("base64");
    const start = process.hrtime.bigint();
    must(await importStatements(caller, { name: `${round}.sta`, content }));
    // The matching of so many lines is a job of its own: it counts with them.
    await workOnAll(database);
    const between = process.hrtime.bigint();
    const own = await rows<Record<string, unknown>>(
      db,
      sql`select * from statement_line where statement_id = (select max(id) from bank_statement)`,
    );
    const again = own.map((r) => ({ ...camel(r), statementId: -1 }));
    const before = process.hrtime.bigint();
    await db
      .transaction(async (tx) => {
        await tx.execute(sql`alter table statement_line drop constraint
          statement_line_statement_id_bank_statement_id_fk`);
        await insertAll(tx as never, schema.statementLine, again as never);
        throw new TakeBack();
      })
      .catch((e: unknown) => {
        if (!(e instanceof TakeBack)) throw e;
      });
    const end = process.hrtime.bigint();
    // Each round alone: what nobody has decided on would be matched again.
    await db.execute(sql`delete from statement_line`);
    say(
      `import ${round}: ${Number(between - start) / 1e6} ms, bare ${Number(end - before) / 1e6} ms`,
    );
    if (round === 0) continue;
    times.work.push(Number(between - start) / 1e6);
    times.against.push(Number(end - before) / 1e6);
  }
  const [workMs, againstMs] = [median(times.work), median(times.against)];
  return {
    work: `taking in a statement of ${IMPORTED.toLocaleString("en")} lines`,
    against: "bare insertion of its rows",
    kind: "atMost",
    bar: 4,
    measured: workMs / againstMs,
    workMs,
    againstMs,
  };
}

const camel = (row: Record<string, unknown>): Record<string, unknown> =>
  Object.fromEntries(
    Object.entries(row)
      .filter(([k]) => k !== "id")
      .map(([k, v]) => [k.replace(/_(\w)/g, (_, c: string) => c.toUpperCase()), v]),
  );

function statementOf(round: number, opening: bigint): BankStatement {
  const lines = Array.from({ length: IMPORTED }, (_, i) => ({
    booked: `2026-0${round + 1}-15`,
    valued: `2026-0${round + 1}-15`,
    amount: minor(BigInt((i % 2 === 0 ? 1 : -1) * (1000 + i))),
    takesBack: false,
    code: "NTRF",
    party: { ...NO_PARTY, name: `Customer ${i % 997}` },
    keys: { ...NO_KEYS, bank: `R${round}-${i}` },
    text: `Invoice 26-${round}${String(i).padStart(6, "0")}`,
    returnReason: "",
    details: [],
    from: 0,
    to: 0,
  }));
  return {
    account: IBAN,
    currency: "EUR",
    number: String(round + 1),
    message: `B${round}`,
    opening: { amount: minor(opening), date: `2026-0${round + 1}-14` },
    closing: {
      amount: minor(lines.reduce((t, l) => t + l.amount, opening)),
      date: `2026-0${round + 1}-15`,
    },
    lines,
    from: 0,
  };
}
