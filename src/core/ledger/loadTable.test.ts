import fc from "fast-check";
import { describe, expect, test } from "vitest";
import {
  findHeadings,
  hasHeadings,
  readJournal,
  recogniseColumns,
  recogniseUnderHeadings,
  readHeadings,
  rowsToJournals,
  tableToRows,
  understand,
  type LoadCommon,
  type LoadedTable,
} from "./index";
import { readDateIn, readDateOrder, readNumberFormat } from "../shared";

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

const asLoaded = (
  headings: readonly string[],
  table: readonly (readonly string[])[],
  currency = "EUR",
) => {
  const fields = readHeadings(headings, dimensions);
  return tableToRows(table, fields, currency, understand(table, fields));
};
const problemsOf = (loaded: LoadedTable): (readonly [string, number, string])[] =>
  rowsToJournals(loaded.rows, common).flatMap((j) =>
    readJournal(j.input, () => "EUR", "2026-10-31").problems.map(
      (p) => [p.code, loaded.places[j.rows[p.line! - 1]!]!, p.field!] as const,
    ),
  );

test("one signed amount becomes debit or credit; what sums up, or has neither amount nor account, is set aside; a line without amount stays", () => {
  const loaded = asLoaded(
    ["Account", "Cost centre", "Amount", "Text"],
    [
      ["6310", "HARB", "1.250,00", "Quay"],
      ["", "", "", ""],
      ["2410", "", "-250,00", ""],
      ["", "", "1.000,00", "Subtotal"],
      ["2410", "", "0,00", ""],
      ["6320", "HARB", "(12,5)", ""],
      ["6320", "HARB", "", "forgotten"],
      ["", "", "", "Prepared by Mara"],
      ["", "", "987,5", "Total"],
    ],
  );
  expect([loaded.blank, loaded.places]).toEqual([1, [0, 2, 5, 6]]);
  expect(loaded.aside).toEqual([
    { place: 3, why: "subtotal" },
    { place: 4, why: "without amount" },
    { place: 7, why: "without amount" },
    { place: 8, why: "subtotal" },
  ]);
  expect(loaded.rows.map(({ cells }) => [cells.debit, cells.credit])).toEqual([
    ["1250.00", undefined],
    [undefined, "250.00"],
    [undefined, "12.50"],
    [undefined, undefined],
  ]);
});

test("a subtotal sums the rows right above it, not what came before them; a balancing line that lacks its account is none", () => {
  const loaded = asLoaded(
    ["Account", "Debit", "Credit"],
    [
      ["5010", "98.40", ""],
      ["2410", "", "98.40"],
      ["6310", "300.00", ""],
      ["6310", "120.00", ""],
      ["", "420.00", ""],
      ["", "", "420.00"],
    ],
  );
  expect(loaded.aside).toEqual([{ place: 4, why: "subtotal" }]);
  expect(loaded.places).toEqual([0, 1, 2, 3, 5]);
});

