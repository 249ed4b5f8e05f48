import { expect, test } from "vitest";
import { paperLineSchema } from "./paperInput";
import { priceText } from "./price";
import { againstItem, proposedBy, withItem, type TradeItem } from "./item";

const BERTH: TradeItem = {
  code: "BERTH",
  name: "Visitor berth",
  kind: "service",
  group: "",
  unit: "night",
  account: "4210",
  dimensions: { costCentre: "HARB", vessel: "" },
  taxCode: "V13",
  price: "31.00",
  currency: "",
  blocked: false,
};
const line = (more: object) => ({
  ...paperLineSchema.cast({}),
  item: "BERTH",
  unit: "",
  price: "",
  ...more,
});
const EURO = { currency: "EUR", functional: "EUR", gross: false };
const filled = (more: object, document = EURO, item = BERTH) =>
  withItem(line(more), proposedBy(item, document));

test("an item fills in what a line leaves open, and nothing that stands there", () => {
  expect(filled({})).toMatchObject({
    account: "4210",
    description: "Visitor berth",
    unit: "night",
    price: "31.00",
    taxCode: "V13",
    dimensions: { costCentre: "HARB" },
  });
  expect(
    filled({ account: "4990", price: "28", dimensions: { costCentre: "QUAY", vessel: " " } }),
  ).toMatchObject({
    account: "4990",
    price: "28",
    taxCode: "V13",
    dimensions: { costCentre: "QUAY", vessel: "" },
  });
});

test("its price is in its own currency, without tax, and makes way for an amount", () => {
  const price = (more: object, document: typeof EURO, currency = "") =>
    filled(more, document, { ...BERTH, currency }).price;
  expect(price({}, { ...EURO, currency: "USD" })).toBe("");
  expect(price({}, { ...EURO, currency: "USD" }, "USD")).toBe("31.00");
  expect(price({}, EURO, "USD")).toBe("");
  expect(price({}, { ...EURO, gross: true })).toBe("");
  expect(price({ net: "90.00" }, EURO)).toBe("");
});

test("a price has the decimals of its currency, and keeps what it has beyond them", () => {
  expect(priceText("18.5", "EUR")).toBe("18.50");
  expect(priceText("4200", "")).toBe("4,200.00");
  expect(priceText("1234567.12345", "EUR")).toBe("1,234,567.12345");
  expect(priceText("1200", "JPY")).toBe("1,200");
  expect(priceText("0.5", "BHD")).toBe("0.500");
  expect(priceText("", "EUR")).toBe("");
});

test("one that is not there, or blocked, is said at its cell", () => {
  const items = new Map([
    ["BERTH", BERTH],
    ["OLD", { ...BERTH, code: "OLD", name: "Old berth", blocked: true }],
  ]);
  expect(againstItem("", items)).toBeNull();
  expect(againstItem(" berth ", items)).toBeNull();
  expect(againstItem("BOAT", items)).toMatchObject({ code: "NOT_FOUND", field: "item" });
  expect(againstItem("old", items)).toMatchObject({ what: "Old berth is blocked", field: "item" });
});
