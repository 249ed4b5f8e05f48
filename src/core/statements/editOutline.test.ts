import { describe, expect, test } from "vitest";
import { ferryOutlines } from "../../demo/ferryOutlines";
import { putLine, rangesText, removeLine, type WrittenLine } from "./index";

const income = ferryOutlines().find((o) => o.code === "income-statement")!;
const written = (over: Partial<WrittenLine> = {}): WrittenLine => ({
  code: "mooring",
  label: "Mooring",
  level: 1,
  kind: "accounts",
  ranges: "6500-6549, 6590",
  of: "",
  positive: "credit",
  rule: "",
  ...over,
});

describe("putLine", () => {
  test("a new line stands where it was put, and says its ranges as they were written", () => {
    const result = putLine(income, written(), "fuel");
    if (!result.ok) throw new Error(JSON.stringify(result.problems));
    const at = result.value.findIndex((l) => l.code === "mooring");
    expect(result.value[at - 1]!.code).toBe("fuel");
    expect(rangesText(result.value[at]!)).toBe("6500-6549, 6590");
    expect(result.value).toHaveLength(income.lines.length + 1);
  });
  test("a line that is there keeps its place unless it is moved", () => {
    const fuel = written({ code: "fuel", label: "Fuel and lubricants", ranges: "5000-5199" });
    const kept = putLine(income, fuel, null);
    expect(kept.ok && kept.value.map((l) => l.code)).toEqual(income.lines.map((l) => l.code));
    const first = putLine(income, fuel, "");
    expect(first.ok && first.value[0]!.label).toBe("Fuel and lubricants");
  });
  test.each([
    ["a range the wrong way round", written({ ranges: "5199-5000" }), "ranges"],
    ["a range that is none", written({ ranges: "5000 to 5100" }), "ranges"],
    ["no range", written({ ranges: " , " }), "ranges"],
    ["a total of nothing", written({ kind: "total" }), "of"],
    ["a total of a line that is not there", written({ kind: "total", of: "fuel, fuell" }), "of"],
    [
      "a total that contains itself through another",
      written({ code: "revenue", kind: "total", of: "gross-profit" }),
      "of",
    ],
    [
      "a computed line of the balance sheet in an income statement",
      written({ kind: "result" }),
      "kind",
    ],
    ["a place after no line", written(), "after"],
  ])("%s is refused at its field", (name, line, field) => {
    const result = putLine(income, line, name.startsWith("a place") ? "nowhere" : null);
    expect(result.ok ? [] : result.problems.map((p) => p.field)).toEqual([field]);
  });
});

test("a line that a total adds up stays; another can go", () => {
  expect(removeLine(income, "fuel")).toMatchObject({ ok: false, problems: [{ code: "IN_USE" }] });
  expect(removeLine(income, "nothing")).toMatchObject({
    ok: false,
    problems: [{ code: "NOT_FOUND" }],
  });
  const result = removeLine(income, "result");
  expect(result.ok && result.value.length).toBe(income.lines.length - 1);
});
