import {
  isCurrency,
  looksLikeFigure,
  readDateIn,
  readDateMarks,
  readNumberMarks,
  readTableFigure,
} from "../shared";
import type { LoadField } from "./loadHeadings";

/** Codes by which columns without headings are recognised. */
export interface KnownCodes {
  accounts: ReadonlySet<string>;
  companies: ReadonlySet<string>;
  /** By code of the dimension. */
  values: ReadonlyMap<string, ReadonlySet<string>>;
}

export interface Recognised {
  fields: (LoadField | null)[];
  /** Columns of figures whose meaning has to be asked for, from 0. */
  open: number[];
}

const MOSTLY = 0.9;

/**
 * What columns mean, by their values, where no heading says so.
 * Rule: a column is what nine in ten of its cells are (a code that exists, a date, a currency); the
 * longest texts are the description; one column of figures that adds up to zero is the signed
 * amount. Two columns of figures could be debit and credit either way round and would balance in
 * both: they are left open, for a person to say.
 */
export function recogniseColumns(
  table: readonly (readonly string[])[],
  given: readonly (LoadField | null)[],
  codes: KnownCodes,
): Recognised {
  const width = Math.max(given.length, ...table.slice(0, 50).map((r) => r.length));
  const cellsOf = (i: number) =>
    table.slice(0, 1000).flatMap((r) => (r[i]?.trim() ? [r[i].trim()] : []));
  const fields: (LoadField | null)[] = Array.from({ length: width }, (_, i) => given[i] ?? null);
  const claim = (field: LoadField, fits: (cell: string) => boolean) => {
    if (fields.includes(field)) return;
    const rated = fields.map((f, i) => {
      const cells = f === null ? cellsOf(i) : [];
      return cells.length === 0 ? 0 : cells.filter(fits).length / cells.length;
    });
    const best = Math.max(...rated);
    if (best >= MOSTLY) fields[rated.indexOf(best)] = field;
  };
  claim("account", (c) => codes.accounts.has(c));
  for (const [dimension, values] of codes.values)
    claim(`d.${dimension}`, (c) => values.has(c) || values.has(c.toUpperCase()));
  claim("company", (c) => codes.companies.has(c.toUpperCase()));
  claim("currency", (c) => isCurrency(c.toUpperCase()));
  claim("date", (c) => {
    const written = !/^\d+$/.test(c) || c.length === 8;
    return written && readDateIn(c, readDateMarks([c]).order) !== null;
  });
  const open = fields.flatMap((f, i) => {
    const cells = f === null ? cellsOf(i) : [];
    return cells.length > 0 && cells.filter(looksLikeFigure).length >= cells.length * MOSTLY
      ? [i]
      : [];
  });
  const placed = (["debit", "credit", "amount"] as const).some((f) => fields.includes(f));
  if (
    open.length === 1 &&
    !placed &&
    balances(table.flatMap((r) => (r[open[0]!]?.trim() ? [r[open[0]!]!] : [])))
  ) {
    fields[open[0]!] = "amount";
    open.pop();
  }
  if (!fields.includes("description")) {
    const lengths = fields.map((f, i) =>
      f === null && !open.includes(i) ? cellsOf(i).reduce((n, c) => n + c.length, 0) : 0,
    );
    const longest = Math.max(...lengths);
    if (longest > 0) fields[lengths.indexOf(longest)] = "description";
  }
  return { fields, open: placed ? [] : open };
}

/**
 * The meanings of a table with headings: those that are understood, and for the columns that are not,
 * whatever their codes say. What is text or figures under a strange heading stays without a meaning.
 */
export function recogniseUnderHeadings(
  table: readonly (readonly string[])[],
  understood: readonly (LoadField | null)[],
  codes: KnownCodes,
): (LoadField | null)[] {
  const { fields } = recogniseColumns(table, understood, codes);
  const byCodes = (f: LoadField | null): boolean =>
    f !== null && (f === "account" || f === "company" || f.startsWith("d."));
  return understood.map((own, i) => own ?? (byCodes(fields[i] ?? null) ? fields[i]! : null));
}

/** Signed figures that add up to zero. */
function balances(cells: readonly string[]): boolean {
  const { format } = readNumberMarks(cells);
  const read = cells.map((c) => readTableFigure(c, "KWD", format));
  return (
    read.some((r) => r.ok && r.amount !== 0n) &&
    read.every((r) => r.ok) &&
    read.reduce((sum, r) => sum + (r.ok ? r.amount : 0n), 0n) === 0n
  );
}
