import { scaledAmount, type Scale } from "../shared";
import type { EvaluatedLine } from "./evaluate";

/**
 * By how much a total that is shown rounded differs from the sum of the lines that it adds up, as
 * they are shown: in whole scaled units, signed as the total is. Zero where nothing is rounded, and
 * for lines that are no total.
 */
export function roundingDifference(
  line: EvaluatedLine,
  column: number,
  lines: ReadonlyMap<string, EvaluatedLine>,
  { currency, scale }: { currency: string; scale: Scale },
): bigint {
  const total = line.values[column];
  if (scale === 1 || line.kind !== "total" || total === null || total === undefined) return 0n;
  const parts = (line.of ?? []).reduce((sum, code) => {
    const part = lines.get(code);
    const value = part?.values[column] ?? 0n;
    const shown = scaledAmount(value, currency, scale);
    return part && part.positive !== line.positive ? sum - shown : sum + shown;
  }, 0n);
  return scaledAmount(total, currency, scale) - parts;
}
