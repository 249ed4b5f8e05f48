import type { InferInsertModel } from "drizzle-orm";
import type { OpenedLine, StatementDetail } from "@/core/banks/statements";
import type { schema } from "../../db";

type Row = InferInsertModel<typeof schema.statementLine>;
type ComingRow = InferInsertModel<typeof schema.comingLine>;

/** Where a line of a statement belongs. */
export interface LinePlace {
  statementId: number;
  companyId: number;
  bankAccountId: number;
  position: number;
}

/** A line of a statement as it is kept; what is longer than anybody reads is cut. */
export const lineRow = (place: LinePlace, l: OpenedLine) =>
  ({
    // Each named, not spread: a literal of one shape is made ten times as fast.
    statementId: place.statementId,
    companyId: place.companyId,
    bankAccountId: place.bankAccountId,
    position: place.position,
    booked: l.booked,
    valued: l.valued,
    amount: l.amount,
    takesBack: l.takesBack,
    code: l.code.slice(0, 80),
    partyName: l.party.name.slice(0, 140),
    partyAccount: l.party.account.slice(0, 60),
    partyBic: l.party.bic.slice(0, 20),
    endToEnd: l.keys.endToEnd.slice(0, 60),
    creditorReference: l.keys.creditorReference.slice(0, 60),
    mandate: l.keys.mandate.slice(0, 60),
    cheque: l.keys.cheque.slice(0, 40),
    bankReference: l.keys.bank.slice(0, 60),
    text: l.text.slice(0, 2_000),
    returnReason: l.returnReason.slice(0, 10),
    details: l.details.map(keptDetail),
    batch: l.batch,
    fromLine: l.from,
    toLine: l.to,
  }) satisfies Row;

/** A line of a file that is on its way in: the same, with its file. */
export const comingRow = (fileId: number, place: LinePlace, l: OpenedLine): ComingRow =>
  Object.assign(lineRow(place, l), { fileId });

export const keptDetail = (d: StatementDetail) => ({
  ...d,
  amount: d.amount === null ? null : String(d.amount),
});
