import { describeFound } from "./problem";
import type { Found } from "./result";

/** What is wrong with a row of a table, said with its number in the file. */
export const atRow = (row: number, problem: Found): Found =>
  said(`Row ${row}`, problem, problem.field);

/** What its schema has against a row: the same, with the column, which the text does not name. */
export function atCell(row: number, problem: Found): Found {
  const column = problem.field?.replace(/\[.*$/, "");
  return said(column ? `Row ${row}, ${column}` : `Row ${row}`, problem, column);
}

function said(where: string, problem: Found, field: string | undefined): Found {
  const text = describeFound({ ...problem, line: undefined } as never).replace(/\.$/, "");
  return { code: "INVALID", what: `${where}: ${text}`, ...(field === undefined ? {} : { field }) };
}
