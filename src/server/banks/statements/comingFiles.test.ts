import { sql } from "drizzle-orm";
import { beforeAll, expect, test } from "vitest";
import { bankDay, camt, file, IBAN, statement } from "../../../../tests/bankDay";
import { world } from "../../../../tests/useWorld";
import { BANK_OF_ALPHA, codes, must } from "../../../../tests/world";
import { rows } from "../../db";
import { stopJob, workOnAll, workOnNext } from "../../jobs";
import { importStatements, listStatements, saveBankAccount } from "../index";
import { STORED_AT_ONCE } from "./comingFiles";

const w = world();
const { treasury, root, lines, takeIn, faults } = bankDay(w);
const MANY = STORED_AT_ONCE + 3;
const large = (number: string, opening: bigint) =>
  file(
    `${number}.xml`,
    camt(
      statement(
        number,
        opening,
        Array.from({ length: MANY }, () => ({ amount: 1n })),
      ),
    ),
  );
const send = async (sent: ReturnType<typeof large>) => importStatements(await treasury(), sent);
const statements = async () =>
  must(await listStatements(await treasury(), { company: "ALP" })).map((s) => s.number);
const left = async () =>
  rows<{ files: number; lines: number }>(
    w.database.db,
    sql`select (select count(*)::int from coming_file) as files,
      (select count(*)::int from coming_line) as lines`,
  );
/** The newest job that takes statements in. */
const job = async () =>
  (
    await rows<{ id: number; state: string; done: number; note: string }>(
      w.database.db,
      sql`select id::int as id, state, done, note from job where kind = 'take-statements'
        order by id desc limit 1`,
    )
  )[0]!;

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN, matchesAtOnce: false }));
});

test("a large file is taken in by a job, whole, and nothing of it is seen before", async () => {
  const sent = large("1", 0n);
  expect(must(await send(sent))).toMatchObject({ isComing: true, lines: MANY, file: 0 });
  expect([await statements(), (await lines()).length]).toEqual([[], 0]);
  // The same file again, while it is on its way.
  expect(codes(await send(sent))).toEqual(["INVALID"]);
  await workOnAll(w.database);
  expect(await statements()).toEqual(["1"]);
  const [kept] = await rows<{ lines: number; sum: bigint }>(
    w.database.db,
    sql`select count(*)::int as lines, sum(amount)::bigint as sum from statement_line`,
  );
  expect(kept).toEqual({ lines: MANY, sum: BigInt(MANY) });
  expect(await left()).toEqual([{ files: 0, lines: 0 }]);
  expect(await job()).toMatchObject({ state: "done", done: MANY });
  expect(codes(await send(sent))).toEqual(["INVALID"]);
  expect(await faults()).toEqual([]);
});

test("one that is stopped leaves nothing, and may come again", async () => {
  const sent = large("2", BigInt(MANY));
  must(await send(sent));
  must(await stopJob(await treasury(), { id: (await job()).id }));
  await workOnAll(w.database);
  expect([await statements(), await left()]).toEqual([["1"], [{ files: 0, lines: 0 }]]);
  expect((await job()).state).toBe("stopped");
  must(await send(sent));
  await workOnAll(w.database);
  expect(await statements()).toEqual(["2", "1"]);
});

test("what has come in meanwhile is said, and nothing of the file stays; a worker that fell silent is taken over", async () => {
  const opening = 2n * BigInt(MANY);
  const sent = large("3", opening);
  must(await send(sent));
  // Another file brings a statement of that number first.
  await takeIn(statement("3", opening, [{ amount: 5n }]));
  await workOnNext(w.database, "here");
  expect(await job()).toMatchObject({ state: "failed" });
  expect((await job()).note).toContain("is there already");
  expect(await left()).toEqual([{ files: 0, lines: 0 }]);
  must(await send(large("4", opening + 5n)));
  // A process that stored a part of it is gone.
  await w.database.db.execute(
    sql`insert into coming_line select f.id, 0, l.company_id, l.bank_account_id, l.position, l.booked, l.valued, l.amount,
        l.takes_back, l.code, l.party_name, l.party_account, l.party_bic, l.end_to_end,
        l.creditor_reference, l.mandate, l.cheque, l.bank_reference, l.text, l.return_reason,
        l.details, l.batch, l.from_line, l.to_line
      from coming_file f cross join (select * from statement_line limit 10) l`,
  );
  await workOnAll(w.database);
  const [last] = await rows<{ lines: number }>(
    w.database.db,
    sql`select count(*)::int as lines from statement_line l join bank_statement s on s.id = l.statement_id
      where s.number = '4'`,
  );
  expect([last!.lines, await left()]).toEqual([MANY, [{ files: 0, lines: 0 }]]);
});
