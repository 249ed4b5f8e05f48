import { sql } from "drizzle-orm";
import { expect, test } from "vitest";
import { callerOf, must } from "../../../tests/world";
import { world } from "../../../tests/useWorld";
import { rows } from "../db";
import { createJournal } from "../ledger";
import { verify } from "../verify";

const w = world();

test("on a working date that is set, what is posted is posted then, and never before what was posted already; without one it is posted now", async () => {
  const root = await callerOf(w.database, "root");
  const post = async (description: string) => {
    const made = must(
      await createJournal(root, {
        company: "ALP",
        type: "general",
        date: "2026-10-05",
        description,
        post: true,
        lines: [
          { account: "6310", dimensions: { costCentre: "HARB" }, debit: "10.00" },
          { account: "2410", credit: "10.00" },
        ],
      }),
    );
    const [row] = await rows<{ day: string; at: string }>(
      w.database.db,
      sql`select to_char(posted_at at time zone 'UTC', 'YYYY-MM-DD') as day, posted_at::text as at
        from journal where number = ${made.number!}`,
    );
    return row!;
  };
  const set = (date: string) =>
    w.database.db.execute(
      sql`insert into setting (key, value) values ('working-date', ${JSON.stringify(date)}::jsonb)
        on conflict (key) do update set value = excluded.value`,
    );
  await set("2031-01-15");
  const first = await post("On a day to come");
  expect(first.day).toBe("2031-01-15");
  // A working date set back takes no instant of the chain back.
  await set("2030-06-01");
  const second = await post("After it was set back");
  expect(second.day).toBe("2031-01-15");
  expect(second.at >= first.at).toBe(true);
  await w.database.db.execute(sql`delete from setting where key = 'working-date'`);
  expect((await post("Now")).day).toBe("2031-01-15");
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});
