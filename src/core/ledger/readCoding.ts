import { dateText, type CalendarDate, type Found, type Place } from "../shared";
import type { Masters } from "./masters";
import type { Account } from "./types";

/** When a coding is looked at, and how strictly. */
interface Asked {
  /** The day on which values have to be active; null where it is not known yet. */
  date: CalendarDate | null;
  /** Whether it only follows what was posted before: then what is blocked since counts still. */
  follows?: boolean;
}

/**
 * Reads the values of a line by the codes that people use: those there are, with what stands against
 * the others, and against what the account takes or needs.
 */
export function readCoding(
  masters: Masters,
  account: Account | null,
  dimensions: Readonly<Record<string, string>>,
  { date, follows = false }: Asked,
  place: Place = {},
): { coding: { slot: number; valueId: number }[]; found: Found[] } {
  const coding: { slot: number; valueId: number }[] = [];
  const found: Found[] = [];
  for (const [code, text] of Object.entries(dimensions)) {
    if (text.trim() === "") continue;
    const at = { ...place, field: code };
    const dimension = masters.dimensionByCode.get(code);
    if (!dimension) {
      found.push({ code: "DIMENSION_UNKNOWN", dimension: code, ...at });
      continue;
    }
    const value = masters.value(dimension.id, text.trim());
    const name = dimension.name.toLowerCase();
    if (!value) found.push({ code: "VALUE_UNKNOWN", dimension: name, value: text, ...at });
    else if (value.blocked && !follows)
      found.push({ code: "VALUE_BLOCKED", dimension: name, value: value.code, ...at });
    else if (
      date !== null &&
      !follows &&
      ((value.activeFrom && date < value.activeFrom) || (value.activeTo && date > value.activeTo))
    )
      found.push({
        code: "VALUE_NOT_ACTIVE",
        dimension: name,
        value: value.code,
        date: dateText(date),
        ...at,
      });
    else if (!follows && account?.rules[dimension.id] === "forbidden")
      found.push({ code: "DIMENSION_FORBIDDEN", dimension: name, account: account.number, ...at });
    else coding.push({ slot: dimension.slot, valueId: value.id });
  }
  if (account && !follows)
    for (const [id, rule] of Object.entries(account.rules)) {
      const dimension = masters.dimensionById.get(Number(id));
      if (rule === "required" && dimension && !dimensions[dimension.code]?.trim())
        found.push({
          code: "DIMENSION_REQUIRED",
          dimension: dimension.name.toLowerCase(),
          account: account.number,
          ...place,
          field: dimension.code,
        });
    }
  return { coding, found };
}
