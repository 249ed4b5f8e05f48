/**
 * A text as its runs of letters and of figures, in capitals, figures without leading zeros:
 * "Rechn. R00398+402" is RECHN R 398 402. So letter case, separators, spaces and missing zeros are
 * forgiven.
 */
export function pieces(text: string): string[] {
  const plain = text
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .toUpperCase();
  return (plain.match(/[A-Z]+|\d+/g) ?? []).map((p) => p.replace(/^0+(?=\d)/, ""));
}

/** How a number can stand in a text: whole; its last two pieces; its last piece alone. */
export interface NumberKeys {
  whole: string | null;
  short: string | null;
  bare: string | null;
}

/** Figures that a number needs to be known by beside its letters, and without any. */
const WITH_LETTERS = 3;
const ALONE = 5;

/** Null where a number says too little to be found in any text: a 12, a year by itself. */
export function numberKeys(number: string): NumberKeys | null {
  const of = pieces(number);
  const last = of.at(-1);
  if (last === undefined) return null;
  const figures = of.join("").replace(/\D/g, "").length;
  const isWhole = figures >= (of.some((p) => /^[A-Z]/.test(p)) ? WITH_LETTERS : ALONE);
  const isLong = /^\d/.test(last) && last.length >= WITH_LETTERS;
  if (!isWhole && !isLong) return null;
  return {
    whole: isWhole ? of.join("|") : null,
    short: of.length > 2 && isLong && /^[A-Z]/.test(of.at(-2)!) ? of.slice(-2).join("|") : null,
    bare: isLong && (of.length > 1 || !isWhole) ? last : null,
  };
}

/** The longest number in pieces. */
const MOST_PIECES = 8;
/** Pieces of a text that are looked at. */
const MOST_OF_TEXT = 120;

/** All runs of pieces of a text that could be a number. */
export function* runsOf(text: string): Generator<string> {
  const of = pieces(text).slice(0, MOST_OF_TEXT);
  for (let from = 0; from < of.length; from++) {
    let run = "";
    for (let to = from; to < Math.min(of.length, from + MOST_PIECES); to++) {
      run = run ? `${run}|${of[to]!}` : of[to]!;
      if (/\d/.test(of[to]!)) yield run;
    }
  }
}
