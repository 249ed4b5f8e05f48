import { amountText, readAmount } from "@/core/shared";
import { commitCoding, tidyAmount, type CodingLookups } from "@/ui/grid/coding";
import type { GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";

export interface Named {
  code: string;
  name: string;
}

/** What the lines and the head of every trade document are written with. */
export interface PaperLookups extends CodingLookups {
  terms: Named[];
  taxes: Named[];
  withheld: Named[];
  shares: Named[];
}

/** The company that bears or earns a line, where it is another one of the group. */
export const companyColumn = (companies: readonly Named[], own: string): GridColumn => ({
  key: "company",
  header: "Company",
  width: 92,
  kind: "lookup",
  options: companies.map((c) => ({ code: c.code, name: c.name })),
  optional: true,
  inherited: (row) => (row.account ? own : ""),
});

/** None where there are no shares. */
export const sharesColumns = (shares: Named[]): GridColumn[] =>
  shares.length === 0
    ? []
    : [
        {
          key: "shares",
          header: "Shares",
          width: 82,
          kind: "lookup",
          optional: true,
          options: shares,
        },
      ];

export const descriptionColumn = (ofPaper: string): GridColumn => ({
  key: "description",
  header: "Description",
  kind: "text",
  optional: true,
  inherited: (row) => (row.account ? ofPaper : ""),
});

export const taxColumn = (taxes: Named[]): GridColumn => ({
  key: "taxCode",
  header: "Tax",
  width: 96,
  kind: "lookup",
  options: taxes,
  state: (row) => (row.account ? "required" : undefined),
});

interface Committing {
  lookups: PaperLookups;
  companies: readonly Named[];
  /** The partner's usual tax code. */
  usualTax: string | undefined;
  currency: string;
  /** What the paper says in all, as written. */
  total: string;
}

const byCode = (list: readonly Named[], text: string): string =>
  list.find((o) => o.code.toLowerCase() === text.toLowerCase())?.code ?? text;

/**
 * What is typed into a cell of any trade document becomes: codes as they are written, the coding
 * that a shortcut or an account brings, and for "=" in an amount what the paper says, less the other
 * lines.
 */
export function commitPaper(
  now: readonly GridRow[],
  c: CellChange,
  typed: boolean,
  known: Committing,
): CellChange[] {
  const { lookups, currency } = known;
  const text = c.value.trim();
  if (c.key === "company") return [{ ...c, value: byCode(known.companies, text) }];
  if (c.key === "taxCode") return [{ ...c, value: byCode(lookups.taxes, text) }];
  if (c.key === "shares") return [{ ...c, value: byCode(lookups.shares, text) }];
  if (c.key === "net") {
    if (text !== "=") return [{ ...c, value: tidyAmount(text, currency) }];
    // Exact where the line has no tax of its own yet.
    const total = readAmount(known.total, currency);
    const others = now.reduce((sum, r, i) => {
      const a = i === c.row ? null : readAmount(r.net ?? "", currency);
      return a?.ok ? sum + a.amount : sum;
    }, 0n);
    return [{ ...c, value: total.ok ? amountText(total.amount - others, currency) : "" }];
  }
  const changes = commitCoding(lookups, now, c, typed) ?? [c];
  // A line that gets its account takes the tax of the partner, or of the line above it.
  const usual = now[c.row - 1]?.taxCode || known.usualTax;
  return c.key === "account" && text && usual && !now[c.row]?.taxCode
    ? [...changes, { row: c.row, key: "taxCode", value: usual }]
    : changes;
}

interface Problem {
  line: number | null;
  field: string | null;
  message: string;
}

/** What stands against the lines, by row and cell. */
export function marksOf(
  problems: readonly Problem[],
  dimensions: readonly { code: string }[],
): Map<string, string> {
  const codes = new Set(dimensions.map((d) => d.code));
  return new Map(
    problems.flatMap((p) =>
      p.line === null
        ? []
        : [
            [
              `${p.line - 1}:${p.field && codes.has(p.field) ? `d.${p.field}` : (p.field ?? "account")}`,
              p.message.replace(/^Line \d+: /, ""),
            ] as const,
          ],
    ),
  );
}
