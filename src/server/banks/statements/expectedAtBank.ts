import type { Expected, MatchLine } from "@/core/banks/matching";
import type { CalendarDate } from "@/core/shared";
import type { Context } from "../../access";

/** What an area expects to move over the banks of a company in a currency, from one day to another. */
export type ExpectsAtBank = (
  context: Context,
  of: { companyId: number; company: string; currency: string },
  span: { from: CalendarDate; to: CalendarDate },
) => Promise<Expected[]>;

/** What is expected about the days of lines, by every area that expects something. */
export async function expectedAtBank(
  context: Context,
  of: Parameters<ExpectsAtBank>[1],
  lines: readonly MatchLine[],
): Promise<Expected[]> {
  const days = lines.map((l) => l.booked).sort();
  const span = { from: days[0]!, to: days.at(-1)! };
  const found: Expected[] = [];
  for (const expects of (await import("../../kinds")).EXPECTED_AT_BANK)
    found.push(...(await expects(context, of, span)));
  return found;
}
