import type { ApprovableKind } from "@/core/documents";
import type { Approve } from "../approvals";
import { approveBatch, approveDraft } from "../ledger";
import { approveInvoice } from "../payables";
import { approveSale } from "../receivables";
import { approveOrder } from "../purchasing";

/** What approving a document of each kind means. */
export const APPROVALS: Readonly<Record<ApprovableKind, Approve>> = {
  journal: approveDraft,
  batch: approveBatch,
  invoice: approveInvoice,
  sale: approveSale,
  request: approveOrder,
  order: approveOrder,
};
