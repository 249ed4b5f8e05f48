/**
 * What an entry of the list of assets belongs to: it waits for its asset (on a clearing account, or
 * booked on an account of assets without one), or it is a part of an asset's value.
 */
export const ENTRY_PARTS = ["waiting", "cost", "accumulated"] as const;
export type EntryPart = (typeof ENTRY_PARTS)[number];

/** How an entry came about, as the movements schedule tells them apart. */
export const MOVEMENTS = [
  "booked",
  "taken over",
  "addition",
  "correction",
  "charge",
  "retirement",
] as const;
export type Movement = (typeof MOVEMENTS)[number];

/** What later changes how an asset is depreciated, besides its cost. */
export const CHANGE_KINDS = ["estimate", "pause", "usage", "retired"] as const;
export type ChangeKind = (typeof CHANGE_KINDS)[number];
