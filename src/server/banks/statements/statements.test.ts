import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { describeFound, minor } from "@/core/shared";
import { NO_KEYS, NO_PARTY } from "@/core/banks/statements";
import { writeMt940 } from "@/core/banks/statements/writeMt940";
import { bankDay, camt, file, IBAN, statement } from "../../../../tests/bankDay";
import { BANK_OF_ALPHA, callerOf, codes, must, proposalOf } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { documentChain } from "../../documents";
import { workOnAll } from "../../jobs";
import { createJournal, getJournal } from "../../ledger";
import { saveWriteOffLimit } from "../../openItems";
import { savePartner } from "../../partners";
import { makePayment } from "../../payables";
import { discardRun, postRun, proposeRun, reverseRun } from "../../runs";
import {
  bankPosition,
  decideLine,
  getStatementLine,
  importStatements,
  lineTotals,
  listStatementLines,
  saveBankAccount,
  saveLineRule,
  saveMovementKind,
  tryLineRule,
  undoLines,
  type BankPosition,
} from "../index";
import { MATCHED_AT_ONCE } from "./matchOpenLines";

const w = world();
const { treasury, root, lines, takeIn, decide, post, position, faults } = bankDay(w);
const statusOf = async (id: number) =>
  (
    await rows<{ status: string }>(w.database.db, sql`select status from document where id = ${id}`)
  )[0]!.status;

/** Why something was refused. */
const faultOf = async (result: ReturnType<typeof decide>) => {
  const answer = await result;
  return answer.ok ? "" : answer.problems.map(describeFound).join(" ");
};

/** What a customer owes: 1,000.00 under a number of ours. */
const owed = async (reference: string, amount = "1,000.00") =>
  must(
    await createJournal(await root(), {
      company: "ALP",
      type: "general",
      date: "2026-10-01",
      description: "Berth",
      reference,
      post: true,
      lines: [
        {
          account: "1310",
          partner: "OST",
          dueDate: "2026-10-31",
          debit: amount,
          credit: "",
          dimensions: {},
        },
        { account: "4010", debit: "", credit: amount, dimensions: { costCentre: "HARB" } },
      ],
    }),
  );

let paid: { id: number; number: string };

beforeAll(async () => {
  must(
    await savePartner(await root(), {
      code: "OST",
      name: "Ostry Council",
      customer: true,
      country: "IE",
    }),
  );
  must(await saveBankAccount(await root(), { ...BANK_OF_ALPHA, iban: IBAN }));
  must(
    await saveMovementKind(await root(), {
      code: "CHARGE",
      name: "Bank charges",
      side: "out",
      codes: ["PMNT-MDOP-CHRG", "NCHG"],
      words: ["fee"],
      account: "7450",
      dimensions: { costCentre: "HARB" },
    }),
  );
  paid = must(
    await makePayment(await callerOf(w.database, "payables"), {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-05",
      supplier: "PEL",
      currency: "EUR",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount: "240.00" }],
    }),
  );
  await owed("ALP-26-R00398");
  await owed("ALP-26-R00402", "500.00");
});

