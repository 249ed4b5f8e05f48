/**
 * What two names are compared by: without case, marks, accents and the words for the form of a
 * company.
 */
export const nameKey = (name: string): string =>
  name
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/&/g, " and ")
    .replace(/[^a-z0-9 ]/g, " ")
    .split(/\s+/)
    .filter((w) => w && !LEGAL.has(w))
    .join(" ");
const LEGAL = new Set([
  "ltd",
  "limited",
  "llc",
  "inc",
  "plc",
  "gmbh",
  "ag",
  "kg",
  "sa",
  "sarl",
  "srl",
  "bv",
  "nv",
  "oy",
  "ab",
  "as",
  "aps",
  "the",
  "and",
  "co",
  "company",
  "corp",
  "ug",
  "se",
  "sas",
  "sl",
  "spa",
  "und",
]);

/**
 * Whether two names are alike: the same but for marks and legal forms, or few letters apart
 * (at most one in six).
 */
export function namesAlike(a: string, b: string): boolean {
  const [x, y] = [nameKey(a), nameKey(b)];
  if (x === "" || y === "") return false;
  if (x === y) return true;
  const limit = Math.floor(Math.max(x.length, y.length) / 6);
  return lettersApart(x, y, limit) <= limit;
}

/**
 * Letters that have to be changed, put in, left out or swapped to make one text of another (Damerau
 * 1964, Levenshtein 1966). Above `most` it is no longer counted: the answer is then `most + 1`.
 */
export function lettersApart(a: string, b: string, most: number): number {
  if (Math.abs(a.length - b.length) > most) return most + 1;
  let before: number[] = [];
  let last = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const row = [i];
    let least = i;
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let cost = Math.min(last[j]! + 1, row[j - 1]! + 1, last[j - 1]! + (same ? 0 : 1));
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        cost = Math.min(cost, before[j - 2]! + 1);
      row.push(cost);
      if (cost < least) least = cost;
    }
    if (least > most) return most + 1;
    before = last;
    last = row;
  }
  return last[b.length]!;
}
