import fc from "fast-check";
import { expect, test } from "vitest";
import {
  amountOf,
  amountOfPart,
  byPeriod,
  cellsByAccount,
  decodeTrace,
  encodeTrace,
  partsOf,
  type Cell,
  type Part,
  type TraceNode,
} from "./index";

const cell = fc.record({
  yearId: fc.constantFrom(1, 2),
  periodNo: fc.integer({ min: 1, max: 13 }),
  closing: fc.boolean(),
  accountId: fc.integer({ min: 1, max: 5 }),
  debit: fc.bigInt({ min: -1000n, max: 1000n }),
  credit: fc.bigInt({ min: -1000n, max: 1000n }),
});
const part = fc.record({
  accountId: fc.integer({ min: 1, max: 5 }),
  spans: fc.array(
    fc.record({
      yearId: fc.constantFrom(1, 2),
      from: fc.constant(1),
      to: fc.integer({ min: 1, max: 13 }),
      withClosing: fc.boolean(),
    }),
    { minLength: 1, maxLength: 1 },
  ),
  measure: fc.constantFrom("net" as const, "debit" as const, "credit" as const),
  sign: fc.constantFrom(1 as const, -1 as const),
});

test("a figure is the sum of its parts to the cent, at every step down", () => {
  const { node } = fc.letrec<{ node: TraceNode }>((tie) => ({
    node: fc.oneof(
      { depthSize: "small" },
      fc.record({
        key: fc.string(),
        label: fc.string(),
        parts: fc.array(part, { maxLength: 4 }) as fc.Arbitrary<Part[]>,
      }),
      fc.record({
        key: fc.string(),
        label: fc.string(),
        children: fc.array(tie("node"), { maxLength: 3 }),
      }),
    ),
  }));
  fc.assert(
    fc.property(node, fc.array(cell, { maxLength: 60 }) as fc.Arbitrary<Cell[]>, (tree, cells) => {
      const map = cellsByAccount(cells);
      const total = amountOf(tree, map);
      expect(partsOf(tree).reduce((t, p) => t + amountOfPart(p, map), 0n)).toBe(total);
      for (const p of partsOf(tree))
        expect(byPeriod(p, map).reduce((t, m) => t + m.amount, 0n)).toBe(amountOfPart(p, map));
      if (tree.children)
        expect(tree.children.reduce((t, c) => t + amountOf(c, map), 0n)).toBe(total);
    }),
  );
});

test("an address holds a trace and gives it back; anything else is refused", () => {
  const traces = [
    {
      ref: {
        kind: "statement",
        code: "income-statement",
        line: "fuel",
        column: "ytd",
        layout: "months",
      },
      path: ["a.5010", "p.2026-10", "j.77"],
    },
    { ref: { kind: "balance", of: "total", code: "", measure: "closing" }, path: [] },
    { ref: { kind: "month", account: "5010", period: "2026-10", measure: "debit" }, path: ["j.1"] },
    { ref: { kind: "journal", id: 12 }, path: [] },
  ] as const;
  for (const t of traces) expect(decodeTrace(encodeTrace(t))).toEqual(t);
  fc.assert(fc.property(fc.string({ maxLength: 80 }), (text) => void decodeTrace(text)));
  for (const bad of ["", "x!1", "j!abc", "b!account!1!sideways", "s!a".repeat(1000)])
    expect(decodeTrace(bad)).toBeNull();
});