describe("a day at the bank", () => {
  const day = () =>
    statement("211", 500_000n, [
      { amount: -24_000n, keys: { ...NO_KEYS, endToEnd: paid.number }, code: "PMNT-ICDT-ESCT" },
      {
        amount: 100_000n,
        text: "Rechnung ALP 26 R398 danke",
        party: { ...NO_PARTY, name: "Ostry Council" },
      },
      { amount: -1_250n, text: "Fee of the quarter", code: "PMNT-MDOP-CHRG" },
      {
        amount: 30_000n,
        text: "R00402, first part",
        party: { ...NO_PARTY, name: "Ostry Council" },
      },
      { amount: 7_700n, text: "nobody knows" },
    ]);

  const seen: { at: string; positions: BankPosition[] }[] = [];
  const positionsAt = async (asKnown?: string) =>
    must(await bankPosition(await treasury(), { company: "ALP", date: "2026-10-31", asKnown }));
  /** What is seen now, and when: what comes next comes later. */
  const remember = async () => {
    seen.push({ at: new Date().toISOString(), positions: await positionsAt() });
    await new Promise((done) => setTimeout(done, 5));
  };

  test("is taken in once, and each line says what it is and why", async () => {
    await remember();
    const taken = must(await importStatements(await treasury(), file("day.xml", camt(day()))));
    expect(taken).toMatchObject({
      lines: 5,
      certain: 3,
      statements: [{ bank: "MAIN", doubt: "" }],
    });
    expect((await lines()).map((l) => l.state)).toEqual([
      "certain",
      "certain",
      "certain",
      "to decide",
      "unexplained",
    ]);
    // What stands in each state is what the lines of it come to.
    const totals = must(await lineTotals(await treasury(), { company: "ALP" }));
    for (const { state, lines: count, amount } of totals) {
      const own = (await lines()).filter((l) => l.state === state);
      expect([state, count, amount]).toEqual([
        state,
        own.length,
        own.reduce((t, l) => t + l.amount, 0n),
      ]);
    }
    expect(totals.map((t) => t.state)).toEqual(["certain", "to decide", "unexplained"]);
    expect(must(await lineTotals(await treasury(), { company: "ALP", bank: "NONE" }))).toEqual([]);
    const again = await importStatements(await treasury(), file("other name.xml", camt(day())));
    expect(again).toMatchObject({
      problems: [{ what: expect.stringContaining("day.xml") as string }],
    });
    const asMt940 = await importStatements(
      await treasury(),
      file("day.sta", writeMt940("M1", [day()])),
    );
    expect(asMt940).toMatchObject({
      problems: [{ what: "Statement 211 of MAIN to 6 Oct 2026 is there already" }],
    });
  });

  test("what is decided is posted as it was shown, clears payments, settles items, and comes apart again", async () => {
    const all = await lines();
    must(await decide(all[3]!.id, { takes: [{ item: await itemOf("ALP-26-R00402") }] }));
    expect(codes(await decide(all[4]!.id, {}))).toEqual(["INVALID"]);
    for (const [account, dimensions, code] of [
      ["4010", {}, "DIMENSION_REQUIRED"],
      ["4010", { costCentre: "NOWHERE" }, "VALUE_UNKNOWN"],
      ["1310", {}, "CONTROL_ACCOUNT"],
    ] as const)
      expect(codes(await decide(all[4]!.id, { coding: { account, dimensions } }))).toEqual([code]);
    must(
      await decide(all[4]!.id, {
        coding: { account: "4010", dimensions: { costCentre: "HARB" }, text: "Vending machine" },
      }),
    );
    expect((await position()).unexplained).toBe(500_000n);
    const before = await position();
    expect(before.notPosted).toHaveLength(5);
    await remember();
    const run = await post();
    await remember();
    expect((await lines()).map((l) => l.state)).toEqual(Array(5).fill("posted"));
    expect(await statusOf(paid.id)).toBe("cleared");
    const chain = must(await documentChain(await treasury(), { id: paid.id }));
    const cleared = chain.documents.find((d) => d.kind === "journal")!;
    const view = must(await getJournal(await root(), { key: String(cleared.id) }));
    expect(view).toMatchObject({ bankLine: { bank: "MAIN", statement: "211" } });
    expect(await leftOf("ALP-26-R00398")).toBe(0n);
    expect(await leftOf("ALP-26-R00402")).toBe(20_000n);
    const after = await position();
    expect(after).toMatchObject({ notPosted: [], underWay: [], ledger: 112_450n });
    // What the account held before the first statement is not in this ledger.
    expect(after.unexplained).toBe(500_000n);
    expect(await faults()).toEqual([]);
    expect(codes(await decide(all[0]!.id, {}))).toEqual(["INVALID"]);

    must(await reverseRun(await treasury(), { key: String(run.id), reason: "Wrong day" }));
    expect(await statusOf(paid.id)).toBe("posted");
    expect(await leftOf("ALP-26-R00402")).toBe(50_000n);
    expect((await position()).ledger).toBe(0n);
    await remember();
    expect(await faults()).toEqual([]);
    expect((await lines()).map((l) => l.state)).toEqual([
      ...Array<string>(3).fill("certain"),
      "chosen",
      "chosen",
    ]);

    await post();
    await remember();
    expect(await statusOf(paid.id)).toBe("cleared");
    expect(await faults()).toEqual([]);
    // Each moment is shown as it was seen then, whatever was posted and taken back since.
    expect(seen).toHaveLength(5);
    for (const { at, positions } of seen) expect(await positionsAt(at)).toEqual(positions);
    expect(new Set(seen.map((s) => s.positions[0]!.ledger)).size).toBeGreaterThan(1);
  });

  test("what somebody else has paid meanwhile is left out, and says so", async () => {
    await owed("ALP-26-R00500");
    const text = "ALP-26-R00500";
    must(
      await importStatements(
        await treasury(),
        file(
          "two.xml",
          camt(
            statement("212", 612_450n, [
              { amount: 100_000n, text },
              { amount: 100_000n, text },
            ]),
          ),
        ),
      ),
    );
    const two = (await lines()).filter((l) => l.text === text);
    expect(two.map((l) => l.state)).toEqual(["to decide", "to decide"]);
    const item = await itemOf("ALP-26-R00500");
    for (const l of two) must(await decide(l.id, { takes: [{ item }] }));
    const run = must(
      await proposeRun(await treasury(), {
        kind: "bank-lines",
        params: { company: "ALP", upTo: "2026-10-31" },
      }),
    );
    const { items } = await proposalOf(await treasury(), run.id);
    expect(items.map((i) => i.leftOut)).toEqual([
      undefined,
      "What it takes is not open any more; decide again",
    ]);
    must(await postRun(await treasury(), { key: String(run.id) }));
    const states = (await lines()).filter((l) => l.text === text).map((l) => l.state);
    expect(states).toEqual(["posted", "chosen"]);
    expect(await leftOf("ALP-26-R00500")).toBe(0n);
    expect(await faults()).toEqual([]);
    const [, other] = two;
    must(await undoLines(await treasury(), { ids: [other!.id] }));
    expect((await lines()).find((l) => l.id === other!.id)!.state).toBe("unexplained");
  });

  test("a file is refused whole where anything of it is not ours, in another currency, or does not add up", async () => {
    const before = (await lines()).length;
    const good = statement("213", 812_450n, [{ amount: 100n }]);
    for (const bad of [
      { ...good, number: "214", account: "DE75512108001245126199" },
      { ...good, number: "214", currency: "USD" },
      { ...good, number: "214", closing: { ...good.closing, date: "2026-10-16" } },
      { ...good, number: "214", closing: { ...good.closing, amount: minor(1n) } },
    ])
      expect(
        codes(await importStatements(await treasury(), file("bad.xml", camt(good, bad)))),
      ).toEqual(["INVALID"]);
    expect((await lines()).length).toBe(before);
    const gap = must(
      await importStatements(
        await treasury(),
        file(
          "gap.xml",
          camt({
            ...good,
            opening: { ...good.opening, amount: minor(1_000_000n) },
            closing: { ...good.closing, amount: minor(1_000_100n) },
          }),
        ),
      ),
    );
    expect(gap.statements[0]!.doubt).toMatch(
      /opens with 10,000.00; statement 212 closed with 8,124.50/,
    );
  });

  test("of the same file twice at the same moment one is taken; one that names two accounts, neither", async () => {
    const next = statement("214", 1_000_100n, [{ amount: 100n }]);
    const both = await Promise.all(
      ["a.xml", "b.xml"].map(async (name) =>
        importStatements(await treasury(), file(name, camt(next))),
      ),
    );
    expect(both.map((b) => codes(b)).sort()).toEqual([[], ["INVALID"]]);
    for (const [code, account, routing] of [
      ["ONE", "1112", "021000021"],
      ["TWO", "1115", "011000015"],
    ] as const)
      must(
        await saveBankAccount(await root(), {
          ...BANK_OF_ALPHA,
          code,
          account,
          number: "4711",
          routing,
          country: "US",
        }),
      );
    const either = { ...next, number: "1", account: "4711" };
    expect(
      await importStatements(await treasury(), file("either.xml", camt(either))),
    ).toMatchObject({
      problems: [{ what: expect.stringMatching(/could be ONE and TWO/) as string }],
    });
  });

  test("what is short by the bank's charge settles the item, and the charge goes to its kind", async () => {
    await owed("ALP-26-R00550");
    const before = (await lines()).length;
    must(
      await importStatements(
        await treasury(),
        file(
          "short.xml",
          camt(statement("216", 1_000_200n, [{ amount: 99_500n, text: "ALP-26-R00550" }])),
        ),
      ),
    );
    const line = (await lines()).slice(before)[0]!;
    const takes = [{ item: await itemOf("ALP-26-R00550"), amount: "1000.00" }];
    expect(codes(await decide(line.id, { takes }))).toEqual(["INVALID"]);
    expect(codes(await decide(line.id, { takes, onAccount: true }))).toEqual(["INVALID"]);
    // Whatever account it goes to, it is within the limit of who decides.
    expect(await faultOf(decide(line.id, { takes, kind: "CHARGE" }))).toMatch(/write off nothing/);
    const limit = { person: "treasury", company: "ALP" };
    const { id } = must(await saveWriteOffLimit(await root(), { ...limit, limit: "4.99" }));
    const reason = { takes, writeOff: "Kept by their bank" };
    expect(await faultOf(decide(line.id, reason))).toMatch(/5.00 EUR .* write off 4.99 EUR/);
    expect(codes(await saveWriteOffLimit(await treasury(), { ...limit, limit: "9" }))).toEqual([
      "FORBIDDEN",
    ]);
    must(await saveWriteOffLimit(await root(), { ...limit, limit: "5.00", id, version: 1 }));
    must(await decide(line.id, { takes, kind: "CHARGE" }));
    await post();
    expect(await leftOf("ALP-26-R00550")).toBe(0n);
    expect(await faults()).toEqual([]);
  });

  test("what is written off has a reason, ends on its own account, and a discount that was not agreed counts", async () => {
    await owed("ALP-26-R00551");
    await takeIn(statement("216b", 1_099_700n, [{ amount: 99_700n, text: "ALP-26-R00551" }]));
    const line = (await lines()).find((l) => l.amount === 99_700n)!;
    const item = await itemOf("ALP-26-R00551");
    const takes = [{ item, amount: "1000.00" }];
    expect(codes(await decide(line.id, { takes, writeOff: "no" }))).toEqual(["REASON_REQUIRED"]);
    const part = [{ item, amount: "997.00" }];
    expect(await faultOf(decide(line.id, { takes: part, writeOff: "for nothing" }))).toMatch(
      /missing of the items/,
    );
    const granted = [{ item, amount: "1000.00", discount: "20.00" }];
    expect(await faultOf(decide(line.id, { takes: granted, kind: "CHARGE" }))).toMatch(
      /20.00 EUR .* write off 5.00 EUR/,
    );
    must(await decide(line.id, { takes, writeOff: "Too small to ask for" }));
    await post();
    const { journal } = must(await getStatementLine(await treasury(), { id: line.id }));
    const view = must(await getJournal(await root(), { key: String(journal!.id) }));
    const line8580 = {
      account: "8580",
      amount: 300n,
      description: "Written off: Too small to ask for",
    };
    expect(view).toMatchObject({
      lines: expect.arrayContaining([expect.objectContaining(line8580)]) as unknown,
    });
    expect(await faults()).toEqual([]);
  });

  test("a rule is tried on what was, then decides what comes; what cannot be is said at its field", async () => {
    const rule = {
      company: "ALP",
      name: "Vending machine",
      place: 10,
      text: "nobody knows",
      side: "in",
      outcome: "coding",
      account: "4010",
      dimensions: { costCentre: "HARB" },
    };
    const save = async (more: object) => saveLineRule(await treasury(), { ...rule, ...more });
    expect(codes(await save({ text: "", side: "both" }))).toEqual(["INVALID"]);
    expect(codes(await save({ account: "1310" }))).toEqual(["CONTROL_ACCOUNT"]);
    expect(codes(await save({ dimensions: {} }))).toEqual(["DIMENSION_REQUIRED"]);
    const { id } = must(await save({}));
    const trial = must(await tryLineRule(await treasury(), { id }));
    expect(trial).toMatchObject({ fits: 1, differs: 0, lines: [{ now: "account 4010" }] });
    const again = statement("217", 0n, [{ amount: 4_400n, text: "NOBODY knows, really" }]);
    await takeIn(again);
    const stateOf = async () => (await lines()).find((l) => l.amount === 4_400n)!.state;
    // Only tried, it decides nothing.
    expect(await stateOf()).toBe("unexplained");
    must(await save({ id, version: 1, inUse: true }));
    expect(await stateOf()).toBe("certain");
    expect(codes(await save({ id, version: 1 }))).toEqual(["STALE"]);
    expect(codes(await save({ name: "Another", company: "BET", id }))).toEqual(["NOT_FOUND"]);
    await post();
    expect(await stateOf()).toBe("posted");
    expect(await faults()).toEqual([]);
  });

  test("who decides while the run is posted is told, or comes first: what is posted is what is decided", async () => {
    await owed("ALP-26-R00600");
    const before = (await lines()).length;
    must(
      await importStatements(
        await treasury(),
        file(
          "race.xml",
          camt(statement("215", 1_000_200n, [{ amount: 100_000n, text: "ALP-26-R00600" }])),
        ),
      ),
    );
    const line = (await lines()).slice(before)[0]!;
    expect(line.state).toBe("certain");
    const run = must(
      await proposeRun(await treasury(), {
        kind: "bank-lines",
        params: { company: "ALP", upTo: "2026-10-31" },
      }),
    );
    const coding = { account: "4010", dimensions: { costCentre: "HARB" }, text: "" };
    const [posted, decided] = await Promise.all([
      postRun(await treasury(), { key: String(run.id) }),
      decide(line.id, { coding }),
    ]);
    expect([posted.ok, decided.ok].filter(Boolean)).toHaveLength(1);
    expect(await leftOf("ALP-26-R00600")).toBe(posted.ok ? 0n : 100_000n);
    if (!posted.ok) must(await discardRun(await treasury(), { key: String(run.id) }));
    expect(await faults()).toEqual([]);
  });

  test("of two people who decide at once the second is told; who may not, may not", async () => {
    const [open] = (await lines()).filter((l) => l.state === "unexplained");
    const { version } = must(await getStatementLine(await treasury(), { id: open!.id }));
    const coding = { account: "4010", dimensions: { costCentre: "HARB" }, text: "" };
    const both = await Promise.all(
      [1, 2].map(async () => decideLine(await treasury(), { id: open!.id, version, coding })),
    );
    expect(both.map((b) => codes(b)).sort()).toEqual([[], ["STALE"]]);
    expect(
      codes(
        await decideLine(await callerOf(w.database, "payables"), { id: open!.id, version, coding }),
      ),
    ).toEqual(["FORBIDDEN"]);
  });
});

