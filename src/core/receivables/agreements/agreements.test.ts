import { describe, expect, test } from "vitest";
import { saleInput } from "../saleInput";
import { agreementSale, indexedPrice, indexMove, type Agreement } from "./index";

const agreement: Agreement = {
  name: "Berth 4",
  rhythm: { every: 1, unit: "month", first: "2026-01-31", until: "" },
  clause: { index: "CPI", base: "120.0", least: "2" },
  sale: saleInput({
    customer: "C-201",
    description: "Berth dues {month} {yyyy}",
    lines: [
      { account: "4210", quantity: "2", price: "250.00", net: "500.00", description: "{mm}/{n}" },
      { account: "4210", net: "1,000.00", description: "Water" },
    ],
  }),
};
const VALUES = [
  { from: "2026-07-01", value: "124.8" },
  { from: "2026-01-01", value: "120.0" },
  { from: "2026-04-01", value: "122.0" },
];

describe("an agreement", () => {
  test("says its month and number, and its prices follow the index once it has moved enough (worked example)", () => {
    // Until June 1.67 %: less than 2 %. From July 124.8 / 120 = 4 %.
    const june = indexMove(agreement.clause, VALUES, "2026-06-30");
    expect(june).toEqual({ value: "122.0", since: "2026-04-01", percent: "1.67", follows: false });
    const july = indexMove(agreement.clause, VALUES, "2026-07-31");
    expect(july).toMatchObject({ percent: "4.00", follows: true });
    const of = (date: string, move: typeof june) => {
      const { description, lines } = agreementSale(agreement, date, move, "EUR");
      return [description, ...lines.map((l) => [l.description, l.price, l.net])];
    };
    expect(of("2026-06-30", june)).toEqual([
      "Berth dues June 2026",
      ["06/6", "250.00", ""],
      ["Water", "", "1,000.00"],
    ]);
    expect(of("2026-07-31", july)).toEqual([
      "Berth dues July 2026",
      ["07/7", "260.00", ""],
      ["Water", "", "1040.00"],
    ]);
    expect(indexMove(agreement.clause, VALUES, "2025-12-31")).toBeNull();
  });
  test("prices keep their decimals, or those of their currency, and fall with the index", () => {
    expect(indexedPrice("0.125", "110", "100", "EUR")).toBe("0.138");
    expect(indexedPrice("1,000", "99.99", "100", "JPY")).toBe("1000");
    expect(indexedPrice("7", "95", "100", "EUR")).toBe("6.65");
  });
});
