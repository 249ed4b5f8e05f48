import { describe, expect, test } from "vitest";
import { chainColumns, chainWords, type ChainDocument, type ChainFacts } from "./index";

const facts = (kind: string, more: Partial<ChainFacts> = {}): ChainFacts => ({
  kind,
  status: "posted",
  amount: 10_000n,
  currency: "USD",
  functional: "EUR",
  left: null,
  toCome: 0,
  toBeInvoiced: 0,
  leftover: null,
  cleaned: null,
  paid: null,
  ...more,
});

describe("chainWords", () => {
  test.each<[string, ChainFacts, string, string]>([
    [
      "an order in force",
      facts("order", { status: "open", toCome: 1, toBeInvoiced: 2 }),
      "1 line to come, 2 to be invoiced",
      "",
    ],
    [
      "an order of which all has come",
      facts("order", { status: "open", toBeInvoiced: 1 }),
      "1 to be invoiced",
      "",
    ],
    [
      "a closed order, of which nothing more is expected",
      facts("order", { status: "closed", toCome: 3, toBeInvoiced: 3 }),
      "",
      "",
    ],
    [
      "a receipt with a rest, in the company's own currency",
      facts("goods-receipt", { leftover: 745n }),
      "7.45 EUR not invoiced",
      "",
    ],
    [
      "a receipt of which a part was written off",
      facts("goods-receipt", { leftover: 600n, cleaned: 400n }),
      "6.00 EUR not invoiced",
      "4.00 EUR written off",
    ],
    [
      "one that is written off in full",
      facts("goods-receipt", { leftover: 0n, cleaned: 1_000n }),
      "",
      "10.00 EUR written off",
    ],
    [
      "what went back and waits for its credit note",
      facts("goods-receipt", { leftover: -3_333n }),
      "33.33 EUR not credited",
      "",
    ],
    ["an invoice that nobody has paid", facts("invoice", { left: -10_000n }), "not paid", ""],
    [
      "one that is paid in part, in its own currency",
      facts("invoice", { left: -2_500n }),
      "25.00 USD not paid",
      "",
    ],
    ["one that is paid", facts("invoice", { left: 0n }), "", ""],
    [
      "a credit note that is not used up",
      facts("invoice", { left: 2_500n }),
      "25.00 USD in our favour",
      "",
    ],
    ["a payment of this purchase alone", facts("payment", { paid: 10_000n }), "", ""],
    ["a payment of several", facts("payment", { paid: 3_887n }), "", "38.87 USD of it for this"],
    ["anything else", facts("request", { left: -5n, paid: 5n }), "", ""],
  ])("%s", (_what, given, outstanding, note) =>
    expect(chainWords(given)).toEqual({ outstanding, note }),
  );
});

describe("chainColumns", () => {
  const document = (
    id: number,
    kind: string,
    date: string | null = "2026-11-05",
  ): ChainDocument => ({
    id,
    kind,
    number: `N-${id}`,
    status: "posted",
    date,
    amount: 1n,
    currency: "EUR",
    title: "",
    ofBank: false,
    outstanding: "",
    note: "",
  });
  const columns = (...documents: ChainDocument[]) =>
    chainColumns(documents).map((c) => [c.stage, c.documents.map((d) => d.id)]);
  test("stages stand in the order of a purchase, and what a stage holds by day, then as it was entered", () =>
    expect(
      columns(
        document(9, "invoice", "2026-11-09"),
        document(4, "goods-receipt", "2026-11-04"),
        document(5, "goods-receipt", "2026-11-02"),
        document(3, "goods-receipt", "2026-11-04"),
        document(1, "order"),
      ),
    ).toEqual([
      ["order", [1]],
      ["goods-receipt", [5, 3, 4]],
      ["invoice", [9]],
      ["payment", []],
    ]));
  test("it begins with what there is, a gap stays a gap, and the payment is part of it before it is made", () => {
    expect(columns(document(2, "invoice"))).toEqual([
      ["invoice", [2]],
      ["payment", []],
    ]);
    expect(columns(document(1, "request"), document(2, "invoice"))).toEqual([
      ["request", [1]],
      ["order", []],
      ["goods-receipt", []],
      ["invoice", [2]],
      ["payment", []],
    ]);
  });
  test("the journal of a bank's line stands at the end; of what it has paid itself no payment is missing", () => {
    const line = { ...document(3, "journal"), ofBank: true };
    expect(columns(document(2, "payment"), line)).toEqual([
      ["payment", [2]],
      ["bank", [3]],
    ]);
    // A customer's invoice that was entered as a journal.
    expect(columns(document(2, "journal"), line)).toEqual([
      ["invoice", [2]],
      ["bank", [3]],
    ]);
  });
});
