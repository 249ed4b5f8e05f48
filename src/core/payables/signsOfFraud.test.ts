import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import { signsOfFraud, type SupplierPast } from "./signsOfFraud";

const limit = { minimum: minor(1_000_000n), currency: "EUR" };
const signs = (number: string, total: bigint, past: Partial<SupplierPast> = {}, currency = "EUR") =>
  signsOfFraud(
    { number, total: minor(total), currency },
    { supplier: "Tarn Rope", numbers: [], totals: [], newAccounts: [], ...past },
    limit,
  ).map((s) => s.split(" ").slice(0, 4).join(" "));
const series = ["R-2026-118", "R-2026-97", "R-2026-84", "R-2026-71", "R-2025-9"];
const below = [minor(950_000n), minor(999_999n)];

describe("signs of fraud on a supplier's invoice", () => {
  test.each([
    ["the next of the series", "R-2026-130", series, []],
    ["another series", "2026/130", series, ["Number 2026/130 is unlike"]],
    ["letters where there were none", "R-2026-13B", series, ["Number R-2026-13B is unlike"]],
    ["too few to know", "2026/130", series.slice(1), []],
    ["a supplier of several series", "X1", [...series, "88"], []],
    ["no number yet", " ", series, []],
  ])("%s", (_name, number, numbers, found) =>
    expect(signs(number, 100n, { numbers })).toEqual(found),
  );

  test.each([
    ["the third just below it", 999_999n, below, ["The total is just"]],
    ["the second", 999_999n, below.slice(1), []],
    ["at the limit it is approved anyway", 1_000_000n, below, []],
    ["five per cent below still counts", 950_000n, below, ["The total is just"]],
    ["more than that does not", 949_999n, below, []],
  ])("below an approval limit: %s", (_name, total, totals, found) =>
    expect(signs("1", total, { totals })).toEqual(found),
  );

  test("a limit in another currency says nothing", () =>
    expect(signs("1", 999_999n, { totals: below }, "USD")).toEqual([]));

  test("details that nobody has paid to", () =>
    expect(
      signs("1", 5n, { newAccounts: [{ account: "DE02 1203", since: "12 Nov 2026" }] }),
    ).toEqual(["Nothing has been paid"]));
});
