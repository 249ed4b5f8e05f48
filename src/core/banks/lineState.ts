import type { MatchReason } from "./matching/types";

/**
 * Where a line of a statement stands: what the rules found beyond doubt, what they leave to people,
 * what they know nothing of; what a person has chosen; what is posted.
 */
export const LINE_STATES = ["certain", "to decide", "unexplained", "chosen", "posted"] as const;
export type LineState = (typeof LINE_STATES)[number];

export const MOVEMENT_SIDES = ["in", "out", "both"] as const;
export type MovementSide = (typeof MOVEMENT_SIDES)[number];

/** What of an item is taken: amounts in minor units as text, signed like the item. */
export interface KeptTake {
  item: number;
  amount: string;
  discount: string;
}

/** The other side of money between accounts of our own. */
export interface OwnTransfer {
  /** The other bank account. */
  bank: number;
  /** Its code, as people know it. */
  code: string;
  /** The line there; null where none is known yet. */
  line: number | null;
  /** The company of the group whose account it is, where it is another one: each posts its own side. */
  company?: string;
}

export interface LineCoding {
  account: string;
  dimensions: Record<string, string>;
  text: string;
  /** The tax that the amount has in it; left out where there is none. */
  tax?: string;
  /** The shares that it is split by; left out where it is not. */
  shares?: string;
}

/** An explanation as it is kept with its line. */
export interface KeptCandidate {
  takes: KeptTake[];
  partner: string;
  kind: string;
  /** The coding that a rule of the company's own gives; left out by what was kept before. */
  coding?: LineCoding | null;
  transfer?: OwnTransfer | null;
  /** Whether it stays on the partner's account, though it takes no item. */
  onAccount?: boolean;
  rest: string;
  score: number;
  reasons: MatchReason[];
}

/** What a line is posted as. */
export interface LineOutcome {
  takes: KeptTake[];
  partner: string;
  /** The kind by whose coding it is posted, or what is left of it. */
  kind: string;
  /** A coding given for this line alone, instead of a kind's. */
  coding: LineCoding | null;
  /** What is not taken of items, signed like the line: to the coding, or on the partner's account. */
  rest: string;
  /** Whether the rest stays on the partner's account. */
  onAccount: boolean;
  /** The partner's control account on which it stays, where no item says which. */
  account?: string;
  /** Why the rest is written off; left out where it goes elsewhere. */
  writeOff?: string;
  /** The other side of money between accounts of our own; left out where it is none. */
  transfer?: OwnTransfer | null;
}
