import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  applyChanges,
  blockText,
  deleteRows,
  insertRows,
  pasteChanges,
  readBlock,
  redo,
  startHistory,
  step,
  undo,
  type GridRow,
  moveWithRows,
} from "./gridModel";

describe("the entry grid", () => {
  test("a block that is copied is read back cell by cell, also with tabs, line ends and quotes in it", () => {
    const text = fc.string({
      unit: fc.constantFrom("a", "1", " x", "\t", "\n", '"', ",", "é"),
      maxLength: 6,
    });
    fc.assert(
      fc.property(fc.array(fc.tuple(text, text), { minLength: 1, maxLength: 5 }), (cells) => {
        const rows: GridRow[] = cells.map(([a, b]) => ({ a, b }));
        const last = rows.at(-1)!;
        // A clipboard ends with a line end that belongs to no cell; a last cell that is itself one
        // would be taken for it.
        fc.pre(!/\n$/.test(last.b ?? "") || /["\t]/.test(last.b ?? ""));
        expect(
          readBlock(
            blockText(
              rows,
              { row: 0, column: 0 },
              { row: rows.length - 1, column: 1 },
              ["a", "b"],
              (key, row) => row?.[key] ?? "",
            ),
          ),
        ).toEqual(cells.map(([a, b]) => [a, b]));
      }),
    );
  });
  test("a single value fills a selection; a block lands from its corner and is cut at the last column", () => {
    expect(
      pasteChanges([["x"]], { row: 1, column: 0 }, ["a", "b"], { rows: 2, columns: 2 }),
    ).toHaveLength(4);
    expect(
      pasteChanges(
        [
          ["1", "2", "3"],
          ["4", "5", "6"],
        ],
        { row: 3, column: 1 },
        ["a", "b"],
        { rows: 1, columns: 1 },
      ),
    ).toEqual([
      { row: 3, key: "b", value: "1" },
      { row: 4, key: "b", value: "4" },
    ]);
  });
  test("undo takes every step back and redo forward again, whatever was done", () => {
    const act = fc.oneof(
      fc.record({
        kind: fc.constant("set" as const),
        row: fc.integer({ min: 0, max: 6 }),
        value: fc.string({ maxLength: 3 }),
      }),
      fc.record({
        kind: fc.constant("insert" as const),
        row: fc.integer({ min: 0, max: 3 }),
        value: fc.constant(""),
      }),
      fc.record({
        kind: fc.constant("delete" as const),
        row: fc.integer({ min: 0, max: 3 }),
        value: fc.constant(""),
      }),
    );
    fc.assert(
      fc.property(fc.array(act, { maxLength: 30 }), (acts) => {
        let history = startHistory([{ a: "1" }]);
        const seen = [history.rows];
        for (const a of acts) {
          const next =
            a.kind === "set"
              ? applyChanges(history.rows, [{ row: a.row, key: "a", value: a.value }])
              : a.kind === "insert"
                ? insertRows(history.rows, a.row)
                : deleteRows(history.rows, a.row, a.row);
          if (next !== history.rows) seen.push(next);
          history = step(history, next);
        }
        for (let i = seen.length - 2; i >= 0; i--)
          expect((history = undo(history)).rows).toEqual(seen[i]);
        expect(undo(history)).toBe(history);
        for (let i = 1; i < seen.length; i++)
          expect((history = redo(history)).rows).toEqual(seen[i]);
      }),
    );
  });
});

test("problems stay with their rows: after a deletion the next one is where its row went, and a deleted row has none", () => {
  const row = (account: string): GridRow => ({ account });
  const [a, bad, c, worse, e] = ["1", "x", "3", "y", "5"].map(row) as [
    GridRow,
    GridRow,
    GridRow,
    GridRow,
    GridRow,
  ];
  const checked = [a, bad, c, worse, e];
  const found = new Map([
    ["1:account", "no x"],
    ["3:account", "no y"],
  ]);
  const keys = (rows: readonly GridRow[]) => [...moveWithRows(found, checked, rows)];
  expect(keys(checked)).toEqual([...found]);
  expect(keys(deleteRows(checked, 1, 1))).toEqual([["2:account", "no y"]]);
  expect(keys(insertRows(checked, 0))).toEqual([
    ["2:account", "no x"],
    ["4:account", "no y"],
  ]);
  // Written in: the same place, until a check says otherwise.
  expect(keys([a, row("z"), c, worse, e])).toEqual([...found]);
  expect(keys(deleteRows([a, row("z"), c, worse, e], 0, 0))).toEqual([["2:account", "no y"]]);
});
