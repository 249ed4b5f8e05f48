import { cellText, csvOf, workbookOf, type FileTable } from "@/core/files";
import type { AmountStyle } from "@/core/shared";
import { collected, INK, INK_2, INK_3, pdfPen } from "./pdfPen";

export type FileFormat = "csv" | "xlsx" | "pdf";
const TYPES: Record<FileFormat, string> = {
  csv: "text/csv; charset=utf-8",
  xlsx: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
  pdf: "application/pdf",
};

/** A report as a file to download. */
export async function tableFile(
  table: FileTable,
  format: FileFormat,
  style: AmountStyle = {},
  /** By whom, for what says so of itself; nothing for what is loaded again. */
  by?: string,
): Promise<Response> {
  const head = by === undefined ? [] : headOf(table, by);
  const body =
    format === "csv"
      ? `\ufeff${csvOf(
          table.headers,
          table.rows.map((r) => r.cells),
          head,
        )}`
      : format === "xlsx"
        ? await workbookOf(table.name, table.headers, table.rows, head)
        : await pdfOf(table, style, by === undefined ? "" : madeBy(by));
  return new Response(body as BodyInit, {
    headers: {
      "Content-Type": TYPES[format],
      "Content-Disposition": `attachment; filename="${table.name.replace(/[^A-Za-z0-9._-]/g, "-")}.${format}"`,
      "Cache-Control": "no-store",
    },
  });
}

/** A4, upright up to six columns and lying beyond; headings and page numbers on every page. */
/** What stands above a table in a file: what it is, of whom and when, in which currency, by whom. */
const headOf = (table: FileTable, by: string): string[] => [
  table.title,
  table.subtitle,
  madeBy(by),
];
const madeBy = (by: string): string =>
  `Made ${new Date().toISOString().slice(0, 16).replace("T", " ")} UTC by ${by}`;

async function pdfOf(
  table: FileTable,
  style: AmountStyle,
  made: string,
): Promise<Uint8Array<ArrayBuffer>> {
  const { default: PDFDocument } = await import("pdfkit");
  const lying = table.headers.length > 6;
  const document = new PDFDocument({
    size: "A4",
    layout: lying ? "landscape" : "portrait",
    margins: { top: 48, bottom: 48, left: 42, right: 42 },
    bufferPages: true,
    info: { Title: `${table.title}, ${table.subtitle}`, Creator: "Yellow Anchor" },
  });
  const { widthOf, write, rule } = pdfPen(document);
  const finish = collected(document);
  const width = document.page.width - 84;
  const figures =
    table.rows[0]?.cells.map((_, i) =>
      table.rows.some((r) => typeof r.cells[i] === "object" && r.cells[i] !== null),
    ) ?? [];
  const figureWidth = Math.min(104, (width * 0.68) / Math.max(1, figures.filter(Boolean).length));
  const words = figures.length - figures.filter(Boolean).length;
  const wordsWidth = width - figureWidth * figures.filter(Boolean).length;
  const weights =
    table.weights ?? figures.map((_f, i) => (i === 0 ? 22 : 78 / Math.max(1, words - 1)));
  const whole = figures.reduce((t, f, i) => (f ? t : t + (weights[i] ?? 1)), 0);
  const widths = figures.map((f, i) =>
    f ? figureWidth : (wordsWidth * (weights[i] ?? 1)) / whole,
  );
  let y = 0;
  const put = (text: string, x: number, w: number, right: boolean, strong: boolean) => {
    let shown = text;
    while (shown.length > 1 && widthOf(shown, strong, 8.5) > w - 4)
      shown = `${shown.slice(0, -2)}…`;
    write(shown, right ? x + w - 2 - widthOf(shown, strong, 8.5) : x, y, { strong, size: 8.5 });
  };
  const heading = () => {
    y = 40;
    write(table.title, 42, y, { strong: true, size: 15 });
    write(table.subtitle, 42, y + 20, { size: 9, colour: INK_2 });
    y += 42;
    let x = 42;
    table.headers.forEach((h, i) => {
      put(h, x, widths[i]!, figures[i]!, true);
      x += widths[i]!;
    });
    y += 13;
    rule(42, y, width);
    y += 4;
  };
  heading();
  for (const row of table.rows) {
    if (y > document.page.height - 66) {
      document.addPage();
      heading();
    }
    let x = 42;
    row.cells.forEach((c, i) => {
      const indent = i === 0 ? (row.indent ?? 0) * 10 : 0;
      put(cellText(c, style), x + indent, widths[i]! - indent, figures[i]!, row.strong ?? false);
      x += widths[i]!;
    });
    y += 13;
    rule(42, y - 2, width, row.double ? 1 : 0.3, row.double ? INK : "#e8eeee");
    if (row.double) rule(42, y, width, 0.5, INK);
  }
  const pages = document.bufferedPageRange().count;
  for (let i = 0; i < pages; i++) {
    document.switchToPage(i);
    // Below the bottom margin on purpose, which would otherwise begin a page.
    document.page.margins.bottom = 0;
    document
      .font("text-latin")
      .fontSize(8)
      .fillColor(INK_3)
      .text(`${made ? `${made} · ` : ""}${i + 1} of ${pages}`, 42, document.page.height - 34, {
        width,
        align: "right",
        lineBreak: false,
      });
  }
  return finish();
}
