import { strToU8 } from "fflate";
import { describe, expect, test } from "vitest";
import { describeFound } from "@/core/shared";
import { plainWorkbook } from "../../../../tests/workbooks";
import { readers, type ReaderKind } from "./readers";
import { readOutside } from "./index";

const LIMITS = { seconds: 30, megabytes: 400, waiting: 16 };
const text = strToU8;
const table = (rows: number): Uint8Array => text("6310,12.50,Fuel for the crossing\n".repeat(rows));

const rows = (n: number, cell: string) =>
  `<sheetData>${Array.from({ length: n }, (_, i) => `<row r="${i + 1}">${cell}</row>`).join("")}</sheetData>`;
const PLAIN = `<sheetData><row r="1"><c r="A1" t="str"><v>x</v></c></row></sheetData>`;

// What takes more than it should on a machine that others use too is measured again.
const again = { retry: 3 };

/** What is made to hurt, of any size; a thousand of it is about a hundred kilobytes or less. */
const EVIL: [string, ReaderKind, (n: number) => Uint8Array][] = [
  ["blanks", "cells", (n) => text(`a${" ".repeat(n * 100)}b`)],
  ["blanks at the end", "cells", (n) => text(`a,b\n${" ".repeat(n * 100)}`)],
  ["quotes", "cells", (n) => text(`a,${'"'.repeat(n * 100)}`)],
  ["open quotes", "cells", (n) => text(`"a""\n`.repeat(n * 20))],
  ["empty cells", "cells", (n) => text(",".repeat(n * 100))],
  ["empty rows", "cells", (n) => text("\n".repeat(n * 100))],
  ["carriage returns", "cells", (n) => text(`a${"\r".repeat(n * 100)}\n`)],
  ["headings", "table", (n) => text(`${"h,".repeat(n * 10)}\n1,2\n`)],
  ["rows", "cells", (n) => plainWorkbook({ sheet: rows(n, `<c t="n"><v>1</v></c>`) })],
  ["a wide sheet", "cells", (n) => plainWorkbook({ sheet: rows(n, `<c r="GR1"><v>1</v></c>`) })],
  [
    "cells beyond all columns",
    "cells",
    (n) => plainWorkbook({ sheet: rows(n, `<c r="XFD1"><v>1</v></c>`) }),
  ],
  [
    "a last row",
    "cells",
    (n) =>
      plainWorkbook({
        sheet: `<sheetData>${`<row r="1048576"><c><v>1</v></c></row>`.repeat(n)}</sheetData>`,
      }),
  ],
  [
    "validations of whole columns",
    "cells",
    (n) =>
      plainWorkbook({ sheet: `${PLAIN}${`<dataValidation sqref="A1:XFD1048576"/>`.repeat(n)}` }),
  ],
  [
    "merged columns",
    "cells",
    (n) =>
      plainWorkbook({
        sheet: `${rows(n, `<c><v>1</v></c>`)}${`<mergeCell ref="A1:XFD1048576"/>`.repeat(n)}`,
      }),
  ],
  [
    "columns said again and again",
    "cells",
    (n) =>
      plainWorkbook({ sheet: `<cols>${`<col min="1" max="16384"/>`.repeat(n)}</cols>${PLAIN}` }),
  ],
  [
    "names for whole sheets",
    "cells",
    (n) =>
      plainWorkbook({
        sheet: PLAIN,
        book: `<definedName name="a">A!$A$1:$XFD$1048576</definedName>`.repeat(n),
      }),
  ],
  [
    "shared texts",
    "cells",
    (n) => plainWorkbook({ sheet: PLAIN, texts: "<si><t> </t></si>".repeat(n * 10) }),
  ],
  [
    "escapes without end",
    "cells",
    (n) => plainWorkbook({ sheet: PLAIN, texts: `<si><t>${"_x".repeat(n * 50)}</t></si>` }),
  ],
  [
    "formats without end",
    "cells",
    (n) =>
      plainWorkbook({
        sheet: PLAIN,
        styles: `<numFmt numFmtId="200" formatCode="${"[".repeat(n * 100)}"/>`,
      }),
  ],
  ["elements within each other", "cells", (n) => plainWorkbook({ sheet: "<a>".repeat(n * 20) })],
  ["opening marks", "eInvoice", (n) => text(`<Invoice>${"<a".repeat(n * 50)}`)],
  ["elements", "eInvoice", (n) => text(`<Invoice>${"<a/>".repeat(n * 20)}</Invoice>`)],
  ["comments", "eInvoice", (n) => text(`<Invoice>${"<!--".repeat(n * 25)}</Invoice>`)],
  ["attributes", "eInvoice", (n) => text(`<Invoice ${"a ".repeat(n * 50)}></Invoice>`)],
  ["blanks in an element", "eInvoice", (n) => text(`<Invoice${" ".repeat(n * 100)}`)],
  ["ampersands", "eInvoice", (n) => text(`<Invoice><ID>${"&".repeat(n * 100)}</ID></Invoice>`)],
  ["an encoding without end", "eInvoice", (n) => text(`<?xml ${"encoding='".repeat(n * 10)}`)],
];

