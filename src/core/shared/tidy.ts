// Control characters other than tab and line ends: no database keeps NUL, and none of them has a
// place in a ledger's texts.
const CONTROL = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/g;
/** Halves of a surrogate pair without the other half: no valid text. */
const LONE = /[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
const UNSAFE = new Set(["__proto__", "constructor", "prototype"]);

/**
 * What comes from outside, without what no field can hold: control characters and broken surrogates
 * leave texts, and keys that mean
 * something to the language leave objects. Lists, numbers, bigints, dates and files stay as they
 * are.
 */
export function tidy(value: unknown): unknown {
  if (typeof value === "string") return value.replace(CONTROL, "").replace(LONE, "\ufffd");
  if (Array.isArray(value)) return value.map(tidy);
  if (value === null || typeof value !== "object") return value;
  const shape = Object.getPrototypeOf(value) as unknown;
  if (shape !== Object.prototype && shape !== null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([key]) => !UNSAFE.has(key))
      .map(([key, inner]) => [key, tidy(inner)]),
  );
}
