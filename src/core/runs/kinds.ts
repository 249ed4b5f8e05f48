/**
 * The kinds of run: what people call them, and the page whose work they are, below which a run of
 * the kind has its own. Each is defined in the folder of its area.
 */
export const KINDS_OF_RUN = {
  "year-end": { name: "Year end", page: "/close" },
  reversals: { name: "Due reversals", page: "/ledger/reversals" },
  recurring: { name: "Recurring journals", page: "/ledger/recurring" },
  payment: { name: "Payments", page: "/payables/payments" },
  "single-payment": { name: "Single payment", page: "/payables/payments" },
  "recurring-invoice": { name: "Recurring invoices", page: "/payables/recurring" },
  accrual: { name: "Accrual of what is received and not invoiced", page: "/payables/received" },
  "bank-lines": { name: "Bank lines", page: "/banks/lines" },
  transfer: { name: "Transfers between own accounts", page: "/banks/transfers" },
  "credit-losses": { name: "Expected credit losses", page: "/receivables/losses" },
  agreement: { name: "Invoices of agreements", page: "/receivables/agreements" },
  "deferred-revenue": { name: "Deferred revenue", page: "/receivables/deferrals" },
  "direct-debit": { name: "Direct debits", page: "/receivables/debits" },
  letters: { name: "Letters to customers", page: "/receivables/letters" },
  "asset-intake": { name: "Assets taken in", page: "/assets/intake" },
  retirement: { name: "Retirement of assets", page: "/assets/register" },
  depreciation: { name: "Depreciation", page: "/assets/depreciation" },
  "clean-up": { name: "Clean-up of received, not invoiced", page: "/payables/received" },
} as const satisfies Record<string, { name: string; page: string }>;
export type RunKindId = keyof typeof KINDS_OF_RUN;

export const runKindName = (id: string): string => KINDS_OF_RUN[id as RunKindId]?.name ?? id;
/** The pages of a kind's runs; of one that is not known, those of the list of all runs. */
export const runPages = (id: string): string =>
  `${KINDS_OF_RUN[id as RunKindId]?.page ?? "/close"}/runs`;
