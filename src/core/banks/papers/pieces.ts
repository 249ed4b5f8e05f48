/** Papers by which a bank account pays, or is to be paid, each with a layout of its own. */
export const PAPER_KINDS = ["cheque", "bill", "note"] as const;
export type PaperKind = (typeof PAPER_KINDS)[number];

export const PAPER_NAMES: Readonly<Record<PaperKind, string>> = {
  cheque: "Cheque",
  bill: "Bill of exchange",
  note: "Promissory note",
};

/** What can stand on such a paper, in the order in which it is listed. */
export const PIECES = [
  "company",
  "logo",
  "bankName",
  "number",
  "place",
  "date",
  "dueDate",
  "clause",
  "payee",
  "figures",
  "words",
  "drawee",
  "payableAt",
  "purpose",
  "acceptance",
  "signature",
  "magnetic",
] as const;
export type Piece = (typeof PIECES)[number];

interface PieceRule {
  name: string;
  /** What blank paper says beside it; "" where it speaks for itself. */
  caption: string;
  of: readonly PaperKind[];
  /** Where the paper is none without it: cheques by the custom of banks, the others by law. */
  needed: readonly PaperKind[];
}

const ALL = PAPER_KINDS;
const DRAFTS = ["bill", "note"] as const;

/**
 * What the pieces are. What a bill of exchange and a promissory note must say follows the Uniform
 * Law on Bills of Exchange and Promissory Notes (Geneva 1930), articles 1 and 75.
 */
export const PIECE_RULES: Readonly<Record<Piece, PieceRule>> = {
  company: { name: "Company", caption: "", of: ALL, needed: [] },
  logo: { name: "Logo", caption: "", of: ALL, needed: [] },
  bankName: { name: "Bank", caption: "", of: ["cheque"], needed: ["cheque"] },
  number: { name: "Number", caption: "No.", of: ALL, needed: ["cheque"] },
  place: { name: "Place of issue", caption: "Place", of: ALL, needed: DRAFTS },
  date: { name: "Date of issue", caption: "Date", of: ALL, needed: ALL },
  dueDate: { name: "Due date", caption: "Due", of: DRAFTS, needed: DRAFTS },
  clause: { name: "Order or promise to pay", caption: "", of: DRAFTS, needed: DRAFTS },
  payee: { name: "Payee", caption: "Pay", of: ALL, needed: ALL },
  figures: { name: "Amount in figures", caption: "", of: ALL, needed: ALL },
  words: { name: "Amount in words", caption: "", of: ALL, needed: ALL },
  drawee: { name: "Drawee", caption: "To", of: ["bill"], needed: ["bill"] },
  payableAt: { name: "Place of payment", caption: "Payable at", of: DRAFTS, needed: DRAFTS },
  purpose: { name: "Purpose", caption: "For", of: ALL, needed: [] },
  acceptance: { name: "Acceptance", caption: "Accepted", of: ["bill"], needed: [] },
  signature: { name: "Signature", caption: "Authorised signature", of: ALL, needed: ALL },
  magnetic: { name: "Magnetic line", caption: "", of: ["cheque"], needed: [] },
};

/** What blank paper says before a piece: drafts say it as one sentence, "to the order of … the sum of …". */
export function captionOf(piece: Piece, kind: PaperKind): string {
  if (kind !== "cheque" && piece === "payee") return "";
  if (kind !== "cheque" && piece === "words") return "the sum of";
  return PIECE_RULES[piece].caption;
}

/** What can stand on a paper of a kind. */
export const piecesOf = (kind: PaperKind): Piece[] =>
  PIECES.filter((p) => PIECE_RULES[p].of.includes(kind));
