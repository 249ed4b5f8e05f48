import { STATEMENT_LAYOUTS, type StatementLayout } from "../statements";
/**
 * What a figure on a screen is, in a form that an address can hold. With the place of the screen it
 * says exactly which figure.
 */
export type FigureRef =
  | { kind: "statement"; code: string; line: string; column: string; layout: StatementLayout }
  /**
   * An account's, a heading's or (with an empty code) the whole trial balance's figure over the
   * periods of the place.
   */
  | { kind: "balance"; of: "account" | "heading" | "total"; code: string; measure: Measure }
  /**
   * A figure of accounts (a number, ranges, headings) in one named period; of the company of the
   * place unless another is named.
   */
  | { kind: "month"; account: string; period: string; measure: Measure; company?: string }
  /**
   * What a company has standing with another, in one currency of transaction, up to the end of the
   * period of the place.
   */
  | { kind: "between"; company: string; other: string; currency: string }
  | { kind: "journal"; id: number };

export type Measure = "opening" | "debit" | "credit" | "closing" | "movement";

/** A figure and the steps taken into it. */
export interface TraceAddress {
  ref: FigureRef;
  path: readonly string[];
}

const MEASURES: ReadonlySet<string> = new Set([
  "opening",
  "debit",
  "credit",
  "closing",
  "movement",
]);

export function encodeRef(ref: FigureRef): string {
  switch (ref.kind) {
    case "statement":
      return ["s", ref.code, ref.line, ref.column, ref.layout].join("!");
    case "balance":
      return ["b", ref.of, ref.code, ref.measure].join("!");
    case "month":
      return [
        "m",
        ref.account,
        ref.period,
        ref.measure,
        ...(ref.company ? [ref.company] : []),
      ].join("!");
    case "between":
      return ["p", ref.company, ref.other, ref.currency].join("!");
    case "journal":
      return ["j", ref.id].join("!");
  }
}

export const encodeTrace = (trace: TraceAddress): string =>
  [encodeRef(trace.ref), ...trace.path].join("~");

/** Reads a trace from an address; null where it is none. */
export function decodeTrace(text: string): TraceAddress | null {
  if (text.length > 1000) return null;
  const [head = "", ...path] = text.split("~");
  const ref = decodeRef(head);
  return ref ? { ref, path } : null;
}

function decodeRef(text: string): FigureRef | null {
  const [kind, a = "", b = "", c = "", d = ""] = text.split("!");
  if (kind === "s" && a && b && c)
    return {
      kind: "statement",
      code: a,
      line: b,
      column: c,
      layout: STATEMENT_LAYOUTS.find((l) => l === d) ?? "standard",
    };
  if (kind === "b" && (a === "account" || a === "heading" || a === "total") && MEASURES.has(c))
    return { kind: "balance", of: a, code: b, measure: c as Measure };
  if (kind === "m" && a && b && MEASURES.has(c))
    return {
      kind: "month",
      account: a,
      period: b,
      measure: c as Measure,
      ...(d ? { company: d } : {}),
    };
  if (kind === "p" && a && b && c) return { kind: "between", company: a, other: b, currency: c };
  if (kind === "j" && /^\d{1,15}$/.test(a)) return { kind: "journal", id: Number(a) };
  return null;
}
