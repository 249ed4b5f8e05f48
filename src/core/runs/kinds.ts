/** The kinds of run, with what people call them. Each is defined in the folder of its area. */
export const RUN_KIND_NAMES = {
  "year-end": "Year end",
  reversals: "Due reversals",
  recurring: "Recurring journals",
  payment: "Payments",
  "single-payment": "Single payment",
  "recurring-invoice": "Recurring invoices",
  accrual: "Accrual of what is received and not invoiced",
  "clean-up": "Clean-up of received, not invoiced",
} as const;
export type RunKindId = keyof typeof RUN_KIND_NAMES;

export const runKindName = (id: string): string => RUN_KIND_NAMES[id as RunKindId] ?? id;