const timeOf = async (kind: ReaderKind, bytes: Uint8Array): Promise<number> => {
  const from = performance.now();
  const result = await readers[kind]("a", bytes);
  if (!result.ok) expect(result.problems[0]).toMatchObject({ code: "INVALID" });
  return performance.now() - from;
};

describe("files that are made to hurt", () => {
  test.each(EVIL)("%s: time grows with the size and no faster", again, async (_, kind, make) => {
    await timeOf(kind, make(100));
    const small = await timeOf(kind, make(2_000));
    const large = await timeOf(kind, make(16_000));
    // Eight times as much; with the square of it, it would be sixty-four times.
    expect(large).toBeLessThan(24 * small + 250);
  });

  test("each is read or refused within twenty times its size of memory", again, async () => {
    // Those of which much could be built; the others are refused or skipped as they are read.
    const built = /^(headings|rows|a wide|shared|elements$|attributes|empty cells)/;
    for (const [name, kind, make] of EVIL.filter(([n]) => built.test(n))) {
      const bytes = make(16_000);
      const megabytes = 48 + Math.ceil((20 * bytes.length) / 1e6);
      const result = await readOutside(kind, "a", bytes, { ...LIMITS, megabytes });
      if (result.ok) continue;
      const what = describeFound(result.problems[0]!);
      expect(`${name}: ${what}`).not.toMatch(/needs more memory|took longer/);
    }
  });
});

describe("reading on a thread of its own", () => {
  const sheet = plainWorkbook({
    sheet: rows(60_000, `<c t="str"><v>Fuel for the crossing</v></c>`),
  });

  test("answers people meanwhile, and says what was read", again, async () => {
    const before = performance.now();
    expect((await readers.cells("a.xlsx", sheet)).ok).toBe(true);
    const here = performance.now() - before;
    let longest = 0;
    let last = performance.now();
    const beat = setInterval(() => {
      longest = Math.max(longest, performance.now() - last);
      last = performance.now();
    }, 5);
    const result = await readOutside("cells", "a.xlsx", sheet);
    clearInterval(beat);
    expect(result.ok && result.value.cells).toHaveLength(60_000);
    // Taking the cells over is what is left to do here; a page passes them on as they are.
    expect(longest).toBeLessThan(here / 2);
  });

  test("what takes too long or too much is ended with a sentence, and the next is read", async () => {
    expect(await readOutside("cells", "a.xlsx", sheet, { ...LIMITS, seconds: 0.2 })).toEqual({
      ok: false,
      problems: [
        { code: "INVALID", what: "Reading the file took longer than 0.2 seconds. Split it" },
      ],
    });
    expect(
      await readOutside("cells", "a.csv", table(99_000), { ...LIMITS, megabytes: 24 }),
    ).toEqual({
      ok: false,
      problems: [
        { code: "INVALID", what: "Reading the file needs more memory than it may take. Split it" },
      ],
    });
    expect((await readOutside("cells", "a.csv", table(2))).ok).toBe(true);
  });

  test("of many at once some wait, and what is too much is told to come back", async () => {
    const few = { ...LIMITS, waiting: 2 };
    const all = await Promise.all(
      Array.from({ length: 8 }, () => readOutside("cells", "a.csv", table(1), few)),
    );
    const refused = all.filter((r) => !r.ok);
    expect(all.length - refused.length).toBeGreaterThanOrEqual(3);
    expect(refused.length).toBeGreaterThan(0);
    expect(refused[0]!).toMatchObject({
      problems: [{ what: expect.stringMatching(/Try again/) as string }],
    });
  });
});
