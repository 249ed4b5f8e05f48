import type { Area } from "../access";

/**
 * The kinds of document in the register, with what people call them, the page that shows one, and
 * the area whose people prepare it.
 */
export const DOCUMENT_KINDS = {
  journal: { name: "Journal", page: "/ledger/journals", area: "ledger" },
  batch: { name: "Batch", page: "/ledger/batches", area: "ledger" },
  recurring: { name: "Recurring journal", page: "/ledger/recurring", area: "ledger" },
  invoice: { name: "Invoice", page: "/payables/invoices", area: "payables" },
  request: { name: "Request", page: "/payables/orders", area: "payables" },
  order: { name: "Order", page: "/payables/orders", area: "payables" },
  "goods-receipt": { name: "Goods receipt", page: "/payables/goods-receipts", area: "payables" },
  "recurring-invoice": { name: "Recurring invoice", page: "/payables/recurring", area: "payables" },
  payment: { name: "Payment", page: "/payables/payments", area: "payables" },
  sale: { name: "Sales invoice", page: "/receivables/invoices", area: "receivables" },
  agreement: { name: "Agreement", page: "/receivables/agreements", area: "receivables" },
  receipt: { name: "Receipt", page: "/receivables/receipts", area: "receivables" },
  deposit: { name: "Deposit slip", page: "/banks/deposits", area: "banks" },
  asset: { name: "Asset", page: "/assets/register", area: "assets" },
  reconciliation: { name: "Bank reconciliation", page: "/banks/reconciliations", area: "banks" },
  run: { name: "Run", page: "/close/runs", area: "ledger" },
} as const satisfies Record<string, { name: string; page: string; area: Exclude<Area, "stock"> }>;
export type DocumentKind = keyof typeof DOCUMENT_KINDS;

/**
 * Where a document stands: written (draft, waiting for approval, held until somebody decides),
 * proposed (computing, preview, posting), final, or over. Orders are open until they are closed, what comes again is
 * active until it is ended.
 */
export const DOCUMENT_STATUSES = [
  "draft",
  "waiting",
  "held",
  "computing",
  "preview",
  "posting",
  "posted",
  "sent",
  "cleared",
  "open",
  "closed",
  "active",
  "ended",
  "discarded",
  "cancelled",
  "rejected",
  "recalled",
  "reversed",
] as const;
export type DocumentStatus = (typeof DOCUMENT_STATUSES)[number];

/** Whether papers can be hung on a document: a closed reconciliation is frozen with those it has. */
export const takesPapers = (kind: string, status: string): boolean =>
  kind !== "reconciliation" || status === "draft";

/** The kinds that can be sent for approval. */
export const APPROVABLE_KINDS = [
  "journal",
  "batch",
  "invoice",
  "sale",
  "request",
  "order",
] as const;
export type ApprovableKind = (typeof APPROVABLE_KINDS)[number];

/** The page of a document. Of a kind that is not known, the register's nearest: the journals. */
export const documentPage = (kind: string, id: number | bigint): string =>
  `${(DOCUMENT_KINDS[kind as DocumentKind] ?? DOCUMENT_KINDS.journal).page}/${id}`;
export const documentKindName = (kind: string): string =>
  (DOCUMENT_KINDS[kind as DocumentKind] ?? DOCUMENT_KINDS.journal).name;
export const documentArea = (kind: string): Exclude<Area, "stock"> =>
  (DOCUMENT_KINDS[kind as DocumentKind] ?? DOCUMENT_KINDS.journal).area;
