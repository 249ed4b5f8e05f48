import Excel, { type CellValue, type Workbook } from "exceljs";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { csvOf, neutral, workbookOf } from "@/core/files";
import { must } from "../../../tests/world";
import { readCells, readTable, tableFile } from "./index";

const text = (s: string) => new TextEncoder().encode(s);

describe("files from outside", () => {
  test("whatever they hold, they are read or refused with a sentence, and never thrown on", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.uint8Array({ maxLength: 400 }),
        fc.constantFrom("x.csv", "x.xlsx", "x.txt"),
        async (bytes, name) => {
          const result = await readTable(name, bytes);
          if (!result.ok) expect(result.problems[0]!.code).toBe("INVALID");
        },
      ),
      { numRuns: 150 },
    );
  });
  test("a zip that says it unpacks to gigabytes is not unpacked", async () => {
    const directory = new Uint8Array(46);
    const view = new DataView(directory.buffer);
    view.setUint32(0, 0x02014b50, true);
    view.setUint32(24, 0xf0000000, true);
    const bomb = new Uint8Array([0x50, 0x4b, 3, 4, ...new Uint8Array(30), ...directory]);
    expect(await readTable("bomb.xlsx", bomb)).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringMatching(/unpacks to more/) as string }],
    });
  });
  test("a file that is not what its name says, an open quote, a stray encoding: said, with the row", async () => {
    expect(await readTable("a.xlsx", text("number,name"))).toMatchObject({ ok: false });
    expect(await readTable("a.csv", text('number,name\n1,"open'))).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringMatching(/Row \d/) as string }],
    });
    expect(await readTable("a.csv", new Uint8Array([0xff, 0xfe, 0x41]))).toMatchObject({
      ok: false,
    });
  });
  test("what goes out as CSV or XLSX, formulas neutralised, comes back in as it was", async () => {
    const rows = [
      { cells: ["=1+1", { amount: -123456n, currency: "EUR" }] as const },
      { cells: ['a "quoted", text', null] as const },
    ];
    const expected = [
      { name: "=1+1", amount: "-1234.56" },
      { name: 'a "quoted", text', amount: "" },
    ];
    expect(
      await readTable(
        "a.csv",
        text(
          csvOf(
            ["Name", "Amount"],
            rows.map((r) => r.cells),
          ),
        ),
      ),
    ).toEqual({ ok: true, value: expected });
    expect(
      await readTable("a.xlsx", new Uint8Array(await workbookOf("a", ["Name", "Amount"], rows))),
    ).toEqual({ ok: true, value: expected });
    for (const c of ["=", "+", "-", "@", "\t"]) expect(neutral(`${c}x`)[0]).toBe("'");
  });
  test("any text of ours comes back as it was, whatever it begins with", async () => {
    const word = fc
      .string({ unit: fc.constantFrom(..."'=+-@ab,\"".split("")), minLength: 1, maxLength: 6 })
      .filter((t) => t.trim() === t && t !== "");
    await fc.assert(
      fc.asyncProperty(fc.array(word, { minLength: 1, maxLength: 5 }), async (words) => {
        const file = text(
          csvOf(
            ["Name", "End"],
            words.map((t) => [t, "."]),
          ),
        );
        const back = await readTable("a.csv", file);
        expect(back.ok ? back.value.map((r) => r.name) : back.problems).toEqual(words);
      }),
    );
  });
  test("a PDF of many rows has pages, and letters of other alphabets' Latin", async () => {
    const response = await tableFile(
      {
        name: "Łódź/..",
        title: "Zażółć",
        subtitle: "x",
        headers: ["", "EUR"],
        rows: Array.from({ length: 120 }, (_, i) => ({
          cells: [`Line ${i}`, { amount: BigInt(i), currency: "EUR" }],
        })),
      },
      "pdf",
    );
    expect(response.headers.get("content-disposition")).toBe('attachment; filename="--d--...pdf"');
    const body = Buffer.from(await response.arrayBuffer()).toString("latin1");
    expect(body.startsWith("%PDF-")).toBe(true);
    expect(body.match(/\/Type \/Page\b(?!s)/g)!.length).toBeGreaterThan(1);
  });
});

describe("workbooks say what is in them", () => {
  const read = async (fill: (book: Workbook) => void) => {
    const book = new Excel.Workbook();
    fill(book);
    return new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer);
  };

  test("numbers to 15 significant digits; a formula without a result as its text; hidden sheets, hidden rows and merged cells are told", async () => {
    const bytes = await read((book) => {
      book.addWorksheet("Old", { state: "hidden" }).addRow(["x"]);
      const sheet = book.addWorksheet("Entries");
      sheet.addRow(["account", "debit"]);
      sheet.addRow(["6310", 100.00000000000001]);
      sheet.addRow(["6310", 12.345]).hidden = true;
      sheet.addRow(["6310", { formula: "B2*2" } as CellValue]);
      sheet.addRow(["6310", 7]);
      sheet.addRow(["6310", 7]);
      sheet.mergeCells("B5:B6");
    });
    expect(must(await readCells("a.xlsx", bytes))).toEqual({
      cells: [
        ["account", "debit"],
        ["6310", "100"],
        ["6310", "12.3450"],
        ["6310", "=B2*2"],
        ["6310", "7"],
        ["6310"],
      ],
      notes: [
        "Sheet “Entries” is read, not “Old” (hidden).",
        "Hidden rows are read too: 3.",
        "Merged cells count once, in their first cell: B5.",
      ],
    });
  });

  test("one changed byte anywhere: refused, or read with the same figures", async () => {
    const bytes = await read((book) => {
      const sheet = book.addWorksheet("Entries");
      for (let i = 0; i < 60; i++) sheet.addRow(["6310", i * 1037.19, `Text ${i}`]);
    });
    const whole = must(await readCells("a.xlsx", bytes));
    for (let at = 40; at < bytes.length; at += 61) {
      const damaged = bytes.slice();
      damaged[at]! ^= 0x15;
      const result = await readCells("a.xlsx", damaged);
      if (result.ok) expect(result.value.cells).toEqual(whole.cells);
    }
  });
});
