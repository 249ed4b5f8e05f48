import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { addDays, minor } from "../../shared";
import { readCamt } from "../statements/camt";
import { readMt940 } from "../statements/mt940";
import { writeCamt053 } from "../statements/writeCamt053";
import { proposeReading, statementOfTable } from "../statements/table";
import { writeMovements } from "../statements/writeMovements";
import { writeMt940 } from "../statements/writeMt940";
import { bankDay, refusedOn, type BankDayFacts, type SentPayment } from "./index";

const payment = (n: number, more: Partial<SentPayment> = {}): SentPayment => ({
  number: `ALP-26-P${n}`,
  payee: `Payee ${n}`,
  amount: minor(100n + BigInt(n)),
  date: "2026-11-04",
  cheque: "",
  file: "",
  ...more,
});
const facts = (more: Partial<BankDayFacts> = {}): BankDayFacts => ({
  account: "DE02500105170137075030",
  kind: "current",
  currency: "EUR",
  number: "12",
  from: "2026-11-04",
  opening: minor(50_000n),
  day: "2026-11-05",
  sent: [],
  executed: [],
  owed: [],
  ...more,
});
const amounts = (of: BankDayFacts) => bankDay(of).lines.map((l) => l.amount);

describe("a day at the simulated bank", () => {
  test("executes what is due, and presents a cheque two days after it was written", () => {
    const sent = [
      payment(1),
      payment(2, { date: "2026-11-06" }),
      payment(3, { cheque: "1001" }),
      payment(4, { cheque: "1002", date: "2026-11-03" }),
    ];
    const { lines, closing } = bankDay(facts({ sent }));
    expect(lines.map((l) => [l.amount, l.keys.endToEnd, l.keys.cheque])).toEqual([
      [-101n, "ALP-26-P1", ""],
      [-104n, "", "1002"],
    ]);
    expect(closing).toEqual({ amount: 50_000n - 205n, date: "2026-11-05" });
  });

  test("what is promised comes on the day it was promised for, as far as it was promised; some of it weeks later", () => {
    const owed = Array.from({ length: 30 }, (_, n) => ({
      reference: `ALP-26-S${100 + n}`,
      left: minor(1_000n),
      name: "Ostry",
      due: "2026-10-01",
      promised: { due: "2026-11-05", amount: minor(n < 15 ? 400n : 2_000n) },
    }));
    const paid = (from: string, day: string) => bankDay(facts({ owed, from, day })).lines;
    const before = paid("2026-11-01", "2026-11-04");
    const kept = paid("2026-11-04", "2026-11-05");
    const later = paid("2026-11-05", "2026-11-30");
    expect(before).toEqual([]);
    expect(kept.length).toBeGreaterThan(later.length);
    expect(later.length).toBeGreaterThan(0);
    expect([...kept, ...later].map((l) => l.text).sort()).toEqual(owed.map((o) => o.reference));
    for (const l of kept) expect(l.amount).toBe(l.text < "ALP-26-S115" ? 400n : 1_000n);
  });

  test("credits what was handed in from its day on", () => {
    const handedIn = [
      { text: "DEPOSIT ALP-26-D00001", amount: minor(700n), from: "2026-11-05" },
      { text: "BILL W-10077", amount: minor(900n), from: "2026-11-06" },
    ];
    const of = (day: string) => bankDay(facts({ handedIn, day })).lines.map((l) => l.text);
    expect(of("2026-11-05")).toEqual(["DEPOSIT ALP-26-D00001"]);
    expect(of("2026-11-06")).toEqual(["DEPOSIT ALP-26-D00001", "BILL W-10077"]);
  });

  test("as a table, its headings are understood, and the movements and the balance are the same", () => {
    const of = bankDay(facts({ sent: [payment(1), payment(3)], from: "2026-10-31" }));
    const cells = writeMovements(of)
      .split("\r\n")
      .map((row) => row.split(";"));
    const proposed = proposeReading(cells)!;
    const { account, currency, opening } = of;
    const last = { date: opening.date, closing: opening.amount };
    const read = statementOfTable(cells, proposed.reading, {
      ...{ account, currency, last, taken: new Set<string>(), opening: null },
    });
    if ("faults" in read) throw new Error(JSON.stringify(read.faults));
    expect(read.statement.closing).toEqual(of.closing);
    expect(read.statement.lines.map((l) => [l.amount, l.party.name])).toEqual(
      of.lines.map((l) => [l.amount, l.party.name]),
    );
    expect(proposed.doubts).toEqual([]);
  });

  test("returns some of the cheques that it credited, with a charge, and the same ones each time", () => {
    const credited = Array.from({ length: 200 }, (_, i) => ({
      cheque: String(880_000 + i),
      payer: "Eider Down",
      slip: "ALP-26-D00001",
      amount: minor(1_000n),
    }));
    const { lines } = bankDay(facts({ credited }));
    const unpaid = lines.filter((l) => l.amount === -1_000n);
    expect(unpaid.length).toBeGreaterThan(5);
    expect(unpaid.length).toBeLessThan(60);
    expect(unpaid.every((l) => l.keys.cheque !== "")).toBe(true);
    expect(lines.filter((l) => l.amount === -750n)).toHaveLength(unpaid.length);
    expect(bankDay(facts({ credited })).lines).toEqual(lines);
  });

  test("credits direct debits block by block on their day, with their parts, and brings some back", () => {
    const debits = Array.from({ length: 60 }, (_, n) => ({
      number: `ALP-26-C${100 + n}`,
      payer: "Ostry",
      account: "DE75512108001245126199",
      mandate: `M-${n}`,
      amount: minor(1_000n + BigInt(n)),
      block: n < 40 ? "R1-CORE-FRST" : "R1-CORE-RCUR",
      date: n === 59 ? "2026-11-06" : "2026-11-05",
    }));
    const of = facts({ debits });
    const { lines } = bankDay(of);
    expect(lines.map((l) => [l.details.length, l.keys.endToEnd])).toEqual([
      [40, "R1-CORE-FRST"],
      [19, "R1-CORE-RCUR"],
    ]);
    const read = readCamt(writeCamt053("M", "2026-11-05T05:00:00Z", [bankDay(of)]));
    expect(
      "statements" in read && read.statements[0]!.lines[0]!.details.map((d) => d.keys.endToEnd),
    ).toEqual(debits.slice(0, 40).map((d) => d.number));
    const back = bankDay(facts({ debited: debits })).lines.filter((l) => l.returnReason !== "");
    expect(back.length).toBeGreaterThan(3);
    expect(back.length).toBeLessThan(30);
    expect(back.every((l) => l.amount < -900n && l.keys.endToEnd !== "")).toBe(true);
  });

  test("brings some transfers back the day after, with a reason, and no cheque", () => {
    const executed = Array.from({ length: 300 }, (_, n) => payment(n));
    const back = bankDay(facts({ executed })).lines;
    expect(back.length).toBeGreaterThan(2);
    expect(back.length).toBeLessThan(30);
    for (const l of back)
      expect([l.amount > 0n, /^AC0/.test(l.returnReason)]).toEqual([true, true]);
    const cheques = executed.map((p) => ({ ...p, cheque: "7" }));
    expect(bankDay(facts({ executed: cheques })).lines).toEqual([]);
  });

  test("refuses some transfers that came in a file, with a reason, and executes the others", () => {
    const sent = Array.from({ length: 300 }, (_, n) => payment(n, { file: "PR-1" }));
    const refused = refusedOn(sent, "2026-11-05").map((r) => r.payment.number);
    expect(refused.length).toBeGreaterThan(3);
    expect(refused.length).toBeLessThan(40);
    const done = bankDay(facts({ sent })).lines.map((l) => l.keys.endToEnd);
    expect([...done, ...refused].sort()).toEqual(sent.map((p) => p.number).sort());
    expect(refusedOn(sent, "2026-11-03")).toEqual([]);
    expect(
      refusedOn(
        sent.map((p) => ({ ...p, file: "" })),
        "2026-11-05",
      ),
    ).toEqual([]);
  });

  test("takes its fee once a month, and pays interest on a deposit", () => {
    const turn = { from: "2026-10-31", day: "2026-11-02" };
    expect(amounts(facts(turn))).toEqual([-1_850n]);
    expect(amounts(facts({ ...turn, kind: "deposit", opening: minor(1_200_000n) }))).toEqual([
      -1_850n,
      1_500n,
    ]);
    expect(amounts(facts({ from: "2026-11-02", day: "2026-11-03" }))).toEqual([]);
  });

  test("pays each item once at most, however the days are cut", () => {
    const owed = Array.from({ length: 60 }, (_, n) => ({
      reference: `R-${n}`,
      left: minor(1_000n + BigInt(n)),
      name: "Ostry Council",
      due: addDays("2026-10-20", n % 20),
    }));
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 6 }), { maxLength: 12 }), (steps) => {
        let from = "2026-10-25";
        const whole = addDays(
          from,
          steps.reduce((t, s) => t + s, 0),
        );
        const cut: string[] = [];
        for (const step of steps) {
          const day = addDays(from, step);
          cut.push(...texts({ from, day, owed }));
          from = day;
        }
        expect(cut.sort()).toEqual(
          steps.length === 0 ? [] : texts({ from: "2026-10-25", day: whole, owed }).sort(),
        );
      }),
    );
  });

  test("what it hands out is read back as it was, in either format", () => {
    const owed = [{ reference: "R-1", left: minor(77n), name: "Ostry Council", due: "2026-10-28" }];
    const of = bankDay(
      facts({ from: "2026-10-20", sent: [payment(1)], executed: [payment(8)], owed }),
    );
    const kept = of.lines.map((l) => [l.amount, l.keys.endToEnd, l.returnReason]);
    for (const read of [
      readCamt(writeCamt053("M", "2026-11-05T05:00:00Z", [of])),
      readMt940(writeMt940("M", [of])),
    ])
      expect(
        "statements" in read &&
          read.statements[0]!.lines.map((l) => [l.amount, l.keys.endToEnd, l.returnReason]),
      ).toEqual(kept);
  });
});

const texts = (more: Partial<BankDayFacts>): string[] =>
  bankDay(facts(more))
    .lines.filter((l) => l.code === "PMNT-RCDT-ESCT")
    .map((l) => `${l.amount} ${l.text}`);
