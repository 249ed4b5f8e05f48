import { mixed } from "yup";

/**
 * A Yup schema for an object of texts with keys that are not known beforehand. Null and undefined
 * entries are read as empty. Errors: more than `most` entries, keys over 60 or texts over 1,000
 * characters.
 */
export const textRecord = (most = 32) =>
  mixed<Record<string, string>>(
    (value): value is Record<string, string> =>
      typeof value === "object" && value !== null && !Array.isArray(value),
  )
    .transform((value: unknown) =>
      typeof value === "object" && value !== null && !Array.isArray(value)
        ? Object.fromEntries(
            Object.entries(value).map(([k, v]) => [
              k,
              v === null || v === undefined ? "" : typeof v === "object" ? "?" : String(v),
            ]),
          )
        : value,
    )
    .test(
      "size",
      "Too many entries or too long",
      (value) =>
        !value ||
        (Object.keys(value).length <= most &&
          Object.entries(value).every(([k, v]) => k.length <= 60 && v.length <= 1000)),
    )
    .default({});

/** Columns of a table that is loaded: all that partners have fit in, and what people add. */
const MOST_COLUMNS = 120;

/**
 * A row of a table by its headings. A heading is the same however its letters are written, so that
 * files, whose headings people write, and programs name the same columns; read it by `cellAt`.
 */
export const tableRow = () =>
  textRecord(MOST_COLUMNS).transform((row: Record<string, string>) =>
    typeof row === "object" && row !== null
      ? Object.fromEntries(Object.entries(row).map(([k, v]) => [k.trim().toLowerCase(), v]))
      : row,
  );

/** What stands in a row under a heading; undefined where the table has no such column. */
export const cellAt = (
  row: Readonly<Record<string, string>>,
  heading: string,
): string | undefined => row[heading.toLowerCase()];
