import { sql } from "drizzle-orm";
import { expect, test } from "vitest";
import { minor } from "@/core/shared";
import { callerOf, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { runAs } from "../../access";
import { rows } from "../../db";
import { stopJob, workOnAll } from "../../jobs";
import { postDrafts } from "../../ledger";
import { savePartner } from "../../partners";
import { getRun, postRun, proposeRun, reverseRun } from "../../runs";
import { verify } from "../../verify";
import { sendLetters } from "../index";

const w = world();
const root = () => callerOf(w.database, "root");
const CUSTOMERS = 60;
const ITEMS = 2_100;
const letters = async () =>
  (
    await rows<{ made: number; sent: number }>(
      w.database.db,
      sql`select count(*)::int as made, count(sent_at)::int as sent from customer_letter`,
    )
  )[0];
const jobs = () =>
  rows<{ id: number; kind: string; state: string; note: string; done: number; total: number }>(
    w.database.db,
    sql`select id::int as id, kind, state, note, done, total from job order by id desc`,
  );

test("reminders of thousands of items are computed, posted and sent by and by; stopped, the rest waits and goes out once", async () => {
  for (let i = 0; i < CUSTOMERS; i++)
    must(
      await savePartner(await root(), {
        code: `BIG-${i}`,
        name: `Boat ${i}`,
        customer: true,
        country: "IE",
        email: `boat${i}@harbour.example`,
      }),
    );
  const line = { dimensions: {}, amount: minor(5_000n) };
  must(
    await runAs(await root(), (context) =>
      postDrafts(context, [
        {
          company: "ALP",
          type: "opening",
          book: null,
          date: "2026-07-01",
          description: "Berths",
          lines: [
            ...Array.from({ length: ITEMS }, (_, i) => ({
              ...line,
              account: "1310",
              side: "debit" as const,
              description: `Berth ${i}`,
              partner: `BIG-${i % CUSTOMERS}`,
              dueDate: "2026-08-01",
              item: { kind: "invoice" as const, reference: `N${i}` },
            })),
            {
              ...line,
              account: "2440",
              side: "credit" as const,
              description: "Berths",
              amount: minor(5_000n * BigInt(ITEMS)),
            },
          ],
        },
      ]),
    ),
  );
  const params = { company: "ALP", date: "2026-10-14" };
  const { id } = must(await proposeRun(await root(), { kind: "letters", params }));
  await workOnAll(w.database);
  must(await postRun(await root(), { key: String(id) }));
  expect(must(await getRun(await root(), { key: String(id) })).status).toBe("posting");
  await workOnAll(w.database);
  expect((await jobs())[0]).toMatchObject({ kind: "post-run", state: "done", note: "" });
  expect(must(await getRun(await root(), { key: String(id) })).status).toBe("posted");
  expect(await letters()).toEqual({ made: CUSTOMERS, sent: 0 });

  must(await sendLetters(await root(), { run: String(id) }));
  must(await stopJob(await root(), { id: (await jobs())[0]!.id }));
  await workOnAll(w.database);
  expect(await letters()).toEqual({ made: CUSTOMERS, sent: 0 });
  must(await sendLetters(await root(), { run: String(id) }));
  await workOnAll(w.database);
  expect((await jobs())[0]).toMatchObject({ state: "done", done: CUSTOMERS, total: CUSTOMERS });
  expect(await letters()).toEqual({ made: CUSTOMERS, sent: CUSTOMERS });
  expect(codes(await reverseRun(await root(), { key: String(id), reason: "too early" }))).toEqual([
    "RUN_STANDS_IN_WAY",
  ]);
  expect((await verify(w.database.db)).flatMap((c) => c.faults)).toEqual([]);
});
