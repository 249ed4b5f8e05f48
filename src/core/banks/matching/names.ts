import { lettersApart } from "../../partners";

/** Letters that may differ: one in five, at most four. */
export const mostApart = (length: number): number => Math.min(4, Math.floor(length / 5));

/**
 * How many letters two names (by their `nameKey`) differ in, where that is little enough for a slip of the pen or a
 * name that was cut; null where they are names of different people.
 */
export function nameDiffers(a: string, b: string): number | null {
  if (a === b) return 0;
  const [short, long] = a.length <= b.length ? [a, b] : [b, a];
  if (short.length >= 6 && long.startsWith(`${short} `)) return 0;
  const most = mostApart(short.length);
  if (most === 0) return null;
  const apart = lettersApart(a, b, most);
  return apart <= most ? apart : null;
}
