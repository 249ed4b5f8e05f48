import { exponentOf, type Minor } from "../shared";

const ONES = [
  "zero",
  "one",
  "two",
  "three",
  "four",
  "five",
  "six",
  "seven",
  "eight",
  "nine",
  "ten",
  "eleven",
  "twelve",
  "thirteen",
  "fourteen",
  "fifteen",
  "sixteen",
  "seventeen",
  "eighteen",
  "nineteen",
];
const TENS = ["", "", "twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"];
const THOUSANDS = ["", "thousand", "million", "billion", "trillion", "quadrillion"];

function belowThousand(n: number): string {
  if (n < 20) return ONES[n]!;
  if (n < 100) return TENS[Math.floor(n / 10)]! + (n % 10 ? `-${ONES[n % 10]!}` : "");
  return `${ONES[Math.floor(n / 100)]!} hundred${n % 100 ? ` and ${belowThousand(n % 100)}` : ""}`;
}

/** A whole number in English words. From 0 up to 10^18 − 1. */
export function numberInWords(n: bigint): string {
  if (n === 0n) return "zero";
  const parts: string[] = [];
  for (let rest = n, i = 0; rest > 0n; rest /= 1000n, i++) {
    const three = Number(rest % 1000n);
    if (three > 0)
      parts.unshift(`${belowThousand(three)}${THOUSANDS[i] ? ` ${THOUSANDS[i]}` : ""}`);
  }
  // "one thousand and five", as cheques are written.
  const last = n % 1000n;
  if (parts.length > 1 && last > 0n && last < 100n) parts.splice(-1, 1, `and ${parts.at(-1)!}`);
  return parts.join(" ");
}

/**
 * An amount as it is written out on a cheque: "One thousand two hundred and thirty-four and 56/100
 * EUR".
 * Units: minor units; the fraction has as many places as the currency, and is left out where it has
 * none. Errors: throws on a negative amount.
 */
export function amountInWords(amount: Minor, currency: string): string {
  if (amount < 0n) throw new RangeError("a cheque has no negative amount");
  const places = exponentOf(currency);
  const unit = 10n ** BigInt(places);
  const words = numberInWords(amount / unit);
  const fraction =
    places === 0 ? "" : ` and ${String(amount % unit).padStart(places, "0")}/${unit}`;
  return `${words.charAt(0).toUpperCase()}${words.slice(1)}${fraction} ${currency}`;
}
