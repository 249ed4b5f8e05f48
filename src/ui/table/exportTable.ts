import { csvOf, workbookOf, type FileCell } from "@/core/files";

export type ExportCell = FileCell;

export function exportCsv(
  name: string,
  headers: readonly string[],
  rows: readonly (readonly FileCell[])[],
  head: readonly string[],
): void {
  // The mark tells spreadsheets that the text is UTF-8.
  save(`${name}.csv`, new Blob(["\ufeff", csvOf(headers, rows, head)], { type: "text/csv" }));
}

export async function exportXlsx(
  name: string,
  headers: readonly string[],
  rows: readonly (readonly FileCell[])[],
  head: readonly string[],
): Promise<void> {
  const content = await workbookOf(
    name,
    headers,
    rows.map((cells) => ({ cells })),
    head,
  );
  save(
    `${name}.xlsx`,
    new Blob([content], {
      type: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    }),
  );
}

function save(name: string, blob: Blob): void {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(blob);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
