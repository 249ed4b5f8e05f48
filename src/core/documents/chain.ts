import { amountText, minor } from "../shared";

/** The stages of a purchase, in the order in which a picture shows them. */
export const CHAIN_STAGES = [
  "request",
  "order",
  "goods-receipt",
  "invoice",
  "payment",
  "bank",
] as const;
export type ChainStage = (typeof CHAIN_STAGES)[number];

export interface ChainDocument {
  id: number;
  kind: string;
  number: string;
  status: string;
  date: string | null;
  /** Minor units of its currency. */
  amount: bigint | null;
  currency: string;
  title: string;
  /** Whether it is the journal of a line of a bank's statement. */
  ofBank: boolean;
  /** What is still to come of it, in a few words; empty: nothing. */
  outstanding: string;
  /**
   * What else belongs to the picture: what of a payment is for this purchase, what was written off.
   */
  note: string;
}
/**
 * What is known of a document of a purchase beside its head. Signed minor units: `left` and `paid`
 * of its currency, `leftover` and `cleaned` of the functional one.
 */
export interface ChainFacts {
  kind: string;
  status: string;
  amount: bigint | null;
  currency: string;
  functional: string;
  /** Of its open items; null where it has none. */
  left: bigint | null;
  /** Lines of an order that have not come in full, and lines that will be invoiced still. */
  toCome: number;
  toBeInvoiced: number;
  /** Of a receipt: what is not invoiced, and what was written off of it. */
  leftover: bigint | null;
  cleaned: bigint | null;
  /** Of a payment: what settles documents of this purchase. */
  paid: bigint | null;
}

/**
 * What is still to come of a document, and what else belongs to the picture, in a few words each;
 * empty: nothing.
 */
export function chainWords(d: ChainFacts): Pick<ChainDocument, "outstanding" | "note"> {
  const money = (amount: bigint, currency: string): string =>
    `${amountText(minor(amount < 0n ? -amount : amount), currency)} ${currency}`;
  switch (d.kind) {
    case "order": {
      const lines = [
        d.toCome > 0 ? `${d.toCome} ${d.toCome === 1 ? "line" : "lines"} to come` : "",
        d.toBeInvoiced > 0 ? `${d.toBeInvoiced} to be invoiced` : "",
      ]
        .filter(Boolean)
        .join(", ");
      return { outstanding: d.status === "open" ? lines : "", note: "" };
    }
    case "goods-receipt":
      return {
        outstanding: !d.leftover
          ? ""
          : `${money(d.leftover, d.functional)} ${d.leftover > 0n ? "not invoiced" : "not credited"}`,
        note: d.cleaned ? `${money(d.cleaned, d.functional)} written off` : "",
      };
    case "invoice":
      return {
        outstanding: !d.left
          ? ""
          : d.left === -(d.amount ?? 0n)
            ? "not paid"
            : `${money(d.left, d.currency)} ${d.left < 0n ? "not paid" : "in our favour"}`,
        note: "",
      };
    case "sale":
      return {
        outstanding: !d.left
          ? ""
          : d.left === d.amount
            ? "not paid"
            : `${money(d.left, d.currency)} ${d.left > 0n ? "not paid" : "in the customer's favour"}`,
        note: "",
      };
    case "payment":
      return {
        outstanding: "",
        note: d.paid && d.paid !== d.amount ? `${money(d.paid, d.currency)} of it for this` : "",
      };
    default:
      return { outstanding: "", note: "" };
  }
}

export interface ChainLink {
  from: number;
  to: number;
}

/**
 * What the bank did stands in the journal of its line; any other journal of a chain is what is owed,
 * such as a customer's invoice that was entered as one. A receipt or a slip of cheques is how it was paid.
 */
const stageOf = ({ kind, ofBank }: ChainDocument): string => {
  if (kind === "deposit" || kind === "receipt") return "payment";
  if (kind === "sale") return "invoice";
  return kind !== "journal" ? kind : ofBank ? "bank" : "invoice";
};

/**
 * The documents of a chain by stage, those in a stage by date and id; stages between the first and
 * the last that hold nothing stay, so that a gap shows, but for the payment of what a bank's line
 * has paid of itself.
 */
export function chainColumns(
  documents: readonly ChainDocument[],
): { stage: ChainStage; documents: ChainDocument[] }[] {
  const columns = CHAIN_STAGES.map((stage) => ({
    stage,
    documents: documents
      .filter((d) => stageOf(d) === stage)
      .sort((a, b) =>
        (a.date ?? "") < (b.date ?? "") ? -1 : (a.date ?? "") > (b.date ?? "") ? 1 : a.id - b.id,
      ),
  }));
  const last = columns.findLastIndex((c) => c.documents.length > 0);
  const first = columns.findIndex((c) => c.documents.length > 0);
  // Payment belongs to the picture of an invoice even before it is made.
  const shown = columns.slice(Math.max(0, first), Math.max(last + 1, Math.min(5, columns.length)));
  const isAtBank = shown.at(-1)?.stage === "bank";
  return shown.filter((c) => !isAtBank || c.stage !== "payment" || c.documents.length > 0);
}
