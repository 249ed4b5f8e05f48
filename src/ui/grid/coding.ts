import { amountText, compute, exponentOf, readAmount, readFigure } from "@/core/shared";
import type { GridColumn, LookupOption } from "./EntryGrid";
import type { CellChange, GridRow } from "./gridModel";

/** What a line can be coded with. */
export interface CodingLookups {
  accounts: (LookupOption & {
    rules: Record<string, string>;
    units: boolean;
    partner: boolean;
    moved: boolean;
  })[];
  dimensions: {
    code: string;
    name: string;
    values: { code: string; name: string; proposes: Record<string, string> }[];
  }[];
  /** Suppliers and customers; only where lines name them. */
  partners?: { code: string; name: string }[];
  shortcuts: {
    name: string;
    account: string;
    dimensions: Record<string, string>;
    description: string;
  }[];
}

/**
 * The cells of a line that say where it goes: the account and each dimension, with what the account
 * wants of them.
 */
export function codingColumns(
  lookups: CodingLookups,
  { wide = false, movedOnly = false }: { wide?: boolean; movedOnly?: boolean } = {},
): GridColumn[] {
  const rules = new Map(lookups.accounts.map((a) => [a.code, a.rules]));
  const accounts = [
    ...lookups.accounts.filter((a) => !movedOnly || a.moved),
    ...lookups.shortcuts.map((s) => ({
      code: `@${s.name}`,
      name: [s.account, ...Object.values(s.dimensions).filter(Boolean), s.description].join(" · "),
    })),
  ];
  return [
    {
      key: "account",
      header: "Account",
      width: wide ? 230 : 300,
      kind: "lookup",
      options: accounts,
    },
    ...lookups.dimensions.map((d): GridColumn => ({
      key: `d.${d.code}`,
      header: d.name,
      width: wide ? 116 : 158,
      kind: "lookup",
      options: d.values,
      optional: true,
      state: (row) => {
        const rule = rules.get(row.account ?? "")?.[d.code];
        return rule === "required" || rule === "forbidden" ? rule : undefined;
      },
    })),
  ];
}

type Option = LookupOption & { proposes?: Record<string, string> };
const maps = new WeakMap<CodingLookups, ReadonlyMap<string, ReadonlyMap<string, Option>>>();
/** Options by column and code in small letters: thousands of pasted cells ask for them. */
function codesOf(lookups: CodingLookups): ReadonlyMap<string, ReadonlyMap<string, Option>> {
  const known = maps.get(lookups);
  if (known) return known;
  const byCode = (options: readonly Option[]) =>
    new Map(options.map((o) => [o.code.toLowerCase(), o]));
  const made = new Map([
    ["account", byCode(lookups.accounts)],
    ["partner", byCode(lookups.partners ?? [])],
    ...lookups.dimensions.map((d) => [`d.${d.code}`, byCode(d.values)] as const),
  ]);
  maps.set(lookups, made);
  return made;
}

/**
 * Takes over what came into a cell of the coding: a shortcut fills the line, a value what it
 * proposes; an account that is typed takes what it needs from above. Null for any other cell.
 */
export function commitCoding(
  lookups: CodingLookups,
  now: readonly GridRow[],
  c: CellChange,
  typed = false,
): CellChange[] | null {
  const text = c.value.trim();
  if (c.key === "account" && text.startsWith("@")) {
    const shortcut = lookups.shortcuts.find((s) => s.name === text.slice(1).toLowerCase());
    if (!shortcut) return [c];
    const own = now[c.row]?.description?.trim();
    return [
      { ...c, value: shortcut.account },
      ...lookups.dimensions.map((d) => ({
        row: c.row,
        key: `d.${d.code}`,
        value: shortcut.dimensions[d.code] ?? "",
      })),
      ...(shortcut.description && !own
        ? [{ row: c.row, key: "description", value: shortcut.description }]
        : []),
    ];
  }
  const options = codesOf(lookups).get(c.key);
  if (!options) return null;
  const exact = options.get(text.toLowerCase());
  const changes: CellChange[] = [{ ...c, value: exact?.code ?? text }];
  if (exact?.proposes)
    for (const [dimension, value] of Object.entries(exact.proposes))
      if (!now[c.row]?.[`d.${dimension}`])
        changes.push({ row: c.row, key: `d.${dimension}`, value });
  if (typed && c.key === "account" && exact)
    changes.push(...fromAbove(lookups, now, { row: c.row, account: exact.code }));
  return changes;
}

/**
 * What the account of a line that is typed needs and the line does not say yet, as the nearest line
 * above that says it: the cost centre of the first line flows down.
 */
function fromAbove(
  lookups: CodingLookups,
  now: readonly GridRow[],
  { row, account }: { row: number; account: string },
): CellChange[] {
  const wanted = lookups.accounts.find((a) => a.code === account);
  if (!wanted) return [];
  const keys = [
    ...lookups.dimensions.flatMap((d) =>
      wanted.rules[d.code] === "required" ? [`d.${d.code}`] : [],
    ),
    ...(wanted.partner ? ["partner"] : []),
  ];
  return keys.flatMap((key) => {
    const value = now[row]?.[key] ? "" : now.slice(0, row).findLast((r) => r[key])?.[key];
    return value ? [{ row, key, value }] : [];
  });
}

/**
 * An amount as people read it: what was typed after "=" is computed; a decimal comma is understood
 * where it can be nothing else ("1500,75", "1.234,50"); what is no amount stays as it is.
 */
export function tidyAmount(text: string, currency: string): string {
  const typed = text.trim();
  const computed = typed.startsWith("=") ? compute(typed.slice(1), exponentOf(currency)) : null;
  const ours = readAmount(computed ?? typed, currency);
  const reading =
    !ours.ok && ours.fault === "not-a-number"
      ? readFigure(typed, currency, { decimal: ",", group: "." })
      : ours;
  return reading.ok && typed ? amountText(reading.amount, currency) : typed;
}
