import { sql } from "drizzle-orm";
import { beforeAll, describe, expect, test } from "vitest";
import { minor } from "@/core/shared";
import { NO_KEYS, NO_PARTY, type BankStatement } from "@/core/banks/statements";
import { writeCamt053 } from "@/core/banks/statements/writeCamt053";
import { writeMt940 } from "@/core/banks/statements/writeMt940";
import { BANK_OF_ALPHA, callerOf, codes, must, proposalOf } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { rows } from "../../db";
import { documentChain } from "../../documents";
import { createJournal, getJournal } from "../../ledger";
import { savePartner } from "../../partners";
import { makePayment } from "../../payables";
import { postRun, proposeRun, reverseRun } from "../../runs";
import { verify } from "../../verify";
import {
  bankPosition,
  decideLine,
  getStatementLine,
  importStatements,
  listStatementLines,
  saveBankAccount,
  saveLineRule,
  saveMovementKind,
  tryLineRule,
  undoLines,
} from "../index";

const w = world();
const IBAN = "DE02500105170137075030";
const treasury = () => callerOf(w.database, "treasury");
const root = () => callerOf(w.database, "root");

const statement = (
  number: string,
  opening: bigint,
  lines: (Omit<Partial<BankStatement["lines"][number]>, "amount"> & { amount: bigint })[],
): BankStatement => ({
  account: IBAN,
  currency: "EUR",
  number,
  message: `M${number}`,
  opening: { amount: minor(opening), date: "2026-10-05" },
  closing: {
    amount: minor(lines.reduce((t, l) => t + l.amount, opening)),
    date: "2026-10-06",
  },
  from: 1,
  lines: lines.map((l) => ({
    booked: "2026-10-06",
    valued: "2026-10-06",
    takesBack: false,
    code: "PMNT-RCDT-ESCT",
    party: NO_PARTY,
    keys: NO_KEYS,
    text: "",
    returnReason: "",
    details: [],
    from: 1,
    to: 1,
    ...l,
    amount: minor(l.amount),
  })),
});
const file = (name: string, text: string) => ({
  name,
  content: Buffer.from(text).toString("base64"),
});
const camt = (...of: BankStatement[]) => writeCamt053("M1", "2026-10-07T05:00:00Z", of);
const lines = async () =>
  must(await listStatementLines(await treasury(), { company: "ALP", status: "all" })).rows;
const faults = async () => (await verify(w.database.db)).flatMap((c) => c.faults);
const position = async () =>
  must(await bankPosition(await treasury(), { company: "ALP", date: "2026-10-31" })).find(
    (b) => b.code === "MAIN",
  )!;
const decide = async (id: number, more: object) => {
  const { version } = must(await getStatementLine(await treasury(), { id }));
  return decideLine(await treasury(), { id, version, ...more });
};
/** Posts everything that is decided. */
const post = async () => {
  const run = must(
    await proposeRun(await treasury(), {
      kind: "bank-lines",
      params: { company: "ALP", upTo: "2026-10-31" },
    }),
  );
  must(await postRun(await treasury(), { key: String(run.id) }));
  return run;
};
const statusOf = async (id: number) =>
  (
    await rows<{ status: string }>(w.database.db, sql`select status from document where id = ${id}`)
  )[0]!.status;

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

  test("is taken in once, and each line says what it is and why", async () => {
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
    const run = must(
      await proposeRun(await treasury(), {
        kind: "bank-lines",
        params: { company: "ALP", upTo: "2026-10-31" },
      }),
    );
    must(await postRun(await treasury(), { key: String(run.id) }));
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
    expect(await faults()).toEqual([]);
    expect((await lines()).map((l) => l.state)).toEqual([
      ...Array<string>(3).fill("certain"),
      "chosen",
      "chosen",
    ]);

    const second = must(
      await proposeRun(await treasury(), {
        kind: "bank-lines",
        params: { company: "ALP", upTo: "2026-10-31" },
      }),
    );
    must(await postRun(await treasury(), { key: String(second.id) }));
    expect(await statusOf(paid.id)).toBe("cleared");
    expect(await faults()).toEqual([]);
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
    must(await decide(line.id, { takes, kind: "CHARGE" }));
    const run = must(
      await proposeRun(await treasury(), {
        kind: "bank-lines",
        params: { company: "ALP", upTo: "2026-10-31" },
      }),
    );
    must(await postRun(await treasury(), { key: String(run.id) }));
    expect(await leftOf("ALP-26-R00550")).toBe(0n);
    expect(await faults()).toEqual([]);
  });

  test("money between own accounts is paired, goes over money under way, and is nil when both are posted", async () => {
    const OTHER = "DE75512108001245126199";
    must(
      await saveBankAccount(await root(), {
        ...BANK_OF_ALPHA,
        code: "SAVE",
        name: "Deposits",
        account: "1111",
        iban: OTHER,
      }),
    );
    const to = (account: string) => ({ party: { ...NO_PARTY, account } });
    const sends = statement("230", 0n, [{ amount: -50_000n, ...to(OTHER), text: "To deposits" }]);
    must(await importStatements(await treasury(), file("sends.xml", camt(sends))));
    const sent = (await lines()).find((l) => l.amount === -50_000n)!;
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
    const gets = { ...statement("1", 0n, [{ amount: 50_000n, ...to(IBAN) }]), account: OTHER };
    must(await importStatements(await treasury(), file("gets.xml", camt(gets))));
    const got = (await lines()).find((l) => l.bank === "SAVE" && l.amount === 50_000n)!;
    expect(got.state).toBe("certain");
    await post();
    expect((await position()).underWay).toEqual([]);
    // Both on one day: each is certain by the other, and one run posts both.
    const there = statement("231", -50_000n, [{ amount: -700n, ...to(OTHER) }]);
    const here = { ...statement("2", 50_000n, [{ amount: 700n }]), account: OTHER };
    must(await importStatements(await treasury(), file("both.xml", camt(there, here))));
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
    must(await importStatements(await treasury(), file("rule.xml", camt(again))));
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

  test("what comes back opens what the payment had settled, with the bank's reason, and the books stand", async () => {
    const made = await Promise.all(
      ["75.00", "25.00"].map(async (amount) =>
        must(
          await makePayment(await callerOf(w.database, "payables"), {
            company: "ALP",
            bank: "MAIN",
            date: "2026-10-05",
            supplier: "PEL",
            currency: "EUR",
            lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, amount }],
          }),
        ),
      ),
    );
    const [back, stays] = made as [(typeof made)[0], (typeof made)[0]];
    const clearing = statement("218", 0n, [
      { amount: -10_000n, text: `${back.number} ${stays.number}` },
    ]);
    must(await importStatements(await treasury(), file("out.xml", camt(clearing))));
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
    must(await importStatements(await treasury(), file("back.xml", camt(coming))));
    const line = (await lines()).find((l) => l.amount === 7_500n)!;
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
    const again = (await lines()).find((l) => l.amount === 7_500n)!;
    expect(again.state).not.toBe("unexplained");
    const { candidates } = must(await getStatementLine(await treasury(), { id: again.id }));
    if (again.state !== "certain")
      must(await decide(again.id, { takes: [{ item: candidates[0]!.takes[0]!.item!.id }] }));
    await post();
    expect((await position()).underWay).toEqual([]);
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
