import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { NO_PARTY } from "@/core/banks/statements";
import { bankDay, camt, file, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, codes, must } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { getJournal } from "../../ledger";
import { loadRates } from "../../rates";
import { savePair } from "../../organisation";
import { postRun, proposeRun, reverseRun } from "../../runs";
import {
  getStatementLine,
  importStatements,
  listBankAccounts,
  matchLinesAnew,
  saveBankAccount,
} from "../index";

const w = world();
const { treasury, root, lines, lineOf, takeIn, decide, post, position, faults } = bankDay(w);
const OTHER = "DE75512108001245126199";
const [NEAR, FAR] = ["GB29NWBK60161331926819", "FR1420041010050500013M02606"];
const to = (account: string) => ({ party: { ...NO_PARTY, account } });

beforeAll(async () => {
  for (const own of [
    { code: "MAIN", account: "1110", iban: IBAN },
    { code: "SAVE", account: "1112", iban: OTHER },
    { code: "NEAR", account: "1115", iban: NEAR, currency: "USD" },
    { code: "FAR", account: "1111", iban: FAR, currency: "USD" },
  ])
    must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, name: own.code, ...own }));
  must(
    await loadRates(await root(), {
      take: true,
      rows: (
        [
          ["2026-10-06", "1.20"],
          ["2026-10-08", "1.10"],
        ] as const
      ).map(([date, rate]) => ({ base: "EUR", quote: "USD", date, rate })),
    }),
  );
});

describe("money between own accounts", () => {
  test("money between own accounts is paired, goes over money under way, and is nil when both are posted", async () => {
    const to = (account: string) => ({ party: { ...NO_PARTY, account } });
    const sends = statement("230", 0n, [{ amount: -50_000n, ...to(OTHER), text: "To deposits" }]);
    await takeIn(sends);
    const sent = await lineOf(-50_000n);
    expect(sent.state).toBe("to decide");
    const { candidates } = must(await getStatementLine(await treasury(), { id: sent.id }));
    const transfer = candidates[0]!.transfer!;
    expect(transfer).toMatchObject({ code: "SAVE", line: null });
    expect(codes(await decide(sent.id, { transfer: { bank: 9_999 } }))).toEqual(["INVALID"]);
    must(await decide(sent.id, { transfer }));
    await post();
    expect((await position()).underWay.map((i) => [i.amount, i.number])).toEqual([
      [50_000n, "MAIN to SAVE"],
    ]);
    const gets = statement("1", 0n, [{ amount: 50_000n, ...to(IBAN) }], { account: OTHER });
    await takeIn(gets);
    const got = (await lines()).find((l) => l.bank === "SAVE" && l.amount === 50_000n)!;
    expect(got.state).toBe("certain");
    await post();
    expect((await position()).underWay).toEqual([]);
    // Both on one day: each is certain by the other, and one run posts both.
    const there = statement("231", -50_000n, [{ amount: -700n, ...to(OTHER) }]);
    const here = statement("2", 50_000n, [{ amount: 700n }], { account: OTHER });
    await takeIn(there, here);
    const both = (await lines()).filter((l) => l.amount === 700n || l.amount === -700n);
    expect(both.map((l) => l.state)).toEqual(["certain", "certain"]);
    const run = await post();
    expect((await position()).underWay).toEqual([]);
    expect(await faults()).toEqual([]);
    must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
    expect(await faults()).toEqual([]);
    await post();
    expect((await position()).underWay).toEqual([]);
    expect(await faults()).toEqual([]);
  });

  const usd = (account: string, number: string, opening: bigint, amount: bigint, day: string) =>
    statement(number, opening, [{ amount, ...to(account === NEAR ? FAR : NEAR) }], {
      account,
      currency: "USD",
      from: day === "2026-10-06" ? "2026-10-05" : "2026-10-06",
      to: day,
    });
  const inDollars = async () =>
    (
      await rows<{ amount: bigint; functional: bigint }>(
        w.database.db,
        sql`select coalesce(sum(left_amount), 0)::bigint as amount,
            coalesce(sum(left_functional), 0)::bigint as functional
          from open_item where area = 'transit' and currency = 'USD'`,
      )
    )[0];

  test("in dollars, booked on two days: the second takes what the first has left, whichever comes in first", async () => {
    // Both at once: the later one waits for the next run, and carries the exchange difference.
    await takeIn(
      usd(NEAR, "1", 0n, -40_000n, "2026-10-06"),
      usd(FAR, "1", 0n, 40_000n, "2026-10-08"),
    );
    expect([(await lineOf(-40_000n)).state, (await lineOf(40_000n)).state]).toEqual([
      "certain",
      "certain",
    ]);
    await post();
    expect((await lineOf(40_000n)).state).toBe("certain");
    await post();
    expect((await lineOf(40_000n)).state).toBe("posted");
    expect(await inDollars()).toEqual({ amount: 0n, functional: 0n });
    // One side decided by a person before the other is there, and booked after it.
    await takeIn(usd(NEAR, "2", -40_000n, -30_000n, "2026-10-08"));
    const sent = await lineOf(-30_000n);
    const { candidates } = must(await getStatementLine(await treasury(), { id: sent.id }));
    must(await decide(sent.id, { transfer: candidates[0]!.transfer }));
    await takeIn({ ...usd(FAR, "9", 0n, 30_000n, "2026-10-06") });
    expect((await lineOf(30_000n)).state).toBe("certain");
    await post();
    await post();
    expect([(await lineOf(-30_000n)).state, (await lineOf(30_000n)).state]).toEqual([
      "posted",
      "posted",
    ]);
    expect(await inDollars()).toEqual({ amount: 0n, functional: 0n });
    expect(await faults()).toEqual([]);
  });
});

