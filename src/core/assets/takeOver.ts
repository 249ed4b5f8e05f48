import { object, string } from "yup";
import { minor, type Minor } from "../shared";
import { readLife } from "./classInput";

/** Columns of assets that come from other books, besides one for each dimension and for each book. */
export const TAKE_OVER_COLUMNS = [
  "number",
  "description",
  "class",
  "inservice",
  "life",
  "main",
  "cost",
  "accumulated",
  "quantity",
  "unit",
  "serial",
  "place",
  "person",
  "warranty",
  "insurance",
  "note",
] as const;

/** A row of the table, as text; amounts and days are read by whoever knows currency and day. */
export const takeOverRow = object({
  number: string()
    .trim()
    .max(40)
    .matches(/^[A-Za-z0-9./-]*$/, "A number has letters, figures, dots, dashes and strokes")
    .default(""),
  description: string().trim().required("is missing").max(200),
  class: string().trim().uppercase().required("is missing").max(40),
  inservice: string().trim().required("is missing").max(40),
  life: string()
    .trim()
    .default("")
    .test("life", "is no useful life: 5 years, or 60 months", (text) =>
      text === "" ? true : readLife(text) !== null,
    ),
  /** The number of the asset that it is a part of. */
  main: string().trim().max(40).default(""),
  cost: string().trim().required("is missing").max(40),
  accumulated: string().trim().max(40).default(""),
  quantity: string()
    .trim()
    .matches(/^(\d{1,9}(\.\d{1,3})?)?$/, "is no quantity")
    .default(""),
  unit: string().trim().max(20).default(""),
  serial: string().trim().max(80).default(""),
  place: string().trim().max(80).default(""),
  person: string().trim().max(80).default(""),
  warranty: string().trim().max(40).default(""),
  insurance: string().trim().max(80).default(""),
  note: string().trim().max(500).default(""),
});

/** Something that waits on an account, in minor units with its sign. */
export interface Waiting {
  id: number;
  amount: Minor;
}

/**
 * Which lines an amount is taken from: all of them where it is what they come to, else the oldest
 * of its sign first, as they are given. Null where they do not hold so much.
 * Units: minor units, debit positive.
 */
export function takenFrom(lines: readonly Waiting[], amount: Minor): Waiting[] | null {
  const all = lines.reduce((t, l) => t + l.amount, 0n);
  if (all === amount) return lines.map((l) => ({ ...l }));
  let left: bigint = amount;
  const taken: Waiting[] = [];
  for (const { id, amount: there } of lines) {
    if (left === 0n) break;
    if (there < 0n !== left < 0n) continue;
    const part = size(there) < size(left) ? there : left;
    taken.push({ id, amount: minor(part) });
    left -= part;
  }
  return left === 0n ? taken : null;
}
const size = (amount: bigint) => (amount < 0n ? -amount : amount);
