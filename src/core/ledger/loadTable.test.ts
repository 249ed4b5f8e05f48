import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  findHeadings,
  hasHeadings,
  readDateIn,
  readDateOrder,
  readHeadings,
  readNumberFormat,
  rowsToJournals,
  tableToRows,
  understand,
  type LoadCommon,
} from "./index";

const dimensions = [
  { code: "costCentre", name: "Cost centre" },
  { code: "project", name: "Project" },
];
const common: LoadCommon = {
  company: "HSF",
  type: "general",
  date: "2026-10-31",
  description: "Fuel cards",
  reference: "FC-10",
  book: null,
  pattern: "",
};

describe("headings", () => {
  test("are understood in any order, once each, and what means nothing is left", () => {
    expect(
      readHeadings(
        ["Credit", "GL account", "Cost Centre", "Project", "colour", "Debit", "Text", "debit"],
        dimensions,
      ),
    ).toEqual([
      "credit",
      "account",
      "d.costCentre",
      "d.project",
      null,
      "debit",
      "description",
      null,
    ]);
    expect(hasHeadings(["Account", "Debit", "Credit"], dimensions)).toBe(true);
    expect(hasHeadings(["6310", "HARB", "Fenders", "1,000.00"], dimensions)).toBe(false);
    expect(
      findHeadings(
        [
          ["", "Totals", "12.00"],
          ["Account", "Text", "Debit"],
          ["6310", "x", "12.00"],
        ],
        dimensions,
      ),
    ).toBe(1);
    expect(findHeadings([["6310", "x", "12.00"]], dimensions)).toBe(-1);
  });
});

describe("figures and dates as they are written", () => {
  test.each([
    [["1.234,50", "7"], ","],
    [["1,234.50"], "."],
    [["12,5"], ","],
    [["1,234"], "."],
    [["1.234", "2.345.678"], ","],
    [["1,234,567"], "."],
    [["(3.10)", "4-"], "."],
    [[], "."],
  ])("%j has decimal %s", (cells, decimal) =>
    expect(readNumberFormat(cells).decimal).toBe(decimal),
  );
  test.each([
    [["31/10/2026", "01/11/2026"], "dmy"],
    [["10/31/2026", "1/2/2026"], "mdy"],
    [["2026-10-31"], "ymd"],
    [["1/2/2026"], "dmy"],
  ])("%j are %s", (cells, order) => expect(readDateOrder(cells)).toBe(order));
  test.each([
    ["31.10.2026", "dmy", "2026-10-31"],
    ["10/31/26", "mdy", "2026-10-31"],
    ["31 Oct 2026", "dmy", "2026-10-31"],
    ["October 31, 2026", "dmy", "2026-10-31"],
    ["2026-10-31 00:00:00", "ymd", "2026-10-31"],
    ["20261031", "dmy", "2026-10-31"],
    ["46326", "dmy", "2026-10-31"],
    ["31.02.2026", "dmy", null],
    ["soon", "dmy", null],
    ["13/13/2026", "mdy", null],
  ] as const)("%s, %s, is %s", (text, order, date) => expect(readDateIn(text, order)).toBe(date));
});

test("rows without text or amount are set aside and counted; one signed amount becomes debit or credit; the rest keeps its place", () => {
  const fields = readHeadings(["Account", "Cost centre", "Amount", "Text"], dimensions);
  const table = [
    ["6310", "HARB", "1.250,00", "Quay"],
    ["", "", "", ""],
    ["2410", "", "-1.250,00", ""],
    ["2410", "", "0,00", ""],
    ["6320", "HARB", "(12,5)", ""],
    ["6320", "HARB", "12,345", ""],
  ];
  const loaded = tableToRows(table, fields, "EUR", understand(table, fields));
  expect([loaded.blank, loaded.withoutAmount, loaded.places]).toEqual([1, 1, [0, 2, 4, 5]]);
  expect(loaded.rows.map((r) => [r.debit, r.credit])).toEqual([
    ["1250.00", undefined],
    [undefined, "1250.00"],
    [undefined, "12.50"],
    ["12.345", undefined],
  ]);
});

test("one file holds many journals; what is given once holds for all; descriptions follow a pattern", () => {
  const rows = [
    { journal: "A", account: "5010", debit: "10.00", reference: "R1", description: "Lantern" },
    { journal: "B", account: "5010", debit: "5.00", date: "2026-10-30" },
    { journal: "A", account: "2410", credit: "10.00" },
    { journal: "B", account: "2410", credit: "5.00", company: "hsf" },
  ];
  const journals = rowsToJournals(rows, {
    ...common,
    pattern: "Fuel {reference} {Description} {nothing}",
  });
  expect(journals.map((j) => [j.key, j.rows, j.input.date, j.input.reference])).toEqual([
    ["A", [0, 2], "2026-10-31", "R1"],
    ["B", [1, 3], "2026-10-30", "FC-10"],
  ]);
  expect(journals[0]!.input.lines.map((l) => l.description)).toEqual([
    "Fuel R1 Lantern {nothing}",
    "Fuel {nothing}",
  ]);
  expect(journals[1]!.input.lines.map((l) => l.company)).toEqual(["", ""]);
});

test("whatever is pasted, every row is loaded or counted as set aside, and sums of what is understood are kept to the cent", () => {
  const cents = fc.integer({ min: -(10 ** 9), max: 10 ** 9 });
  fc.assert(
    fc.property(
      fc.array(cents, { maxLength: 30 }),
      fc.constantFrom(",", "."),
      (amounts, decimal) => {
        const write = (n: number) =>
          `${n < 0 ? "-" : ""}${Math.floor(Math.abs(n) / 100)
            .toString()
            .replace(
              /\B(?=(\d{3})+(?!\d))/g,
              decimal === "," ? "." : ",",
            )}${decimal}${String(Math.abs(n) % 100).padStart(2, "0")}`;
        const table = amounts.map((a) => ["6310", write(a)]);
        const fields = readHeadings(["account", "amount"], dimensions);
        const { rows, withoutAmount, blank } = tableToRows(
          table,
          fields,
          "EUR",
          understand(table, fields),
        );
        expect(rows.length + withoutAmount + blank).toBe(amounts.length);
        expect(
          rows.reduce(
            (t, r) =>
              t + Math.round(Number(r.debit ?? 0) * 100) - Math.round(Number(r.credit ?? 0) * 100),
            0,
          ),
        ).toBe(amounts.reduce((a, b) => a + b, 0));
      },
    ),
  );
  fc.assert(
    fc.property(
      fc.array(fc.array(fc.string({ maxLength: 12 }), { maxLength: 6 }), { maxLength: 12 }),
      (table) => {
        const fields = readHeadings(table[0] ?? [], dimensions);
        const loaded = tableToRows(table, fields, "EUR", understand(table, fields));
        expect(loaded.rows.length + loaded.blank + loaded.withoutAmount).toBe(table.length);
        rowsToJournals(loaded.rows, common);
      },
    ),
  );
});
