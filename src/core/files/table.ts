import { amountText, decimalText, exponentOf, type AmountStyle } from "../shared";

/**
 * A cell of a table that leaves the application: text, a number, an amount in minor units, or
 * nothing.
 */
export type FileCell = string | number | null | { amount: bigint; currency: string };

export interface FileTable {
  /** File name without its ending. */
  name: string;
  title: string;
  subtitle: string;
  headers: readonly string[];
  /** How the columns of words share the width of a page; by default the first is the narrow one. */
  weights?: readonly number[];
  rows: readonly FileRow[];
}
export interface FileRow {
  cells: readonly FileCell[];
  strong?: boolean;
  indent?: number;
  double?: boolean;
}

const FORMULA = /^'*[=+\-@\t\r]/;
/**
 * A text that a spreadsheet would take for a formula is marked as text (OWASP, CSV injection); one
 * that looks marked is marked once more, so that it comes back as it was.
 */
export const neutral = (text: string): string => (FORMULA.test(text) ? `'${text}` : text);
/** A text without its mark: an apostrophe before what begins a formula is none of it. */
export const unmarked = (text: string): string =>
  text.startsWith("'") && FORMULA.test(text) ? text.slice(1) : text;

/**
 * Rows as CSV (RFC 4180): amounts as plain decimals with a point. What the table is stands above
 * its headings, a line each, and an empty line between.
 */
export function csvOf(
  headers: readonly string[],
  rows: readonly (readonly FileCell[])[],
  head: readonly string[] = [],
): string {
  const quote = (text: string): string =>
    /[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text;
  const cell = (c: FileCell): string =>
    c === null
      ? ""
      : typeof c === "number"
        ? String(c)
        : typeof c === "string"
          ? quote(neutral(c))
          : decimalText(c.amount, c.currency);
  return (
    [
      ...head.map((line) => quote(neutral(line))),
      ...(head.length > 0 ? [""] : []),
      headers.map((h) => quote(neutral(h))).join(","),
      ...rows.map((r) => r.map(cell).join(",")),
    ].join("\r\n") + "\r\n"
  );
}

/**
 * Rows as a workbook (Office Open XML), as a person would set it up: what it is above the headings,
 * which stay in sight and are printed on every page; widths that fit; as wide as a page.
 * Figures are numbers with the currency's decimals.
 * A spreadsheet counts in binary fractions: amounts above 2^53 minor units would lose a cent there
 * and are written as text.
 */
export async function workbookOf(
  name: string,
  headers: readonly string[],
  rows: readonly FileRow[],
  head: readonly string[] = [],
): Promise<ArrayBuffer> {
  const { default: Excel } = await import("exceljs");
  const book = new Excel.Workbook();
  const sheet = book.addWorksheet(name.replace(/[\\/*?:[\]]/g, " ").slice(0, 31));
  head.forEach((line, i) => {
    sheet.addRow([neutral(line)]).font = i === 0 ? { bold: true, size: 14 } : {};
  });
  if (head.length > 0) sheet.addRow([]);
  const heading = sheet.addRow(headers.map(neutral));
  heading.font = { bold: true };
  heading.border = { bottom: { style: "thin" } };
  headers.forEach((_, i) => {
    if (rows.some((r) => typeof r.cells[i] === "object" && r.cells[i] !== null))
      heading.getCell(i + 1).alignment = { horizontal: "right" };
  });
  sheet.views = [{ state: "frozen", ySplit: heading.number }];
  sheet.pageSetup = {
    paperSize: 9,
    orientation: headers.length > 6 ? "landscape" : "portrait",
    fitToPage: true,
    fitToWidth: 1,
    fitToHeight: 0,
    printTitlesRow: `${heading.number}:${heading.number}`,
  };
  sheet.headerFooter.oddFooter = "&L&A&R&P / &N";
  for (const row of rows) {
    const added = sheet.addRow(
      row.cells.map((c) =>
        c === null
          ? null
          : typeof c === "string"
            ? neutral(c)
            : typeof c === "number"
              ? c
              : isSafe(c.amount)
                ? Number(decimalText(c.amount, c.currency))
                : decimalText(c.amount, c.currency),
      ),
    );
    if (row.strong) added.font = { bold: true };
    if (row.indent) added.getCell(1).alignment = { indent: row.indent };
    row.cells.forEach((c, i) => {
      if (typeof c === "object" && c !== null)
        added.getCell(i + 1).numFmt =
          exponentOf(c.currency) === 0 ? "#,##0" : `#,##0.${"0".repeat(exponentOf(c.currency))}`;
    });
  }
  headers.forEach(
    (h, i) =>
      (sheet.getColumn(i + 1).width = Math.min(
        60,
        Math.max(
          h.length + 2,
          ...rows.slice(0, 300).map((r) => cellText(r.cells[i] ?? null).length + 3),
        ),
      )),
  );
  return (await book.xlsx.writeBuffer()) as ArrayBuffer;
}

const isSafe = (n: bigint): boolean =>
  n <= BigInt(Number.MAX_SAFE_INTEGER) && n >= -BigInt(Number.MAX_SAFE_INTEGER);

/** A cell for people. */
export const cellText = (c: FileCell, style?: AmountStyle): string =>
  c === null ? "" : typeof c === "object" ? amountText(c.amount, c.currency, style) : String(c);
