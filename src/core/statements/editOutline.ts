import { fail, ok, type Found, type Result } from "../shared";
import type { LineKind, Outline, OutlineLine } from "./types";

export const LINE_KINDS: readonly LineKind[] = [
  "accounts",
  "total",
  "heading",
  "result",
  "uncarried",
];

/**
 * A line as a person writes it. Ranges and codes are lists with commas: "5000-5199, 5300" and
 * "revenue, fuel".
 */
export interface WrittenLine {
  code: string;
  label: string;
  level: number;
  kind: LineKind;
  ranges: string;
  of: string;
  positive: "debit" | "credit";
  rule: "" | "single" | "double";
}

const pieces = (text: string): string[] =>
  text
    .split(/[,;\n]/)
    .map((t) => t.trim())
    .filter(Boolean);

export const rangesText = (line: OutlineLine): string =>
  (line.ranges ?? []).map((r) => (r.from === r.to ? r.from : `${r.from}-${r.to}`)).join(", ");

/**
 * Puts a line into an outline, in the place of the one with its code or after another, and checks
 * the whole.
 * `after` null keeps the place of a line that is there, and puts a new one at the end; "" puts it
 * first.
 * Errors: INVALID at the field, also where a total would contain itself.
 */
export function putLine(
  outline: Pick<Outline, "kind" | "lines">,
  written: WrittenLine,
  after: string | null,
): Result<readonly OutlineLine[]> {
  const problems: Found[] = [];
  const wrong = (field: string, what: string) => problems.push({ code: "INVALID", what, field });
  const ranges =
    written.kind === "accounts"
      ? pieces(written.ranges).map(
          (text) =>
            readRange(text) ??
            (wrong(
              "ranges",
              `“${text.slice(0, 40)}” is not a range of account numbers like 5000-5199`,
            ),
            { from: "", to: "" }),
        )
      : [];
  if (written.kind === "accounts" && ranges.length === 0)
    wrong("ranges", "A line over accounts needs at least one range like 5000-5199");
  const of = written.kind === "total" ? pieces(written.of) : [];
  if (written.kind === "total" && of.length === 0)
    wrong("of", "A total needs the codes of the lines that it adds up");
  const line: OutlineLine = {
    code: written.code,
    label: written.label,
    level: written.level,
    kind: written.kind,
    positive: written.positive,
    ...(written.kind === "accounts" ? { ranges } : {}),
    ...(written.kind === "total" ? { of } : {}),
    ...(written.rule ? { rule: written.rule } : {}),
  };
  const before = outline.lines.findIndex((l) => l.code === line.code);
  const others = outline.lines.filter((l) => l.code !== line.code);
  const target =
    after === null
      ? before < 0
        ? others.length
        : before
      : after === ""
        ? 0
        : others.findIndex((l) => l.code === after) + 1;
  if (after && target === 0) wrong("after", `There is no line ${after} to stand after`);
  const lines = [...others.slice(0, target), line, ...others.slice(target)];
  for (const code of of)
    if (!lines.some((l) => l.code === code && l.kind !== "heading"))
      wrong("of", `There is no line ${code.slice(0, 40)} with figures`);
  if (reaches(lines, line.code, line.code)) wrong("of", "A total cannot contain itself");
  if ((line.kind === "result" || line.kind === "uncarried") && outline.kind !== "position")
    wrong("kind", "Only a statement of position computes this line");
  if (
    (line.kind === "result" || line.kind === "uncarried") &&
    others.some((l) => l.kind === line.kind)
  )
    wrong("kind", "There is such a line already");
  return problems.length > 0 ? { ok: false, problems } : ok(lines);
}

/** Takes a line out. Errors: NOT_FOUND; IN_USE where a total adds it up. */
export function removeLine(
  outline: Pick<Outline, "lines">,
  code: string,
): Result<readonly OutlineLine[]> {
  if (!outline.lines.some((l) => l.code === code))
    return fail({ code: "NOT_FOUND", what: `line ${code.slice(0, 40)}` });
  const total = outline.lines.find((l) => l.of?.includes(code));
  if (total)
    return fail({
      code: "IN_USE",
      what: `${total.label} adds this line up. Take it out of that total first`,
    });
  return ok(outline.lines.filter((l) => l.code !== code));
}

function readRange(text: string): { from: string; to: string } | null {
  const match = /^([0-9A-Z.]{1,20})(?:\s*[-–]\s*([0-9A-Z.]{1,20}))?$/.exec(text);
  if (!match) return null;
  const [, from = "", to = from] = match;
  return from.padEnd(20, "0") <= to.padEnd(20, "9") ? { from, to } : null;
}

/** Whether a total contains a line, however deep. */
function reaches(
  lines: readonly OutlineLine[],
  from: string,
  to: string,
  seen: ReadonlySet<string> = new Set(),
): boolean {
  if (seen.has(from)) return false;
  const below = lines.find((l) => l.code === from)?.of ?? [];
  return below.some((code) => code === to || reaches(lines, code, to, new Set([...seen, from])));
}
