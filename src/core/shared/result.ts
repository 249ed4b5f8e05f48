import type { Problem } from "./problem";

/**
 * Where a problem stands: the journal (by its place in what was given), the line (from 1) and the
 * field.
 */
export interface Place {
  journal?: number;
  line?: number;
  field?: string;
}
export type Found = Problem & Place;

/**
 * Either the value, or every problem that was found. Throwing is for bugs and broken infrastructure
 * only.
 */
export type Result<T> = { ok: true; value: T } | { ok: false; problems: readonly Found[] };

export function ok<T>(value: T): Result<T> {
  return { ok: true, value };
}
export const fail = (...problems: Found[]): Result<never> => ({ ok: false, problems });
