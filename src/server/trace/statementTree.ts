import { isResult, type Account } from "@/core/ledger";
import { catchAccounts, layoutOf, resolveColumns, type OutlineLine } from "@/core/statements";
import type { FigureRef, TraceNode, TraceSpan } from "@/core/trace";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import type { ReportPlace } from "../ledger";
import { readOutlines } from "../statements";
import { earlierYears } from "./earlierYears";

/** The tree of a figure of a statement: totals down to the accounts that each line catches. */
export async function statementTree(
  context: Context,
  place: ReportPlace,
  ref: Extract<FigureRef, { kind: "statement" }>,
): Promise<Result<TraceNode>> {
  const { masters } = context;
  const outline = (await readOutlines(context.tx, place.asKnown)).find((o) => o.code === ref.code);
  const line = outline?.lines.find((l) => l.code === ref.line);
  if (!outline || !line) return fail({ code: "NOT_FOUND", what: "such line" });
  const { from, to, years, periods } = place;
  const layout = layoutOf(ref.layout, outline, to, years, periods);
  const columns = resolveColumns(layout, outline.kind, to, years, periods, from);
  const column = columns.find((c) => c.key === ref.column);
  if (!column) return fail({ code: "NOT_FOUND", what: "such column" });
  const { lineOf } = catchAccounts(outline, masters.accounts);
  const position = outline.kind === "position";
  const results = masters.accounts.filter((a) => isResult(a.type));

  const nodeOf = (
    l: OutlineLine,
    span: { yearId: number; from: number; to: number },
    sign: 1 | -1,
    depth = 0,
  ): TraceNode => {
    const own: TraceSpan = {
      yearId: span.yearId,
      from: Math.max(1, position ? 1 : span.from),
      to: span.to,
      withClosing: false,
    };
    const parts = (accounts: readonly Account[], spans: readonly TraceSpan[]): TraceNode => ({
      key: l.code,
      label: l.label,
      parts: accounts.map((a) => ({ accountId: a.id, spans, measure: "net", sign })),
    });
    switch (l.kind) {
      case "accounts":
        return parts(
          masters.accounts.filter((a) => lineOf.get(a.id) === l.code),
          position ? [...earlierYears(place, span.yearId), own] : [own],
        );
      case "result":
        return parts(results, [own]);
      case "uncarried":
        return parts(results, earlierYears(place, span.yearId));
      case "total":
        return {
          key: l.code,
          label: l.label,
          children:
            depth > 50
              ? []
              : (l.of ?? []).flatMap((code) => {
                  const child = outline.lines.find((x) => x.code === code);
                  return child ? [nodeOf(child, span, sign, depth + 1)] : [];
                }),
        };
      case "heading":
        return { key: l.code, label: l.label, parts: [] };
    }
  };
  const sign = line.positive === "debit" ? 1 : -1;
  const label = `${line.label}, ${column.label}`;
  if (column.span) return ok({ ...nodeOf(line, column.span, sign), key: "root", label });
  const [a, b] = (column.of ?? []).map((key) => columns.find((c) => c.key === key));
  if (!a?.span || !b?.span) return fail({ code: "NOT_FOUND", what: "figure in this column" });
  return ok({
    key: "root",
    label: `${line.label}, ${a.label} less ${b.label}`,
    children: [
      { ...nodeOf(line, a.span, sign), key: a.key, label: a.label },
      { ...nodeOf(line, b.span, sign === 1 ? -1 : 1), key: b.key, label: `less ${b.label}` },
    ],
  });
}
