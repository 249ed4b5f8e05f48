import { decimalText, exponentOf } from "@/core/shared";

export type ExportCell = string | number | null | { amount: bigint; currency: string };

/** A cell that a spreadsheet would take for a formula is given as text. */
export const neutral = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);

/** Rows as CSV (RFC 4180), amounts as plain decimals. */
export function csvOf(headers: readonly string[], rows: readonly (readonly ExportCell[])[]): string {
  const quote = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replace(/"/g, '""')}"` : text);
  const cell = (c: ExportCell): string => (c === null ? "" : typeof c === "number" ? String(c) : typeof c === "string" ? quote(neutral(c)) : decimalText(c.amount, c.currency));
  return [headers.map((h) => quote(neutral(h))).join(","), ...rows.map((r) => r.map(cell).join(","))].join("\r\n") + "\r\n";
}

export function exportCsv(name: string, headers: readonly string[], rows: readonly (readonly ExportCell[])[]): void {
  // The mark tells spreadsheets that the text is UTF-8.
  save(`${name}.csv`, new Blob(["\ufeff", csvOf(headers, rows)], { type: "text/csv" }));
}

export async function exportXlsx(name: string, headers: readonly string[], rows: readonly (readonly ExportCell[])[]): Promise<void> {
  const { Workbook } = await import("exceljs");
  const book = new Workbook();
  const sheet = book.addWorksheet(name.slice(0, 31));
  sheet.addRow([...headers]).font = { bold: true };
  sheet.views = [{ state: "frozen", ySplit: 1 }];
  for (const r of rows) {
    const added = sheet.addRow(r.map((c) => (c === null ? null : typeof c === "string" ? neutral(c) : typeof c === "number" ? c : Number(decimalText(c.amount, c.currency)))));
    r.forEach((c, i) => {
      if (typeof c === "object" && c !== null) added.getCell(i + 1).numFmt = exponentOf(c.currency) === 0 ? "#,##0" : `#,##0.${"0".repeat(exponentOf(c.currency))}`;
    });
  }
  headers.forEach((h, i) => (sheet.getColumn(i + 1).width = Math.min(60, Math.max(h.length + 2, ...rows.slice(0, 200).map((r) => String(typeof r[i] === "object" && r[i] !== null ? decimalText((r[i] as { amount: bigint }).amount, (r[i] as { currency: string }).currency) : (r[i] ?? "")).length + 2)))));
  save(`${name}.xlsx`, new Blob([await book.xlsx.writeBuffer()], { type: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet" }));
}

function save(name: string, blob: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
