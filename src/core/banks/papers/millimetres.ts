/** A length on paper as people write it: 15 or 15.5 from tenths of a millimetre. */
export const millimetreText = (tenths: number): string =>
  tenths % 10 === 0 ? String(tenths / 10) : (tenths / 10).toFixed(1);

/**
 * Tenths of a millimetre from a length as written, with at most one decimal; null where it is none.
 * @example readMillimetres("15.5") // 155
 */
export function readMillimetres(text: string): number | null {
  const match = /^(\d{1,4})(?:\.(\d))?$/.exec(text.trim().replace(/\s*mm$/, ""));
  return match ? Number(match[1]) * 10 + Number(match[2] ?? 0) : null;
}