describe("a figure that is not in the table's marks stays as typed and is a problem at its cell", () => {
  test.each([
    ["1 765,50", ["1,000.00", "10.5"]],
    ["12,34", ["1,000.00", "10.5"]],
    ["1,2,3", ["1,000.00", "10.5"]],
    ["1.23", ["1.000,00", "10,5"]],
    ["1’234.50", ["1.000,00", "10,5"]],
    ["1.000,25", ["1,000.00", "10.5"]],
    ["12,50", ["12.5", "3000"]],
    ["USD 12.50", ["1,000.00"]],
    ["=SUM(C2:C9)", ["1,000.00"]],
    ["0,123", ["1,000.00", "10.5"]],
  ])("%s among %j", (text, others) => {
    const table = [text, ...others].map((figure) => ["6310", figure]);
    const loaded = asLoaded(["account", "debit"], table);
    expect(loaded.rows[0]!.cells.debit).toBe(text);
    expect(problemsOf(loaded)).toEqual([["FIGURE_UNREAD", 0, "debit"]]);
  });

  test.each([
    [
      ["1 765,50", "12,00"],
      ["1765.50", "12.00"],
    ],
    [["1\u202f765.50"], ["1765.50"]],
    [
      ["1’234.50", "2'000.00"],
      ["1234.50", "2000.00"],
    ],
    [
      ["12,34,567.00", "1,00,000.00"],
      ["1234567.00", "100000.00"],
    ],
    [
      ["1.234,50-", "EUR 3,00"],
      ["-1234.50", "3.00"],
    ],
    [
      ["(5.00)", "€ 7.10"],
      ["-5.00", "7.10"],
    ],
  ])("groups that the table uses throughout are understood: %j", (figures, expected) =>
    expect(
      asLoaded(
        ["account", "debit"],
        figures.map((f) => ["6310", f]),
      ).rows.map((r) => r.cells.debit),
    ).toEqual(expected),
  );

  /** The figure as the marks say, read character by character; null where it is none. */
  const judge = (text: string, decimal: string): bigint | null => {
    let body = text;
    let sign = 1n;
    if (body.startsWith("(") && body.endsWith(")")) [body, sign] = [body.slice(1, -1), -1n];
    else if (body.endsWith("-") && body.length > 1 && !body.startsWith("-"))
      [body, sign] = [body.slice(0, -1), -1n];
    else if (body.startsWith("-")) [body, sign] = [body.slice(1), -1n];
    // A space may part a sign from its figure.
    const [whole, fraction = "", ...more] = body.trim().split(decimal);
    if (more.length > 0 || [...(whole! + fraction)].every((c) => c < "0" || c > "9")) return null;
    const parts = whole!.split(decimal === "," ? "." : ",");
    const digits = (t: string) => [...t].every((c) => c >= "0" && c <= "9");
    if (![...parts, fraction].every(digits)) return null;
    const grouped = parts.length > 1;
    if (grouped && (parts[0] === "" || parts[0]!.length > 3 || parts[0]!.startsWith("0")))
      return null;
    const pairs =
      decimal === "." &&
      parts.length > 2 &&
      parts[0]!.length < 3 &&
      parts.slice(1, -1).every((p) => p.length === 2);
    if (parts.at(-1)!.length !== 3 && grouped) return null;
    if (!pairs && parts.slice(1).some((p) => p.length !== 3)) return null;
    const cents = fraction.replace(/0*$/, "");
    return cents.length > 2 ? null : sign * BigInt(parts.join("") + cents.padEnd(2, "0"));
  };
  test("whatever stands in a cell: read as another reader would, or left as it is", () => {
    const figure = fc
      .array(fc.constantFrom(..."0123456789012345678901234567,.,.-() '"), { maxLength: 12 })
      .map((c) => c.join("").trim());
    fc.assert(
      fc.property(figure, fc.constantFrom(",", "."), (text, decimal) => {
        // Enough cells that leave no doubt about the marks.
        const sure = decimal === "," ? "1.000,50" : "1,000.50";
        const table = [["6310", text], ...Array.from({ length: 9 }, () => ["6310", sure])];
        const { rows } = asLoaded(["account", "debit"], table);
        const [first] = rows;
        const expected = judge(text, decimal);
        if (text === "" || expected === 0n) return;
        if (expected === null) expect(first!.unread.debit).toBe(text);
        else {
          expect(first!.unread.debit).toBeUndefined();
          expect(BigInt(first!.cells.debit!.replace(".", ""))).toBe(expected);
        }
      }),
      { numRuns: 3000 },
    );
  });
});

describe("rows of one journal agree in what the journal has once", () => {
  const headings = ["journal", "date", "currency", "reference", "account", "debit", "credit"];
  const good = ["A", "2026-05-04", "EUR", "R1", "6310", "10.00", ""];
  test.each([
    ["an impossible date", 1, "2026-02-30", "DATE_UNREAD", "date"],
    ["no date at all", 1, "banana", "DATE_UNREAD", "date"],
    ["another form than the column's", 1, "05/18/2026", "DATE_UNREAD", "date"],
    ["another form, though readable day first", 1, "05/06/2026", "DATE_UNREAD", "date"],
    ["another day", 1, "2026-05-05", "ROW_DIFFERS", "date"],
    ["another currency", 2, "USD", "ROW_DIFFERS", "currency"],
    ["an unknown currency", 2, "EUX", "ROW_DIFFERS", "currency"],
    ["another reference", 3, "R2", "ROW_DIFFERS", "reference"],
  ])("%s is a problem at its row", (_what, column, text, code, field) => {
    const bad = ["A", "2026-05-04", "EUR", "R1", "2410", "", "10.00"];
    bad[column] = text;
    expect(problemsOf(asLoaded(headings, [good, bad]))).toEqual([[code, 1, field]]);
    expect(problemsOf(asLoaded(headings, [good, good]))).toEqual([]);
  });
  test("a currency that only a later row gives says that the first was meant otherwise; type and book too", () => {
    const rows = [
      { account: "6310", debit: "1.00", type: "general" },
      { account: "2410", credit: "1.00", currency: "USD", type: "accrual", book: "TAX" },
      { account: "2410", credit: "0.00", book: "LOCAL" },
    ].map((cells) => ({ cells, unread: {} }));
    expect(rowsToJournals(rows, common)[0]!.input.lines.map((l) => l.differs)).toEqual([
      undefined,
      { type: "accrual", currency: "USD" },
      { book: "LOCAL" },
    ]);
  });
  test("what could be read in two ways is said", () => {
    const fields = readHeadings(["date", "debit"], dimensions);
    expect(understand([["05/06/2026", "1,234"]], fields).doubts).toEqual(["figures", "dates"]);
    expect(understand([["25/06/2026", "1,234.00"]], fields).doubts).toEqual([]);
  });
});

