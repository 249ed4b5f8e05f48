import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { fitColumns } from "./fitColumns";

const column = fc.record(
  {
    width: fc.integer({ min: 60, max: 300 }),
    align: fc.constant("right" as const),
  },
  { requiredKeys: [] },
);

const AMOUNTS = (n: number) => Array.from({ length: n }, () => ({ align: "right" as const }));

describe("columns in the room there is", () => {
  test("keep their widths where there is enough, and give way to fit exactly where giving way is enough", () => {
    fc.assert(
      fc.property(
        fc.array(column, { minLength: 1 }),
        fc.integer({ min: 200, max: 2000 }),
        (columns, room) => {
          const wanted = columns.reduce((w, c) => w + (c.width ?? 160), 0);
          const fitted = fitColumns(columns, room);
          const widths = fitted.map((f, i) => f.width ?? columns[i]!.width ?? 160);
          if (wanted <= room)
            expect(fitted.map((f) => f.width)).toEqual(columns.map((c) => c.width));
          else {
            const least = fitColumns(columns, 1).map((f) => f.width!);
            const fits = least.reduce((a, b) => a + b, 0) <= room;
            // Where giving way is enough, all of it is in sight and nothing is pinned.
            if (fits) expect(widths.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(room);
            if (fits) expect(fitted.every((f) => f.pinned === undefined)).toBe(true);
            expect(widths.every((w, i) => w >= least[i]!)).toBe(true);
          }
          // An amount is never cut to less than ten digits take.
          columns.forEach((c, i) => {
            if (c.align) expect(widths[i]).toBeGreaterThanOrEqual(Math.min(c.width ?? 160, 108));
          });
        },
      ),
      // Half a pixel of a text is no reason to scroll.
      {
        examples: [
          [[{ width: 293 }, ...AMOUNTS(3), { width: 65, ...AMOUNTS(1)[0] }, ...AMOUNTS(1)], 643],
        ],
      },
    );
  });

  test("that don't fit at all scroll below the amounts at the right end, which stay in sight", () => {
    const columns = [
      { width: 96 },
      {},
      ...[1, 2, 3, 4, 5].map(() => ({ width: 124, align: "right" as const })),
    ];
    const fitted = fitColumns(columns, 500);
    expect(fitted.map((f) => f.pinned)).toEqual([
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
      undefined,
      0,
    ]);
  });

  test("whose room is not known are left as they are", () =>
    expect(fitColumns([{ width: 400 }], null)).toEqual([{ width: 400, pinned: undefined }]));
});
