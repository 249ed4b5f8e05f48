import type { JournalDraft } from "../ledger";

/**
 * One step of a calculation, for the person who asks how a figure came about. Amounts are
 * functional minor units.
 */
export interface Step {
  label: string;
  amount?: bigint;
  text?: string;
  /** The line that the steps before it add up to. */
  total?: boolean;
}
export interface Explanation {
  title: string;
  steps: Step[];
}

/** Whether an item is part of the run, or why not. */
export const ITEM_STATES = ["in", "dropped", "waiting", "out"] as const;
export type ItemState = (typeof ITEM_STATES)[number];

/** An amount that a person gives or may change, under a key of its own. */
export interface Ask {
  key: string;
  label: string;
  currency: string;
  /** As it was typed. */
  given: string;
  optional?: boolean;
}

export interface RunItem {
  /** What is reserved while the preview stands, so that two runs cannot take the same thing. */
  key: string;
  /**
   * False where there is nothing that another run could want: the key is then only good within this
   * run.
   */
  takes?: false;
  label: string;
  group: string;
  amount: bigint;
  why: string;
  /** Absent where the kind computes it when it is asked for. */
  explanation?: Explanation;
  /** Whether a person may leave it out of this run; it comes again next time. */
  droppable?: boolean;
  asks?: Ask[];
  /** Places (from 0) of the drafts that come from it. */
  drafts?: number[];
  /** Why it is not part of the run, where it is shown all the same. */
  leftOut?: string;
  /** What its kind needs of it when the journals are made. */
  detail?: unknown;
}

/**
 * What a person has changed in a preview: items dropped, by their keys, and amounts as typed, by
 * the key under which they are asked.
 */
export interface RunOverrides {
  dropped: readonly string[];
  amounts: Readonly<Record<string, string>>;
}
export const NO_OVERRIDES: RunOverrides = { dropped: [], amounts: {} };

/** A headline figure; in the company's functional currency where none is said. */
export interface RunFigure {
  label: string;
  amount: bigint;
  currency?: string;
}

/** What is said of a proposal as a whole. */
export interface RunHead {
  warnings: string[];
  /** What stands against posting: sentences. */
  blocks?: string[];
  figures: RunFigure[];
  /**
   * Places of drafts (from 0) that belong together, the leading one first: journals of several
   * companies.
   */
  together?: number[][];
  /** What posting does, where it is not journals: "Make 4 drafts". */
  makes?: string;
}

/** What a run would do: item by item, and the exact journals. */
export interface Proposal extends RunHead {
  title: string;
  items: RunItem[];
  drafts: JournalDraft[];
  /** What the kind of run needs again when it is posted, kept with the proposal. */
  detail?: unknown;
}
