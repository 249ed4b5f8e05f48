/** The stages of a purchase, in the order in which a picture shows them. */
export const CHAIN_STAGES = ["request", "order", "receipt", "invoice", "payment", "bank"] as const;
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
  /** What is still to come of it, in a few words; empty: nothing. */
  outstanding: string;
  /** What else belongs to the picture: what of a payment is for this purchase, what was written off. */
  note: string;
}
export interface ChainLink {
  from: number;
  to: number;
}

/** The documents of a chain by stage, those in a stage by date and id; stages between the first and the last that hold nothing stay, so that a gap shows. */
export function chainColumns(documents: readonly ChainDocument[]): { stage: ChainStage; documents: ChainDocument[] }[] {
  const columns = CHAIN_STAGES.map((stage) => ({ stage, documents: documents.filter((d) => d.kind === stage).sort((a, b) => ((a.date ?? "") < (b.date ?? "") ? -1 : (a.date ?? "") > (b.date ?? "") ? 1 : a.id - b.id)) }));
  const last = columns.findLastIndex((c) => c.documents.length > 0);
  const first = columns.findIndex((c) => c.documents.length > 0);
  // Payment belongs to the picture of an invoice even before it is made.
  return columns.slice(Math.max(0, first), Math.max(last + 1, Math.min(5, columns.length)));
}
