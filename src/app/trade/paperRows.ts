import type { GridRow } from "@/ui/grid/gridModel";

type Coded = { dimensions: Record<string, string> };

/** Lines of a trade document as rows of the grid, and back: cells by name, dimensions as "d.code". */
export function paperRows<L extends Coded>(cells: readonly (keyof L & string)[]) {
  return {
    toRow: (line: L): GridRow => ({
      ...Object.fromEntries(cells.flatMap((k) => (line[k] ? [[k, line[k] as string]] : []))),
      ...Object.fromEntries(Object.entries(line.dimensions).map(([k, v]) => [`d.${k}`, v])),
    }),
    toLine: (row: GridRow): L =>
      ({
        ...Object.fromEntries(cells.map((k) => [k, row[k] ?? ""])),
        dimensions: Object.fromEntries(
          Object.entries(row).flatMap(([k, v]) => (k.startsWith("d.") ? [[k.slice(2), v]] : [])),
        ),
      }) as L,
  };
}

/** The cells by which a partner's lines are usually coded. */
export const usualRow = (partner: {
  account: string;
  dimensions: Readonly<Record<string, string>>;
  taxCode: string;
  shares: string;
}): GridRow => ({
  account: partner.account,
  ...Object.fromEntries(Object.entries(partner.dimensions).map(([k, v]) => [`d.${k}`, v])),
  ...(partner.taxCode ? { taxCode: partner.taxCode } : {}),
  ...(partner.shares ? { shares: partner.shares } : {}),
});
