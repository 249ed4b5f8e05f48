import { fail, isCurrency, ok, type Found, type Result } from "../shared";
import { ACCOUNT_TYPES, CONTROL_KINDS } from "./types";

const RULES = ["required", "allowed", "forbidden"] as const;
/** Columns of a chart as a file; one more stands for each dimension, with its rule. */
export const CHART_COLUMNS = [
  "number",
  "name",
  "type",
  "control",
  "monetary",
  "heading",
  "blocked",
  "companies",
  "currency",
] as const;
const NEEDED = ["number", "name", "type"] as const;
const NUMBER = /^[0-9A-Z][0-9A-Z.-]{0,19}$/;

export interface HeadingEntry {
  code: string;
  name: string;
  /** Code of the heading above it; null at the top. */
  parent: string | null;
}
export interface AccountEntry {
  number: string;
  name: string;
  type: string;
  control: string | null;
  monetary: boolean;
  heading: string;
  blocked: boolean;
  companies: string[];
  /** The only one that it takes; null for any. */
  currency: string | null;
  /** By the code of the dimension. */
  rules: Record<string, string>;
}
export interface KnownChart {
  headings: readonly HeadingEntry[];
  accounts: readonly AccountEntry[];
  dimensions: readonly { code: string; name: string }[];
  companies: readonly string[];
}

/** What a file would do to one heading or account. */
export interface ChartChange {
  row: number;
  kind: "heading" | "account";
  number: string;
  name: string;
  what: "added" | "changed";
  /** As "name: Rent, was Hire"; empty for what is added. */
  differences: string[];
}
export interface ChartPlan {
  /** Those to be written, each after the one above it. */
  headings: HeadingEntry[];
  accounts: AccountEntry[];
  changes: ChartChange[];
  same: number;
}

const yes = (text: string | undefined) => /^(yes|true|1|x)$/i.test((text ?? "").trim());
const shown = (value: unknown) =>
  Array.isArray(value) ? value.join(" ") || "all" : String(value ?? "none");

/** What differs between two of a kind, field by field. */
function differences(before: object, after: object): string[] {
  const was = before as Record<string, unknown>;
  return Object.entries(after).flatMap(([key, now]) => {
    if (key === "rules") return ruleDifferences(was[key] as AccountEntry["rules"], now as object);
    return shown(was[key]) === shown(now) ? [] : [`${key}: ${shown(now)}, was ${shown(was[key])}`];
  });
}
/** A dimension without a rule is allowed. */
const ruleDifferences = (before: AccountEntry["rules"], after: object): string[] =>
  Object.entries(after).flatMap(([dimension, now]) => {
    const was = before[dimension] ?? "allowed";
    return was === now ? [] : [`${dimension}: ${String(now)}, was ${was}`];
  });

/**
 * Reads a chart of accounts out of rows by heading: rows of type "heading" are headings, under the
 * one that their column heading names; the others are accounts. A column that the file does not
 * have leaves what is known as it is. Checked as a whole: with one problem nothing is planned.
 * Errors: INVALID, with the row of the file in its sentence (the headings are row 1).
 */