const itemOf = async (reference: string): Promise<number> =>
  Number(
    (
      await rows<{ id: bigint }>(
        w.database.db,
        sql`select id from open_item where reference = ${reference} and area = 'receivables'`,
      )
    )[0]!.id,
  );
const leftOf = async (reference: string): Promise<bigint> =>
  (
    await rows<{ left: bigint }>(
      w.database.db,
      sql`select left_amount as "left" from open_item where reference = ${reference}
        and area = 'receivables' order by id limit 1`,
    )
  )[0]!.left;

describe("money of a partner without an item", () => {
  test("stays on the partner's account, and pays the invoice that comes later", async () => {
    const before = (await lines()).length;
    await takeIn(statement("230", 1_000_400n, [{ amount: 12_300n, text: "berths, in advance" }]));
    const line = (await lines()).find((l) => l.text === "berths, in advance")!;
    expect((await lines()).length).toBe(before + 1);
    expect(codes(await decide(line.id, { onAccount: true }))).toEqual(["INVALID"]);
    expect(codes(await decide(line.id, { onAccount: true, partner: "NOBODY" }))).toEqual([
      "NOT_FOUND",
    ]);
    must(await decide(line.id, { onAccount: true, partner: "OST" }));
    expect(must(await getStatementLine(await treasury(), { id: line.id })).outcome).toMatchObject({
      partnerName: "Ostry Council",
      account: "1310",
    });
    await post();
    const [item] = await rows<{ left: bigint; partner: string }>(
      w.database.db,
      sql`select left_amount as "left", partner from open_item i
        join statement_line l on l.journal_id = i.journal_id where l.id = ${line.id}`,
    );
    expect(item).toEqual({ left: -12_300n, partner: "OST" });
    expect(await faults()).toEqual([]);
  });
});

