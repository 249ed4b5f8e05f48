import type { JournalDraft } from "../ledger";

/** One step of a calculation, for the person who asks how a figure came about. Amounts are functional minor units. */
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

export interface RunItem {
  /** What is reserved while the preview stands, so that two runs cannot take the same thing. */
  key: string;
  label: string;
  group: string;
  amount: bigint;
  why: string;
  explanation: Explanation;
}

/** What a run would do: item by item, and the exact journals. */
export interface Proposal {
  title: string;
  items: RunItem[];
  drafts: JournalDraft[];
  warnings: string[];
  /** Headline figures for the footer. */
  figures: { label: string; amount: bigint }[];
}
