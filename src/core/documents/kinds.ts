/** The kinds of document in the register, with what people call them and the page that shows one. */
export const DOCUMENT_KINDS = {
  journal: { name: "Journal", page: "/ledger/journals" },
  batch: { name: "Batch", page: "/ledger/batches" },
  recurring: { name: "Recurring journal", page: "/ledger/recurring" },
  invoice: { name: "Invoice", page: "/payables/invoices" },
  run: { name: "Run", page: "/close/runs" },
} as const;
export type DocumentKind = keyof typeof DOCUMENT_KINDS;

/** The page of a document. Of a kind that is not known, the register's nearest: the journals. */
export const documentPage = (kind: string, id: number | bigint): string => `${(DOCUMENT_KINDS[kind as DocumentKind] ?? DOCUMENT_KINDS.journal).page}/${id}`;
export const documentKindName = (kind: string): string => (DOCUMENT_KINDS[kind as DocumentKind] ?? DOCUMENT_KINDS.journal).name;
