/**
 * What is evidence beside the journals, which have a chain of their own: of each table the columns
 * that stay once a row is final, and the others with the reason why they may still change.
 */
export interface EvidenceTable {
  table: string;
  /** The name under which it stands in the seals, where the table had another one. */
  sealedAs?: string;
  /** What names a row, as SQL over the row t. */
  key: string;
  /** When a row is final, as SQL over the row t; always where nothing is said. */
  final?: string;
  /** Columns that are not covered, each with its reason. */
  open?: Readonly<Record<string, string>>;
  /**
   * What a migration has changed in rows that may have been sealed before it: the column, what it
   * says now, and what it said.
   */
  migrated?: { column: string; now: string; was: string | null };
}

const POSTED = "t.status not in ('draft', 'waiting', 'held', 'preview')";
const DECIDED = "how it was decided is noted later, and once";
const SET_UP = "set-up, whose changes are in the history";

export const EVIDENCE: readonly EvidenceTable[] = [
  {
    table: "account",
    key: "t.id::text",
    final: "exists (select 1 from account_balance b where b.account_id = t.id)",
    open: {
      name: SET_UP,
      monetary: SET_UP,
      heading_id: SET_UP,
      blocked: SET_UP,
      company_ids: SET_UP,
      currency: SET_UP,
    },
    // Accounts of payments under way became control accounts.
    migrated: { column: "control", now: "transit", was: null },
  },
  { table: "coding", key: "t.id::text" },
  { table: "audit_event", key: "t.id::text" },
  { table: "close_record", key: "t.id::text" },
  { table: "tax_record", key: "t.id::text" },
  {
    table: "tax_declaration",
    key: "t.id::text",
    open: { withdrawn_by: DECIDED, withdrawn_at: DECIDED, reason: DECIDED },
  },
  {
    table: "payment",
    key: "t.document_id::text",
    open: { file_id: "the file is made later, and once", reason: "why it was undone, said later" },
  },
  { table: "receipt", key: "t.document_id::text" },
  {
    table: "direct_debit",
    key: "t.receipt_id::text",
    open: {
      file_id: "the file is made later, and once",
      reason: "why it was undone, said later",
    },
  },
  { table: "receipt_item", key: "t.receipt_id || ' ' || t.item_id" },
  { table: "payment_item", key: "t.payment_id || ' ' || t.item_id" },
  { table: "payment_file", key: "t.id::text" },
  {
    table: "statement_file",
    key: "t.id::text",
    open: { taken_back_by: DECIDED, taken_back_at: DECIDED, reason: DECIDED },
  },
  {
    table: "reconciliation",
    key: "t.id::text",
    open: { reopened_by: DECIDED, reopened_at: DECIDED, reason: DECIDED },
  },
  {
    table: "cheque",
    key: "t.id::text",
    open: {
      state: "voided or cancelled later; the history says by whom",
      reason: DECIDED,
      prints: "counts each copy",
      reused: "the number of a spoilt form is given again, where the account is set up so",
      payment_id: "the payment is posted later, and once",
      decided_by: DECIDED,
      decided_at: DECIDED,
    },
  },
  {
    table: "open_item",
    key: "t.id::text",
    open: {
      left_amount: "follows from the allocations, against which it is held",
      left_functional: "follows from the allocations, against which it is held",
      hold: "held and released; the history says by whom",
    },
  },
  { table: "allocation", key: "t.id::text" },
  { table: "allocation_line", key: "t.allocation_id || ' ' || t.item_id" },
  { table: "grni_entry", key: "t.id::text" },
  { table: "asset_entry", key: "t.id::text" },
  { table: "asset_change", key: "t.id::text" },
  { table: "goods_receipt_line", sealedAs: "receipt_line", key: "t.id::text" },
  { table: "invoice_match", key: "t.invoice_id || ' ' || t.line || ' ' || t.journal_id" },
  {
    table: "attachment",
    key: "t.id::text",
    final:
      "(t.remark_id is not null or exists (select 1 from document d where d.id = t.document_id and d.status not in ('draft', 'waiting', 'held')))",
  },
  { table: "remark", key: "t.id::text" },
  { table: "approval", key: "t.id::text", final: "t.state <> 'waiting'" },
  {
    table: "invoice",
    key: "t.document_id::text",
    final: "t.figures is not null",
    open: {
      version: "counts the drafts",
      updated_by: "who kept the last draft: the writers are covered",
      updated_at: "when the last draft was kept",
      holds: "empty once it is posted",
      paper_holds: "what its paper contradicted, before it was posted",
      released: "who let it pass: the history is covered",
    },
  },
  {
    table: "sale",
    key: "t.document_id::text",
    final: "t.figures is not null",
    open: {
      version: "counts the drafts",
      updated_by: "who kept the last draft: the writers are covered",
      updated_at: "when the last draft was kept",
      sent_at: "it goes out later, and again",
    },
  },
  {
    table: "document",
    key: "t.id::text",
    final: `t.kind in ('journal', 'invoice', 'sale', 'payment', 'receipt', 'deposit', 'goods-receipt') and t.number is not null and ${POSTED}`,
    open: {
      status: "reversed, sent or cleared later; its journals say so",
      search: "words to find it by",
    },
    // Receipts are the money of customers: those of goods have another name.
    migrated: { column: "kind", now: "goods-receipt", was: "receipt" },
  },
  {
    table: "deposit_part",
    key: "t.document_id || ' ' || t.no",
    open: {
      state: "returned or cancelled later; its journals say so",
      reason: "why it came back: the history is covered",
      return_journal_id: "the journal of its return: the link to it is covered",
    },
  },
  { table: "document_link", key: "t.from_id || ' ' || t.to_id || ' ' || t.kind" },
  { table: "document_writer", key: "t.document_id || ' ' || t.person_id" },
  {
    table: "partner_bank",
    key: "t.id::text",
    final: "t.state <> 'waiting'",
    open: {
      state: "ended later by the one that follows",
      decided_by: "who ended it",
      decided_at: "when it ended",
    },
  },
];
