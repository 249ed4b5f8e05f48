import { object, number, string } from "yup";
import { ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";

/**
 * A workbook to write journals in: a column for each dimension of this installation, drop-down
 * lists of accounts and values, running totals of
 * debits and credits in the first row, as many rows as wanted. The load reads it back.
 */
export const loadTemplate = defineUseCase({
  name: "loadTemplate",
  kind: "read",
  rights: ["prepare.ledger"],
  what: "prepare journals",
  company: (i) => i.company,
  schema: object({
    company: string().required(),
    rows: number().integer().min(1).max(20_000).default(200),
  }),
  run: async ({ masters }, input): Promise<Result<Uint8Array>> => {
    const { default: Excel } = await import("exceljs");
    const book = new Excel.Workbook();
    const sheet = book.addWorksheet("Journals");
    const lists = book.addWorksheet("Lists");
    const last = input.rows + 2;
    const headings = [
      "Journal",
      "Date",
      "Reference",
      "Account",
      ...masters.dimensions.map((d) => d.name),
      "Description",
      "Debit",
      "Credit",
    ];
    const column = (name: string) => sheet.getColumn(headings.indexOf(name) + 1).letter;
    // The totals stand above the headings, where they stay in sight however many rows there are;
    // the load sets that row aside.
    sheet.addRow(headings.map((h) => (h === "Description" ? "Totals" : null)));
    for (const side of ["Debit", "Credit"])
      sheet.getCell(`${column(side)}1`).value = {
        formula: `SUM(${column(side)}3:${column(side)}${last})`,
        result: 0,
      };
    sheet.addRow(headings);
    for (const row of [1, 2]) sheet.getRow(row).font = { bold: true };
    sheet.views = [{ state: "frozen", ySplit: 2 }];
    const addList = (at: number, title: string, codes: readonly string[], target: string) => {
      lists.getCell(1, at).value = title;
      codes.forEach((code, i) => (lists.getCell(i + 2, at).value = code));
      const letter = lists.getColumn(at).letter;
      if (codes.length === 0) return;
      for (let row = 3; row <= last; row++)
        sheet.getCell(`${column(target)}${row}`).dataValidation = {
          type: "list",
          allowBlank: true,
          formulae: [`Lists!$${letter}$2:$${letter}$${codes.length + 1}`],
          showErrorMessage: false,
        };
    };
    const manual = new Set(masters.types.filter((t) => t.manual).flatMap((t) => t.controls));
    const accounts = masters.accounts.filter(
      (a) => !a.blocked && (!a.control || manual.has(a.control)),
    );
    addList(
      1,
      "Account",
      accounts.map((a) => a.number),
      "Account",
    );
    lists.getCell(1, 2).value = "Name";
    accounts.forEach((a, i) => (lists.getCell(i + 2, 2).value = a.name));
    masters.dimensions.forEach((d, k) =>
      addList(
        3 + k,
        d.name,
        masters.dimensionValues
          .filter((v) => v.dimensionId === d.id && !v.blocked)
          .map((v) => v.code),
        d.name,
      ),
    );
    headings.forEach((h, i) => (sheet.getColumn(i + 1).width = h === "Description" ? 40 : 16));
    for (const side of ["Debit", "Credit"])
      sheet.getColumn(headings.indexOf(side) + 1).numFmt = "#,##0.00";
    sheet.getColumn(headings.indexOf("Date") + 1).numFmt = "yyyy-mm-dd";
    return ok(new Uint8Array((await book.xlsx.writeBuffer()) as ArrayBuffer));
  },
});
