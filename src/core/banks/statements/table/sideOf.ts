import { plainName } from "../../../shared";

/** Words and letters by which banks mark money in and out, without marks and in small letters. */
const IN = "c cr credit haben h gutschrift in bij credito abono uznanie entrata".split(" ");
const OUT = "d dr debit dbit soll s lastschrift out af debito cargo obciazenie uscita".split(" ");

/** On which side a mark puts an amount; null where it is none. */
export function sideOf(mark: string): "in" | "out" | null {
  const sign = mark.trim();
  if (sign === "+") return "in";
  if (/^[-−–]$/.test(sign)) return "out";
  const plain = plainName(mark);
  return IN.includes(plain) || plain === "crdt" ? "in" : OUT.includes(plain) ? "out" : null;
}