describe("batches", () => {
  const detail = (amount: bigint, text: string) => ({
    amount: minor(amount),
    party: { ...NO_PARTY, name: "Ostry Council" },
    keys: NO_KEYS,
    text,
    returnReason: "",
  });
  const parts = () => [detail(40_000n, "ALP-26-R00601"), detail(60_000n, "ALP-26-R00602")];
  const ofBatch = async (statement: string) =>
    (await lines()).filter((l) => l.statement === statement).map((l) => [l.amount, l.state]);

  test("a batch with its parts is matched part by part, and posted so", async () => {
    await owed("ALP-26-R00601", "400.00");
    await owed("ALP-26-R00602", "600.00");
    const batch = { amount: 100_000n, text: "Cards", details: parts() };
    await takeIn(statement("240", 1_012_700n, [batch]));
    expect(await ofBatch("240")).toEqual([
      [40_000n, "certain"],
      [60_000n, "certain"],
    ]);
    const second = (await lines()).filter((l) => l.statement === "240")[1]!;
    expect(must(await getStatementLine(await treasury(), { id: second.id }))).toMatchObject({
      batch: { no: 2, of: 2, amount: "100000", text: "Cards" },
    });
    await post();
    expect([await leftOf("ALP-26-R00601"), await leftOf("ALP-26-R00602")]).toEqual([0n, 0n]);
    expect(await faults()).toEqual([]);
  });

  test.each(["before", "after"])(
    "what a notice says %s the statement opens its line",
    async (when) => {
      const no = when === "before" ? "241" : "242";
      const line = { amount: 100_000n, text: "Cards", keys: { ...NO_KEYS, bank: `B${no}` } };
      const of = (more: object) =>
        statement(no, no === "241" ? 1_112_700n : 1_212_700n, [{ ...line, ...more }]);
      const notice = camt(of({ details: parts() }))
        .replace("camt.053", "camt.054")
        .replaceAll("BkToCstmrStmt", "BkToCstmrDbtCdtNtfctn")
        .replaceAll("Stmt>", "Ntfctn>");
      const give = async () =>
        must(await importStatements(await treasury(), file(`${no}-notice.xml`, notice)));
      if (when === "before")
        expect(await give()).toMatchObject({ lines: 0, notices: 1, opened: 0 });
      const taken = await takeIn(of({}));
      expect(taken.opened).toBe(when === "before" ? 1 : 0);
      if (when === "after") expect((await give()).opened).toBe(1);
      expect((await ofBatch(no)).map(([amount]) => amount)).toEqual([40_000n, 60_000n]);
      const [first] = (await lines()).filter((l) => l.statement === no);
      expect(must(await getStatementLine(await treasury(), { id: first!.id }))).toMatchObject({
        text: "ALP-26-R00601",
        batch: { no: 1, of: 2 },
      });
      expect(await faults()).toEqual([]);
    },
  );
});