describe("columns without headings", () => {
  const codes = {
    accounts: new Set(["6310", "2410", "5010"]),
    companies: new Set(["HSF", "KIT"]),
    values: new Map([["costCentre", new Set(["HARB", "ADM"])]]),
  };
  test("are recognised by their values; a single column that adds up to zero is the signed amount", () => {
    const table = [
      ["Fenders for the quay", "HARB", "6310", "04.05.2026", "1.250,00"],
      ["Accrued", "", "2410", "04.05.2026", "-1.250,00"],
    ];
    expect(recogniseColumns(table, [], codes)).toEqual({
      fields: ["description", "d.costCentre", "account", "date", "amount"],
      open: [],
    });
  });
  test("under strange headings codes are still recognised, texts and figures are not", () => {
    const given = readHeadings(
      ["Konto", "Kostenstelle", "Soll", "Notiz an mich", "Rest"],
      dimensions,
    );
    const table = [
      ["6310", "HARB", "12,00", "anything", "5,00"],
      ["5010", "ADM", "3,00", "else", "7,00"],
    ];
    expect(recogniseUnderHeadings(table, given, codes)).toEqual([
      "account",
      "d.costCentre",
      "debit",
      null,
      null,
    ]);
  });
  test("which of two columns is debit is asked for, since both ways round balance", () => {
    const table = [
      ["6310", "HARB", "12.00", ""],
      ["2410", "", "", "12.00"],
    ];
    expect(recogniseColumns(table, [], codes)).toEqual({
      fields: ["account", "d.costCentre", null, null],
      open: [2, 3],
    });
  });
  test.each([
    [
      ["Konto", "Soll", "Haben", "Buchungstext"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Compte", "Débit", "Crédit", "Libellé"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Cuenta", "Debe", "Haber", "Concepto"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Conto", "Dare", "Avere", "Descrizione"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Konto", "Wn", "Ma", "Opis"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Cont", "Debit", "Credit", "Explicație"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Grootboekrekening", "Debet", "Credit", "Omschrijving"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Λογαριασμός", "Χρέωση", "Πίστωση", "Περιγραφή"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Conta", "Débito", "Crédito", "Descrição"],
      ["account", "debit", "credit", "description"],
    ],
    [
      ["Účet", "MD", "Dal", "Popis"],
      ["account", "debit", "credit", "description"],
    ],
  ])("headings are understood in other languages: %j", (headings, fields) =>
    expect(readHeadings(headings, dimensions)).toEqual(fields),
  );
});

test("one file holds many journals; what is given once holds for all; descriptions follow a pattern", () => {
  const rows = [
    { journal: "A", account: "5010", debit: "10.00", reference: "R1", description: "Lantern" },
    { journal: "B", account: "5010", debit: "5.00", date: "2026-10-30" },
    { journal: "A", account: "2410", credit: "10.00" },
    { journal: "B", account: "2410", credit: "5.00", company: "hsf" },
  ].map((cells) => ({ cells, unread: {} }));
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
        const { rows, aside, blank } = tableToRows(table, fields, "EUR", understand(table, fields));
        expect(rows.length + aside.length + blank).toBe(amounts.length);
        expect(
          rows.reduce(
            (t, r) =>
              t +
              Math.round(Number(r.cells.debit ?? 0) * 100) -
              Math.round(Number(r.cells.credit ?? 0) * 100),
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
        expect(loaded.rows.length + loaded.blank + loaded.aside.length).toBe(table.length);
        rowsToJournals(loaded.rows, common);
      },
    ),
  );
});
