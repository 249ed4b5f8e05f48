import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { statement } from "../../../../tests/bankDay";
import { minor } from "../../shared";
import { linesOfNotices, NO_KEYS, NO_PARTY, openBatches } from "./index";

const detail = (amount: bigint | null) => ({
  amount: amount === null ? null : minor(amount),
  party: { ...NO_PARTY, name: `from ${amount}` },
  keys: NO_KEYS,
  text: "",
  returnReason: "",
});

describe("batches", () => {
  test("whatever the bank says of parts, lines come to the same, and only whole batches are opened", () => {
    const amounts = fc.array(fc.option(fc.bigInt(-500n, 500n)), { maxLength: 4 });
    fc.assert(
      fc.property(fc.array(fc.tuple(amounts, fc.bigInt(-3n, 3n)), { maxLength: 4 }), (of) => {
        const { lines } = statement(
          "1",
          0n,
          of.map(([parts, more]) => ({
            amount: parts.reduce((t: bigint, p) => t + (p ?? 0n), more),
            details: parts.map(detail),
          })),
        );
        const opened = openBatches(lines);
        const sum = (all: readonly { amount: bigint }[]) => all.reduce((t, l) => t + l.amount, 0n);
        expect(sum(opened)).toBe(sum(lines));
        for (const [i, [parts, more]] of of.entries()) {
          const isWhole =
            parts.length > 1 && more === 0n && parts.every((p) => p !== null && p !== 0n);
          const own = opened.filter((l) => l.batch === null && l.amount === lines[i]!.amount);
          if (!isWhole) expect(own.length).toBeGreaterThan(0);
        }
        const parts = of.filter(
          ([p, more]) => p.length > 1 && more === 0n && p.every((x) => x !== null && x !== 0n),
        );
        expect(opened.filter((l) => l.batch).length).toBe(
          parts.reduce((t, [p]) => t + p.length, 0),
        );
      }),
    );
  });

  const at = (id: number, amount: bigint, booked: string, bank = "") => ({
    id,
    amount,
    booked,
    bank,
  });
  test.each([
    [
      "the bank's reference decides among equal amounts",
      [at(1, 5n, "2026-11-03", "A"), at(2, 5n, "2026-11-03", "B")],
      [at(9, 5n, "2026-11-03", "B")],
      [[2, 9]],
    ],
    [
      "without one, the only line of amount and day",
      [at(1, 5n, "2026-11-03"), at(2, 5n, "2026-11-04")],
      [at(9, 5n, "2026-11-04", "B")],
      [[2, 9]],
    ],
    [
      "two that could be it: none",
      [at(1, 5n, "2026-11-03"), at(2, 5n, "2026-11-03")],
      [at(9, 5n, "2026-11-03")],
      [],
    ],
    [
      "two notices for one line: none",
      [at(1, 5n, "2026-11-03")],
      [at(8, 5n, "2026-11-03"), at(9, 5n, "2026-11-03")],
      [],
    ],
    ["another reference: none", [at(1, 5n, "2026-11-03", "A")], [at(9, 5n, "2026-11-03", "B")], []],
  ])("a notice and its line: %s", (_name, lines, notices, pairs) => {
    expect([...linesOfNotices(lines, notices)]).toEqual(pairs);
  });
});