test("exchanged on the way: the second side takes what the first has left, and the bank's rate is the difference", async () => {
  const euros = (number: string, opening: bigint, amount: bigint) =>
    statement(number, opening, [{ amount, ...to(FAR) }]);
  const dollars = (number: string, opening: bigint, amount: bigint) =>
    statement(number, opening, [{ amount, ...to(IBAN) }], { account: FAR, currency: "USD" });
  // 10,000.00 at 1.20 are 12,000.00; the bank keeps 50.00 of them.
  await takeIn(euros("400", 0n, -1_000_000n));
  expect(await lineOf(-1_000_000n)).toMatchObject({ state: "to decide" });
  await takeIn(dollars("40", 0n, 1_195_000n));
  expect((await lineOf(1_195_000n)).state).toBe("certain");
  expect((await lineOf(-1_000_000n)).state).toBe("certain");
  await post();
  expect((await lineOf(1_195_000n)).state).toBe("certain");
  await post();
  const got = must(await getStatementLine(await treasury(), { id: (await lineOf(1_195_000n)).id }));
  const view = must(await getJournal(await root(), { key: String(got.journal!.id) }));
  expect(
    view.kind === "posted" && view.lines.map((l) => [l.account, l.side, l.amount, l.foreignAmount]),
  ).toEqual([
    ["1120", "credit", 1_000_000n, 1_000_000n],
    ["1111", "debit", 995_833n, 1_195_000n],
    ["8550", "debit", 4_167n, 4_167n],
  ]);
  const left = await rows<{ left: bigint }>(
    w.database.db,
    sql`select left_amount as "left" from open_item where area = 'transit' and left_amount <> 0`,
  );
  expect(left).toEqual([]);
  expect(await faults()).toEqual([]);
  // What is worth something else is no other side, whoever says so.
  await takeIn(euros("401", -1_000_000n, -700_000n), dollars("41", 1_195_000n, 500_000n));
  const [out, back] = [await lineOf(-700_000n), await lineOf(500_000n)];
  expect([out.state, back.state]).toEqual(["to decide", "to decide"]);
  const { candidates } = must(await getStatementLine(await treasury(), { id: out.id }));
  const transfer = { bank: candidates[0]!.transfer!.bank, line: back.id };
  expect(codes(await decide(out.id, { transfer }))).toEqual(["INVALID"]);
});

test("money between companies: each posts its own side, and both face each other with the same amount", async () => {
  const THEIRS = "NL02ABNA0123456789";
  const beta = {
    ...BANK_OF_ALPHA,
    code: "BETA",
    name: "Euro account",
    company: "BET",
    account: "1115",
    iban: THEIRS,
  };
  must(await saveBankAccount(await root(), beta));
  must(
    await loadRates(await root(), {
      take: true,
      rows: [{ base: "EUR", quote: "GBP", date: "2026-10-06", rate: "0.85" }],
    }),
  );
  const mine = statement("300", -50_700n, [{ amount: -90_000n, ...to(THEIRS) }]);
  const theirs = statement("1", 0n, [{ amount: 90_000n, ...to(IBAN) }], { account: THEIRS });
  const taken = async (of: typeof mine, name: string) =>
    must(await importStatements(await root(), file(name, camt(of))));
  // Without accounts on which they face each other it is not beyond doubt where it goes.
  await taken(mine, "mine.xml");
  expect((await lineOf(-90_000n)).state).not.toBe("certain");
  const { id: bank } = must(await listBankAccounts(await root(), {})).find(
    (b) => b.code === "BETA",
  )!;
  expect(codes(await decide((await lineOf(-90_000n)).id, { transfer: { bank } }))).toEqual([
    "INVALID",
  ]);
  must(
    await savePair(await root(), {
      first: "ALP",
      second: "BET",
      firstDueFrom: "1340",
      firstDueTo: "2150",
      secondDueFrom: "1340",
      secondDueTo: "2150",
    }),
  );
  await taken(theirs, "theirs.xml");
  must(await matchLinesAnew(await root(), { company: "ALP" }));
  expect((await lineOf(-90_000n)).state).toBe("certain");
  await post();
  const run = must(
    await proposeRun(await root(), {
      kind: "bank-lines",
      params: { company: "BET", upTo: "2026-10-31" },
    }),
  );
  must(await postRun(await root(), { key: String(run.id) }));
  const faced = await rows<{ company: string; account: string; amount: bigint; other: string }>(
    w.database.db,
    sql`select c.code as company, a.number as account, o.code as other,
        (case n.side when 'D' then n.foreign_amount else -n.foreign_amount end) as amount
      from journal_line n join journal j on j.id = n.journal_id
        join company c on c.id = j.company_id join account a on a.id = n.account_id
        join company o on o.id = n.counterparty_id
      order by c.code`,
  );
  expect(faced).toEqual([
    { company: "ALP", account: "1340", amount: 90_000n, other: "BET" },
    { company: "BET", account: "2150", amount: -90_000n, other: "ALP" },
  ]);
  expect(await faults()).toEqual([]);
});
