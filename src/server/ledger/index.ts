export * from "./posting";
export * from "./drafts";
export type { DraftCheck, Preview, PreviewLine } from "./draftCheck";
export { showProblem, type ShownProblem } from "./entries";
export {
  type JournalLineView,
  type PostedView,
  type DraftView,
  type JournalView,
  getJournal,
  copyOf,
} from "./journalView";
export {
  readForReversal,
  reverseJournal,
  reverseJournals,
  type PlannedReversal,
  reversalPlans,
  dayOfReversal,
} from "./reversals";
export { type JournalRow, listJournals, preparers } from "./journalList";
export { type LinkedJournal, linkedJournals, linkJournals } from "./linkedJournals";
export * from "./balances";
export * from "./trialBalance";
export * from "./accountView";
export * from "./verify";
export * from "./closeChecks";
export * from "./effect";
export * from "./chart";
export * from "./today";
export * from "./changes";
export * from "./loadOpening";
export * from "./shortcuts";
export * from "./pairs";
export * from "./dueReversals";
export {
  type BatchRow,
  type BatchJournal,
  type BatchView,
  listBatches,
  getBatch,
} from "./batchViews";
export {
  approveBatch,
  createBatch,
  deleteBatch,
  moveToBatch,
  postBatch,
  saveBatch,
  submitBatch,
} from "./batches";
export { reverseBatch } from "./reverseBatch";
export { limitsAbove, ruleFor, whyOf } from "./approvalRules";
export * from "./loadJournals";
export * from "./loads";
export * from "./recurring";
export { planRecurring } from "./recurringPlan";