export function readChart(
  rows: readonly Readonly<Record<string, string>>[],
  known: KnownChart,
): Result<ChartPlan> {
  const columns = new Set(rows.flatMap((r) => Object.keys(r)));
  const missing = NEEDED.filter((c) => !columns.has(c));
  if (missing.length > 0)
    return fail({ code: "INVALID", what: `The column ${missing.join(", ")} is missing` });
  const problems: Found[] = [];
  const headings = new Map(known.headings.map((h) => [h.code, h]));
  const accounts = new Map(known.accounts.map((a) => [a.number, a]));
  const written = new Map<string, number>();
  const plan: ChartPlan = { headings: [], accounts: [], changes: [], same: 0 };
  const pending: { row: number; account: AccountEntry }[] = [];
  rows.forEach((cells, i) => {
    const row = i + 2;
    const bad = (what: string, field: string) =>
      void problems.push({ code: "INVALID", what: `Row ${row}: ${what}`, field });
    const cell = (name: string) => (cells[name] ?? "").trim();
    const number = cell("number");
    if (!NUMBER.test(number)) return bad(`“${number.slice(0, 30)}” is no account number`, "number");
    if (written.has(number))
      return bad(`${number} stands in row ${written.get(number)} already`, "number");
    written.set(number, row);
    const name = cell("name");
    if (name === "") bad("the name is missing", "name");
    if (name.length > 80) bad("the name is longer than 80 characters", "name");
    const type = cell("type").toLowerCase();
    const under = cell("heading");
    if (type === "heading") {
      if (accounts.has(number)) return bad(`${number} is an account already`, "type");
      const before = headings.get(number);
      const parent = columns.has("heading") ? under || null : (before?.parent ?? null);
      const heading = { code: number, name, parent };
      headings.set(number, heading);
      note(plan, row, "heading", before, heading, number, () => plan.headings.push(heading));
      return;
    }
    if (!(ACCOUNT_TYPES as readonly string[]).includes(type))
      bad(
        `“${type.slice(0, 30)}” is no account type; use heading, ${ACCOUNT_TYPES.join(", ")}`,
        "type",
      );
    const control = cell("control");
    if (control && !(CONTROL_KINDS as readonly string[]).includes(control))
      bad(
        `“${control.slice(0, 30)}” is no control kind; use ${CONTROL_KINDS.join(", ")} or nothing`,
        "control",
      );
    const before = accounts.get(number);
    const companies = cell("companies")
      .split(/[\s,;]+/)
      .filter((c) => c !== "");
    for (const c of companies)
      if (!known.companies.includes(c)) bad(`there is no company ${c.slice(0, 20)}`, "companies");
    const currency = cell("currency").toUpperCase();
    if (currency !== "" && !isCurrency(currency))
      bad(`“${currency.slice(0, 10)}” is no currency code of ISO 4217`, "currency");
    const rules: Record<string, string> = { ...before?.rules };
    for (const d of known.dimensions) {
      const rule = (cell(d.code.toLowerCase()) || cell(d.name.toLowerCase())).toLowerCase();
      if (rule === "") continue;
      if ((RULES as readonly string[]).includes(rule)) rules[d.code] = rule;
      else
        bad(
          `“${rule.slice(0, 30)}” is no rule for ${d.name.toLowerCase()}; use ${RULES.join(", ")}`,
          d.code,
        );
    }
    const has = (column: string) => columns.has(column) || !before;
    pending.push({
      row,
      account: {
        number,
        name,
        type,
        control: has("control") ? control || null : before!.control,
        monetary: has("monetary") ? yes(cells.monetary) : before!.monetary,
        heading: under || before?.heading || "",
        blocked: has("blocked") ? yes(cells.blocked) : before!.blocked,
        companies: has("companies") ? companies : before!.companies,
        currency: has("currency") ? currency || null : before!.currency,
        rules,
      },
    });
  });
  for (const { row, account } of pending) {
    const bad = (what: string, field: string) =>
      void problems.push({ code: "INVALID", what: `Row ${row}: ${what}`, field });
    if (headings.has(account.number)) bad(`${account.number} is a heading already`, "type");
    if (account.heading === "") bad("the heading is missing", "heading");
    else if (!headings.has(account.heading))
      bad(`there is no heading ${account.heading.slice(0, 20)}`, "heading");
    note(plan, row, "account", accounts.get(account.number), account, account.number, () =>
      plan.accounts.push(account),
    );
  }
  for (const { code, parent } of headings.values()) {
    const row = written.has(code) ? `Row ${written.get(code)}: ` : "";
    if (parent !== null && !headings.has(parent))
      problems.push({ code: "INVALID", what: `${row}there is no heading ${parent.slice(0, 20)}` });
    else if (liesBelowItself(code, headings))
      problems.push({ code: "INVALID", what: `${row}heading ${code} lies below itself` });
  }
  if (problems.length > 0) return fail(...problems);
  plan.headings = parentsFirst(plan.headings);
  plan.changes.sort((a, b) => a.row - b.row);
  return ok(plan);
}

function note(
  plan: ChartPlan,
  row: number,
  kind: ChartChange["kind"],
  before: object | undefined,
  after: { name: string },
  number: string,
  write: () => void,
): void {
  const found = before ? differences(before, after) : [];
  if (before && found.length === 0) {
    plan.same++;
    return;
  }
  write();
  plan.changes.push({
    row,
    kind,
    number,
    name: after.name,
    what: before ? "changed" : "added",
    differences: found,
  });
}

/** Whether going up from a heading comes back to it. */
export function liesBelowItself(
  code: string,
  headings: ReadonlyMap<string, Pick<HeadingEntry, "parent">>,
): boolean {
  const seen = new Set<string>();
  for (let at: string | null | undefined = code; at; at = headings.get(at)?.parent) {
    if (seen.has(at)) return true;
    seen.add(at);
  }
  return false;
}

function parentsFirst(list: readonly HeadingEntry[]): HeadingEntry[] {
  const left = new Map(list.map((h) => [h.code, h]));
  const sorted: HeadingEntry[] = [];
  const take = (h: HeadingEntry) => {
    if (!left.delete(h.code)) return;
    const above = h.parent === null ? undefined : left.get(h.parent);
    if (above) take(above);
    sorted.push(h);
  };
  for (const h of list) take(h);
  return sorted;
}