test("what a line that is decided takes of an item is not there for the next one", async () => {
  await owed("ALP-26-R00700");
  const of = (no: string, opening: bigint, amount: bigint, text: string) =>
    takeIn(statement(no, opening, [{ amount, text }]));
  await of("250", 1_312_700n, 40_000n, "advance, by phone");
  const first = (await lines()).find((l) => l.statement === "250")!;
  must(await decide(first.id, { takes: [{ item: await itemOf("ALP-26-R00700") }] }));
  await of("251", 1_352_700n, 60_000n, "ALP-26-R00700, rest");
  const second = (await lines()).find((l) => l.statement === "251")!;
  expect(must(await getStatementLine(await treasury(), { id: second.id }))).toMatchObject({
    state: "certain",
    candidates: [{ takes: [{ amount: 60_000n }], rest: 0n }],
  });
  await post();
  expect(await leftOf("ALP-26-R00700")).toBe(0n);
  expect(await faults()).toEqual([]);
});

test("so many lines are matched by a job, which leaves what somebody has decided meanwhile", async () => {
  await owed("ALP-26-R00800");
  const many = Array.from({ length: MATCHED_AT_ONCE }, (_, i) => ({
    amount: BigInt(i + 1),
    text: `nobody's ${i}`,
  }));
  const named = [
    { amount: 100_000n, text: "ALP-26-R00800" },
    { amount: 70_000n, text: "Fee of the year", code: "PMNT-MDOP-CHRG" },
    { amount: -70_000n, text: "Fee of the year", code: "PMNT-MDOP-CHRG" },
  ];
  const taken = await takeIn(statement("260", 1_412_700n, [...named, ...many]));
  expect([taken.lines, taken.certain]).toEqual([MATCHED_AT_ONCE + 3, null]);
  const of = async (amount: bigint) =>
    must(
      await listStatementLines(await treasury(), {
        company: "ALP",
        status: "all",
        text: amount === 100_000n ? "R00800" : "Fee of the year",
      }),
    ).rows.find((l) => l.amount === amount)!;
  expect((await of(100_000n)).state).toBe("unexplained");
  const mine = await of(70_000n);
  must(await decide(mine.id, { coding: { account: "4010", dimensions: { costCentre: "HARB" } } }));
  await workOnAll(w.database);
  expect([
    (await of(100_000n)).state,
    (await of(-70_000n)).state,
    (await of(70_000n)).state,
  ]).toEqual(["certain", "certain", "chosen"]);
  const [job] = await rows<{ state: string; note: string }>(
    w.database.db,
    sql`select state, note from job where kind = 'match-lines'`,
  );
  expect(job).toEqual({ state: "done", note: "" });
});
