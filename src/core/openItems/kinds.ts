/** What an act of setting open items against each other was made by. */
export const ALLOCATION_KINDS = [
  "by hand",
  "payment",
  "receipt",
  "netting",
  // Owed in another currency from a day on.
  "restatement",
  // Of items whose journals are reversed, and what takes another one back.
  "reversal",
  // Of books whose money under way had no items when it was reversed.
  "reversal in transit",
  "undone",
] as const;
export type AllocationKind = (typeof ALLOCATION_KINDS)[number];
