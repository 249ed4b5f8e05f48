/**
 * What the hash chain covers of a posted journal. Ids are used where codes might one day be
 * renamed.
 */
export interface HashedJournal {
  id: number;
  companyId: number;
  seq: number;
  number: string;
  typeId: number;
  bookId: number;
  date: string;
  yearId: number;
  periodNo: number;
  closing: boolean;
  description: string;
  reference: string;
  reverses: number | null;
  origin: number | null;
  postedBy: number;
  postedAt: string;
  reverseOn: string | null;
  lines: readonly HashedLine[];
}

export interface HashedLine {
  lineNo: number;
  accountId: number;
  coding: string;
  side: "debit" | "credit";
  amount: bigint;
  currency: string;
  foreignAmount: bigint;
  description: string;
  partner: string | null;
  dueDate: string | null;
  rate: string | null;
  counterpartyId: number | null;
  quantity: bigint | null;
  note: string;
}

/**
 * The text that is hashed, with the predecessor's hash in front: the same journal always gives the
 * same text,
 * and no two different journals give the same (JSON keeps the fields apart).
 */
export function canonicalJournal(journal: HashedJournal, previousHash: string): string {
  const head = [
    previousHash,
    journal.id,
    journal.companyId,
    journal.seq,
    journal.number,
    journal.typeId,
    journal.bookId,
    journal.date,
    journal.yearId,
    journal.periodNo,
    journal.closing,
    journal.description,
    journal.reference,
    journal.reverses,
    journal.origin,
    journal.postedBy,
    journal.postedAt,
  ];
  const lines = journal.lines.map((l) => {
    const first = [
      l.lineNo,
      l.accountId,
      l.coding,
      l.side === "debit" ? "D" : "C",
      String(l.amount),
      l.currency,
      String(l.foreignAmount),
      l.description,
      l.partner,
      l.dueDate,
    ];
    // Fields that came later are covered where a line uses them, so that what was hashed before
    // them still gives its hash.
    const later = [
      l.rate,
      l.counterpartyId,
      l.quantity === null ? null : String(l.quantity),
      l.note || null,
    ];
    return later.every((v) => v === null) ? first : [...first, ...later];
  });
  return JSON.stringify(
    journal.reverseOn === null ? [head, lines] : [[...head, journal.reverseOn], lines],
  );
}
