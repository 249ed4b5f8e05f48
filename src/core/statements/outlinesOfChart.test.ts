import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { starterChart, type Account, type Chart, type Heading } from "../ledger";
import { ferryChart } from "../../demo/ferryChart";
import { catchAccounts, outlinesOfChart } from "./index";

function given(chart: Chart): { headings: Heading[]; accounts: Account[] } {
  const id = new Map(chart.headings.map((h, i) => [h.code, i + 1]));
  return {
    headings: chart.headings.map((h, i) => ({
      id: i + 1,
      code: h.code,
      name: h.name,
      parentId: h.parent === null ? null : id.get(h.parent)!,
      sort: i,
    })),
    accounts: chart.accounts.map((a, i) => ({
      ...a,
      id: i + 1,
      headingId: id.get(a.heading)!,
      blocked: false,
      usedBy: null,
      rules: {},
    })),
  };
}
const caught = ({ headings, accounts }: ReturnType<typeof given>) =>
  outlinesOfChart(headings, accounts).flatMap((o) => {
    const { uncaught, caughtTwice } = catchAccounts(o, accounts);
    return [...uncaught, ...caughtTwice].map((a) => a.number);
  });

describe("statements made of a chart's headings", () => {
  test("catch every account once: charts that come with the program, and any other", () => {
    expect(caught(given(starterChart()))).toEqual([]);
    expect(caught(given(ferryChart()))).toEqual([]);
    const types = ["asset", "liability", "equity", "income", "expense", "units"] as const;
    fc.assert(
      fc.property(
        fc.array(fc.nat(7), { minLength: 1, maxLength: 8 }),
        fc.uniqueArray(fc.tuple(fc.integer({ min: 1000, max: 9999 }), fc.nat(7), fc.nat(5)), {
          selector: ([number]) => number,
          maxLength: 60,
        }),
        (parents, list) => {
          const headings: Heading[] = parents.map((p, i) => ({
            id: i + 1,
            code: `H${i}`,
            name: `Heading ${i}`,
            parentId: p < i ? p + 1 : null,
            sort: i,
          }));
          const accounts: Account[] = list.map(([number, h, t], i) => ({
            id: i + 1,
            number: String(number),
            name: "x",
            type: types[t]!,
            control: null,
            monetary: false,
            headingId: (h % headings.length) + 1,
            blocked: false,
            usedBy: null,
            rules: {},
          }));
          expect(caught({ headings, accounts })).toEqual([]);
        },
      ),
      { numRuns: 300 },
    );
  });

  test("a line for each heading of the second level, a total for each of the first", () => {
    const [income] = outlinesOfChart(
      ...(Object.values(given(starterChart())) as [Heading[], Account[]]),
    );
    const labels = income!.lines.map((l) => `${l.kind === "total" ? "= " : ""}${l.label}`);
    expect(labels.slice(0, 3)).toEqual(["Revenue", "Other operating income", "= Income"]);
    expect(labels.at(-1)).toBe("= Result for the period");
  });
});
