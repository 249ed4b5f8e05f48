import { isResult, readAccounts, type Account } from "@/core/ledger";
import { periodKey, periodName } from "@/core/organisation";
import type { FigureRef, Part, TraceNode, TraceSpan } from "@/core/trace";
import { fail, ok, type Result } from "@/core/shared";
import type { Context } from "../access";
import type { ReportPlace } from "../ledger";
import { earlierYears } from "./earlierYears";
import { statementTree } from "./statementTree";

/** The tree of a figure. */
export async function figureTree(
  context: Context,
  place: ReportPlace,
  ref: Exclude<FigureRef, { kind: "journal" | "between" }>,
  withClosing: boolean,
): Promise<Result<TraceNode>> {
  const { masters } = context;
  if (ref.kind === "statement") return statementTree(context, place, ref);
  const at =
    ref.kind === "month" ? place.periods.find((p) => periodKey(p) === ref.period) : place.to;
  if (!at)
    return fail({
      code: "PERIOD_UNKNOWN",
      period: ref.kind === "month" ? ref.period : "",
      company: place.company.name,
    });
  const first = ref.kind === "month" ? at.no : place.from.no;
  const closingToo = withClosing || ref.kind === "month";
  const before = earlierYears(place, at.yearId);
  const stretch = (from: number, to: number): TraceSpan[] =>
    to < from ? [] : [{ yearId: at.yearId, from, to, withClosing: closingToo }];
  const part = (account: Account): Part => {
    // Result accounts open each year at zero, so nothing of earlier years is in their opening.
    const opening = [...(isResult(account.type) ? [] : before), ...stretch(1, first - 1)];
    const movement = stretch(first, at.no);
    const spans =
      ref.measure === "opening"
        ? opening
        : ref.measure === "closing"
          ? [...opening, ...movement]
          : movement;
    return {
      accountId: account.id,
      spans,
      measure: ref.measure === "debit" ? "debit" : ref.measure === "credit" ? "credit" : "net",
      sign: 1,
    };
  };
  const what = {
    opening: "opening",
    debit: "debits",
    credit: "credits",
    closing: "closing",
    movement: "movement",
  }[ref.measure];
  const span =
    ref.kind === "month"
      ? periodName(at)
      : place.from === place.to
        ? periodName(place.to)
        : `${place.from.name} to ${periodName(place.to)}`;
  if (ref.kind === "month" || ref.of === "account") {
    const text = ref.kind === "month" ? ref.account : ref.code;
    const accounts = readAccounts(text, masters);
    if (!accounts) return fail({ code: "ACCOUNT_UNKNOWN", account: text });
    const name =
      accounts.length === 1 ? `${accounts[0]!.number} ${accounts[0]!.name}` : `Accounts ${text}`;
    return ok({ key: "root", label: `${name}, ${what}, ${span}`, parts: accounts.map(part) });
  }
  const heading =
    ref.of === "heading" ? masters.headings.find((h) => h.code === ref.code) : undefined;
  if (ref.of === "heading" && !heading)
    return fail({ code: "NOT_FOUND", what: `heading ${ref.code}` });
  const node = (headingId: number | null): TraceNode[] => [
    ...masters.headings
      .filter((h) => h.parentId === headingId)
      .map((h): TraceNode => ({ key: h.code, label: `${h.code} ${h.name}`, children: node(h.id) })),
    ...(headingId === null
      ? []
      : [
          {
            key: "accounts",
            label: "Accounts",
            parts: masters.accounts
              .filter((a) => a.headingId === headingId && a.type !== "units")
              .map(part),
          },
        ].filter((n) => n.parts.length > 0)),
  ];
  return ok({
    key: "root",
    label: `${heading ? `${heading.code} ${heading.name}` : "All accounts"}, ${what}, ${span}`,
    children: node(heading?.id ?? null),
  });
}
