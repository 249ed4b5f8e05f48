import { describe, expect, test } from "vitest";
import { readOpening } from "./openingFile";

const context = {
  currency: "EUR",
  dimensions: [{ id: 1, code: "costCentre", name: "Cost centre" }],
} as unknown as Parameters<typeof readOpening>[1];
const read = (headings: string, ...rows: string[]) =>
  readOpening(
    rows.map((r) =>
      Object.fromEntries(headings.split(";").map((h, i) => [h, r.split(";")[i] ?? ""])),
    ),
    context,
  );
const said = (headings: string, ...rows: string[]) =>
  read(headings, ...rows).problems.map((p) => (p.code === "INVALID" ? p.what : p.code));

describe("opening balances from a file", () => {
  test("functional and foreign amounts, items with partner, due date and reference, in the marks of the file", () => {
    const { lines, problems } = read(
      "konto;soll;haben;currency;foreign;partner;due date;reference;cost centre",
      "1115;1.000,00;;USD;1.100,00;;;;",
      "2140;;600,50;GBP;-520,25;S-1;31.01.2027;INV-7;",
      "6310;2,00;;EUR;;;;;HARB",
    );
    expect(problems).toEqual([]);
    expect(lines).toMatchObject([
      { account: "1115", side: "debit", amount: 100000n, currency: "USD", foreignAmount: 110000n },
      {
        side: "credit",
        amount: 60050n,
        currency: "GBP",
        foreignAmount: 52025n,
        partner: "S-1",
        dueDate: "2027-01-31",
        item: { reference: "INV-7" },
      },
      { amount: 200n, dimensions: { costCentre: "HARB" } },
    ]);
    expect(lines[2]).not.toHaveProperty("foreignAmount");
  });

  test("signed amounts; the amount in a currency has the same sign", () => {
    expect(
      read("account;amount;currency;foreign", "1;-5.00;USD;-5.50", "2;5.00;;").lines,
    ).toMatchObject([
      { side: "credit", amount: 500n, foreignAmount: 550n },
      { side: "debit", amount: 500n },
    ]);
    expect(said("account;amount;currency;foreign", "1;-5.00;USD;5.50")).toEqual([
      "Row 2: the amount in USD has another sign",
    ]);
  });

  test.each([
    ["debit;credit", "1.00;", "The column account is missing"],
    [
      "account;debit;credit",
      "1;1.00;1.00",
      "Row 2: a row has a debit, a credit or an amount, one of them",
    ],
    ["account;debit;credit", "1;;", "Row 2: a row has a debit, a credit or an amount, one of them"],
    ["account;debit", "1;1.005", "Row 2: “1.005” is not an amount in EUR"],
    [
      "account;debit;currency",
      "1;1.00;USD",
      "Row 2: the amount in USD is missing, in a column named foreign",
    ],
    ["account;debit;currency;foreign", "1;1.00;XQX;1", "Row 2: there is no currency XQX"],
    ["account;debit;currency;foreign", "1;1.00;JPY;1.50", "Row 2: “1.50” is not an amount in JPY"],
    [
      "account;debit;foreign",
      "1;1.00;1.00",
      "Row 2: the currency of the foreign amount is missing",
    ],
    [
      "account;debit;currency;foreign",
      "1;1.00;EUR;2.00",
      "Row 2: the amount in EUR is another one than EUR beside it",
    ],
    [
      "account;debit;due date",
      "1;1.00;2026-02-30",
      "Row 2: “2026-02-30” is no due date, as 31 Oct 2026 is one",
    ],
  ])("%s / %s: %s", (headings, row, what) => expect(said(headings, row)).toEqual([what]));
});
