import Excel, { type CellValue } from "exceljs";
import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { plainWorkbook } from "../../../../tests/workbooks";
import { must } from "../../../../tests/world";
import { readWorkbook } from "./index";

/** A cell as it is written, and the text that a person sees in it. */
type Written = [value: CellValue, text: string];

const words = fc.string({
  unit: fc.constantFrom(..."ab Zé<&>\"'=_x04;\n–ł".split("")),
  maxLength: 12,
});
/** A decimal that a spreadsheet shows whole, as text without a last nought. */
const decimal = fc
  .tuple(fc.integer({ min: -9_999_999, max: 9_999_999 }), fc.integer({ min: 0, max: 9999 }))
  .map(([whole, part]) => {
    const digits = String(part).padStart(4, "0").replace(/0+$/, "");
    return digits === "" ? String(whole) : `${whole}.${digits}`;
  });
/** Three decimals get a fourth: the point is then no mark between thousands. */
const shown = (text: string): string => (/\.\d{3}$/.test(text) ? `${text}0` : text);
const day = fc
  .date({ min: new Date("1905-01-01"), max: new Date("2099-12-31"), noInvalidDate: true })
  .map((d) => d.toISOString().slice(0, 10));

const cell: fc.Arbitrary<Written> = fc.oneof(
  words.map((t): Written => [t === "" ? null : t, t]),
  decimal.map((t): Written => [Number(t), shown(t)]),
  day.map((t): Written => [new Date(`${t}T00:00:00Z`), t]),
  fc.boolean().map((b): Written => [b, String(b)]),
  decimal.map((t): Written => [{ formula: "A1*2", result: Number(t) } as CellValue, shown(t)]),
  day.map((t): Written => [
    { formula: "TODAY()", result: new Date(`${t}T00:00:00Z`) } as CellValue,
    t,
  ]),
  fc
    .tuple(words, words)
    .filter(([a, b]) => a !== "" && b !== "")
    .map(([a, b]): Written => [
      { richText: [{ text: a }, { text: b, font: { bold: true } }] },
      a + b,
    ]),
);

const trimmed = (rows: readonly (readonly string[])[]): string[][] => {
  const out = rows.map((r) => [...r]);
  for (const row of out) while (row.at(-1) === "") row.pop();
  while (out.at(-1)?.length === 0) out.pop();
  return out;
};

describe("workbooks that the spreadsheet package has written", () => {
  test("are read as what is seen in them, whichever year days are counted from", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.array(cell, { maxLength: 5 }), { minLength: 1, maxLength: 6 }),
        fc.boolean(),
        async (rows, from1904) => {
          const book = new Excel.Workbook();
          book.properties.date1904 = from1904;
          const sheet = book.addWorksheet("Entries");
          rows.forEach((r, i) =>
            r.forEach(([value], k) => {
              const at = sheet.getCell(i + 1, k + 1);
              at.value = value;
              const isDay =
                value instanceof Date || (value as { result?: unknown })?.result instanceof Date;
              if (isDay) at.numFmt = "dd/mm/yyyy";
            }),
          );
          const bytes = new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer);
          expect(trimmed(must(readWorkbook(bytes)).cells)).toEqual(
            trimmed(rows.map((r) => r.map(([, text]) => text))),
          );
        },
      ),
      { numRuns: 120 },
    );
  });
});

describe("workbooks of other programs", () => {
  const read = (parts: Parameters<typeof plainWorkbook>[0]) => readWorkbook(plainWorkbook(parts));

  test("places left out, prefixes, texts in the cell, errors, days in ISO 8601, a reading beside a text", () => {
    const sheet = `<x:sheetData xmlns:x="x"><x:row><x:c t="inlineStr"><x:is><x:t>in </x:t><x:t>place</x:t></x:is></x:c><x:c t="e"><x:v>#REF!</x:v></x:c><x:c t="d"><x:v>2026-11-03T09:30:00</x:v></x:c></x:row><x:row r="4"><x:c r="C4" t="s"><x:v>0</x:v></x:c></x:row></x:sheetData>`;
    const texts = "<si><t>海運</t><rPh><t>かいうん</t></rPh></si>";
    expect(must(read({ sheet, texts })).cells).toEqual([
      ["in place", "#REF!", "2026-11-03"],
      [],
      [],
      ["", "", "海運"],
    ]);
  });

  test("a format of one's own is a day where it shows parts of one, whatever texts and colours it has", () => {
    const styles = (format: string) =>
      `<numFmts><numFmt numFmtId="170" formatCode="${format}"/></numFmts><cellXfs><xf numFmtId="170"/></cellXfs>`;
    const sheet = `<sheetData><row><c s="0"><v>46329</v></c></row></sheetData>`;
    const of = (format: string) => must(read({ sheet, styles: styles(format) })).cells[0]![0];
    expect([of("yyyy-mm-dd"), of("[Red]d. mmm"), of("[$-409]h:mm")]).toEqual(
      Array(3).fill("2026-11-03"),
    );
    expect([of("0.00 &quot;days&quot;"), of("#,##0_d"), of("[Red]0")]).toEqual(
      Array(3).fill("46329"),
    );
  });

  test("an unfinished part, a text that no cell can hold: said", () => {
    expect(read({ sheet: "<sheetData><row><c><v>1</v></row>" })).toMatchObject({ ok: false });
    const long = "x".repeat(40_000);
    expect(
      read({ sheet: `<sheetData><row><c t="str"><v>${long}</v></c></row></sheetData>` }),
    ).toMatchObject({
      problems: [{ what: "Row 1: a cell has more than 32,767 characters" }],
    });
  });
});
