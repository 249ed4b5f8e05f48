import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { NO_KEYS } from "@/core/banks/statements";
import { bankDay, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { createJournal } from "../../ledger";
import { makePayment } from "../../payables";
import { loadRates } from "../../rates";
import { reverseRun } from "../../runs";
import { getStatementLine, saveBankAccount } from "../index";

const w = world();
const { treasury, root, lineOf, takeIn, decide, post, position, faults } = bankDay(w);
const DOLLARS = "DE75512108001245126199";

const statusOf = async (id: number) =>
  (
    await rows<{ status: string }>(w.database.db, sql`select status from document where id = ${id}`)
  )[0]!.status;

/** What is left of an item, by its reference, where one is left. */
const leftOf = async (reference: string) =>
  (
    await rows<{ left: bigint }>(
      w.database.db,
      sql`select sum(left_amount)::bigint as "left" from open_item where reference = ${reference}`,
    )
  )[0]!.left;

const pay = async (amount: string, more: object = {}) =>
  must(
    await makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
      ...more,
    }),
  );

/** What is owed to a supplier under a number of theirs. */
const owed = async (reference: string, amount: string) =>
  must(
    await createJournal(await root(), {
      company: "ALP",
      type: "general",
      date: "2026-10-01",
      description: "Fuel",
      reference,
      post: true,
      lines: [
        { account: "6310", debit: amount, credit: "", dimensions: { costCentre: "HARB" } },
        {
          account: "2140",
          partner: "PEL",
          dueDate: "2026-10-31",
          debit: "",
          credit: amount,
          dimensions: {},
        },
      ],
    }),
  );

const returned = (amount: bigint, number: string) => ({
  amount,
  code: "PMNT-ICDT-RRTN",
  returnReason: "AC04",
  keys: { ...NO_KEYS, endToEnd: number },
});

beforeAll(async () => {
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveBankAccount(await root(), {
      ...BANK_OF_ALPHA,
      code: "DOLLAR",
      name: "Dollars",
      currency: "USD",
      account: "1115",
      iban: DOLLARS,
    }),
  );
  must(
    await loadRates(await root(), {
      take: true,
      rows: (
        [
          ["2026-10-05", "1.25"],
          ["2026-10-06", "1.20"],
          ["2026-10-08", "1.10"],
        ] as const
      ).map(([date, rate]) => ({ base: "EUR", quote: "USD", date, rate })),
    }),
  );
});

describe("a payment that comes back", () => {
  test("opens what it had settled, with the bank's reason, and the books stand", async () => {
    const [back, stays] = [await pay("75.00"), await pay("25.00")];
    const clearing = statement("218", 0n, [
      { amount: -10_000n, text: `${back.number} ${stays.number}` },
    ]);
    await takeIn(clearing);
    await post();
    expect([await statusOf(back.id), await statusOf(stays.id)]).toEqual(["cleared", "cleared"]);
    const coming = statement("219", -10_000n, [
      {
        amount: 7_500n,
        code: "PMNT-ICDT-RRTN",
        returnReason: "AC04",
        keys: { ...NO_KEYS, endToEnd: back.number },
      },
    ]);
    await takeIn(coming);
    const line = await lineOf(7_500n);
    expect(line.state).toBe("certain");
    const run = await post();
    expect([await statusOf(back.id), await statusOf(stays.id)]).toEqual(["rejected", "cleared"]);
    const [kept] = await rows<{ reason: string }>(
      w.database.db,
      sql`select reason from payment where document_id = ${back.id}`,
    );
    expect(kept!.reason).toBe("Returned by the bank: AC04, the account is closed");
    expect((await position()).underWay).toEqual([]);
    expect(await faults()).toEqual([]);
    // Taken back, the money is under way again, the payment stays undone, and a person decides.
    must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
    expect(await statusOf(back.id)).toBe("rejected");
    expect((await position()).underWay.map((i) => i.amount)).toEqual([7_500n]);
    expect(await faults()).toEqual([]);
    const again = await lineOf(7_500n);
    expect(again.state).not.toBe("unexplained");
    const { candidates } = must(await getStatementLine(await treasury(), { id: again.id }));
    if (again.state !== "certain")
      must(await decide(again.id, { takes: [{ item: candidates[0]!.takes[0]!.item!.id }] }));
    await post();
    expect((await position()).underWay).toEqual([]);
    expect(await faults()).toEqual([]);
  });

  test("of a line that has paid an invoice as well: that stays paid", async () => {
    await owed("PEL-77", "40.00");
    const back = await pay("60.00");
    await takeIn(statement("310", 0n, [{ amount: -10_000n, text: `${back.number} PEL-77` }]));
    const line = await lineOf(-10_000n);
    const items = await rows<{ id: number }>(
      w.database.db,
      sql`select i.id::int as id from open_item i left join document_link l
          on l.to_id = i.journal_id and l.from_id = ${back.id} and l.kind = 'made'
        where i.left_amount <> 0 and (i.reference = 'PEL-77'
          or (l.from_id is not null and i.area = 'transit')) order by i.id`,
    );
    must(await decide(line.id, { takes: items.map((i) => ({ item: i.id })) }));
    await post();
    expect([await statusOf(back.id), await leftOf("PEL-77")]).toEqual(["cleared", 0n]);
    await takeIn(statement("311", -10_000n, [returned(6_000n, back.number)]));
    await post();
    expect([await statusOf(back.id), await leftOf("PEL-77")]).toEqual(["rejected", 0n]);
    expect((await position()).underWay).toEqual([]);
    expect(await faults()).toEqual([]);
  });

  test("in dollars, at three days' rates: only the difference is left in the result", async () => {
    const back = await pay("600.00", { bank: "DOLLAR", currency: "USD" });
    const of = { account: DOLLARS, currency: "USD" };
    const out = { amount: -60_000n, keys: { ...NO_KEYS, endToEnd: back.number } };
    await takeIn(statement("1", 0n, [out], of));
    await post();
    expect(await statusOf(back.id)).toBe("cleared");
    const days = { ...of, from: "2026-10-06", to: "2026-10-08" };
    await takeIn(statement("2", -60_000n, [returned(60_000n, back.number)], days));
    await post();
    expect(await statusOf(back.id)).toBe("rejected");
    expect((await position("DOLLAR")).underWay).toEqual([]);
    const [left] = await rows<{ amount: bigint; functional: bigint }>(
      w.database.db,
      sql`select sum(left_amount)::bigint as amount, sum(left_functional)::bigint as functional
        from open_item where area = 'transit' and currency = 'USD'`,
    );
    expect(left).toEqual({ amount: 0n, functional: 0n });
    expect(await faults()).toEqual([]);
  });
});
