import { describe, expect, test } from "vitest";
import { minor } from "../shared";
import {
  LETTER_KINDS,
  LETTER_LANGUAGES,
  letterLayoutSchema,
  letterText,
  noLayout,
  orderLetter,
  remittanceLetter,
  type OrderPaper,
} from "./index";

const company = {
  name: "Hollin Sound Ferries",
  street: "1 Quay",
  postcode: "1000",
  city: "Ostry",
  country: "IE",
};
const order = (more: Partial<OrderPaper> = {}): OrderPaper => ({
  language: "en",
  number: "HSF-26-O00050",
  date: "2026-10-14",
  currency: "EUR",
  company,
  supplier: {
    code: "S-120",
    name: "Wrackline Dust",
    street: "8 Pier",
    postcode: "20457",
    city: "Hafen",
    country: "DE",
  },
  contact: "",
  terms: "30 days net",
  deliverTo: ["Hollin Sound Ferries", "Shed 4"],
  lines: [
    {
      no: 1,
      description: "Deck lamp",
      deliveries: [
        { date: "2026-11-02", quantity: "1,000" },
        { date: "2026-11-09", quantity: "200.5" },
      ],
      quantity: "1,200.5",
      unit: "pcs",
      price: "12.40",
      net: minor(1_488_620n),
    },
  ],
  net: minor(1_488_620n),
  taxes: [{ name: "VAT", percent: "23", tax: minor(342_383n) }],
  approvedBy: ["Linnea Dane"],
  opening: "We order.",
  closing: "",
  ...more,
});

describe("letters", () => {
  test("an order says who gets it, where it comes, its parts, taxes and who approved", () => {
    const letter = orderLetter(order());
    expect(letter.recipient).toEqual(["Wrackline Dust", "8 Pier", "20457 Hafen", "DE"]);
    expect(letter.rows).toEqual([
      [
        "1",
        "Deck lamp",
        "1,000: 2 Nov 2026\n200.5: 9 Nov 2026",
        "1,200.5 pcs",
        "12.40",
        "14,886.20",
      ],
    ]);
    expect(letter.totals.map((t) => t.text)).toEqual(["14,886.20", "3,423.83", "18,310.03"]);
    expect(letter.facts.map((f) => f.text)).toEqual([
      "HSF-26-O00050",
      "14 Oct 2026",
      "S-120",
      "30 days net",
      "EUR",
      "Linnea Dane",
    ]);
  });

  test("words, figures and days are those of the language; the own country is not written", () => {
    const letter = orderLetter(order({ language: "de", company: { ...company, country: "DE" } }));
    expect(letter.title).toBe("Bestellung HSF-26-O00050");
    expect(letter.recipient).toEqual(["Wrackline Dust", "8 Pier", "20457 Hafen"]);
    expect(letter.rows[0]!.slice(2)).toEqual([
      "1.000: 02.11.2026\n200,5: 09.11.2026",
      "1.200,5 pcs",
      "12,40",
      "14.886,20",
    ]);
  });

  test("an advice has a column of discounts only where there are some, and adds up", () => {
    const paper = (discount: bigint) =>
      remittanceLetter({
        language: "en",
        number: "HSF-26-Z00012",
        date: "2026-11-05",
        currency: "EUR",
        method: "transfer",
        paidTo: "IE91…",
        company,
        payee: order().supplier,
        contact: "",
        items: [
          { reference: "A", date: "2026-10-01", taken: minor(10_000n), discount: minor(discount) },
        ],
        amount: minor(10_000n - discount),
        opening: "",
        closing: "",
      });
    expect(paper(200n).rows).toEqual([["A", "1 Oct 2026", "100.00", "2.00", "98.00"]]);
    expect(paper(0n).rows).toEqual([["A", "1 Oct 2026", "100.00", "100.00"]]);
    expect(paper(200n).totals.at(-1)!.text).toBe("98.00");
  });

  test("every kind has an opening in every language, and the company's own goes before it", () => {
    for (const kind of LETTER_KINDS)
      for (const language of LETTER_LANGUAGES)
        expect(letterText(noLayout("HSF"), kind, language, "opening")).not.toBe("");
    const own = letterLayoutSchema.cast({ company: "HSF", texts: { order_de_opening: "Moin" } });
    expect(letterText(own, "order", "de", "opening")).toBe("Moin");
  });

  test("a logo is a picture and not too large", () => {
    expect(() => letterLayoutSchema.validateSync({ company: "A", logo: "PHN2Zz4=" })).toThrow(
      "PNG",
    );
    expect(letterLayoutSchema.validateSync({ company: "A", logo: "iVBORw0KGgoAAA" }).logo).not.toBe(
      "",
    );
  });
});
