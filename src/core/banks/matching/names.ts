/** Forms of companies and words of courtesy, which say nothing of who it is. */
const EMPTY =
  /\b(GMBH|AG|KG|UG|SE|LTD|LIMITED|PLC|LLC|INC|CORP|CO|COMPANY|SA|SARL|SAS|SL|SRL|SPA|BV|NV|AB|AS|OY|APS|UND|AND|THE|MR|MRS|MS|DR|HERR|FRAU)\b/g;

/** A name in capitals, without marks and without the form of the company. */
export function plainName(name: string): string {
  const plain = name
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .toUpperCase()
    .replace(/[^A-Z0-9]+/g, " ")
    .trim();
  const bare = plain.replace(EMPTY, " ").replace(/\s+/g, " ").trim();
  return bare || plain;
}

/** Letters that have to be changed, put in, left out or swapped (Damerau 1964, Levenshtein 1966). */
export function editDistance(a: string, b: string, most: number): number {
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

/** Letters that may differ: one in five, at most four. */
export const mostApart = (length: number): number => Math.min(4, Math.floor(length / 5));

/**
 * How many letters two plain names differ in, where that is little enough for a slip of the pen or a
 * name that was cut; null where they are names of different people.
 */
export function nameDiffers(a: string, b: string): number | null {
  if (a === b) return 0;
  const [short, long] = a.length <= b.length ? [a, b] : [b, a];
  if (short.length >= 6 && long.startsWith(`${short} `)) return 0;
  const most = mostApart(short.length);
  if (most === 0) return null;
  const apart = editDistance(a, b, most);
  return apart <= most ? apart : null;
}
