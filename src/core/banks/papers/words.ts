import { amountText, dateText, type CalendarDate, type Minor } from "../../shared";
import { amountInWords } from "../amountInWords";
import type { PaperKind, Piece } from "./pieces";

/** What a paper is about. */
export interface PaperFacts {
  kind: PaperKind;
  /** Who signs it. */
  company: string;
  bankName: string;
  number: string;
  place: string;
  date: CalendarDate;
  /** When it is to be paid; null for a cheque, which is paid at sight. */
  dueDate: CalendarDate | null;
  payee: string;
  /** Whom a bill orders to pay. */
  drawee: string;
  payableAt: string;
  purpose: string;
  amount: Minor;
  currency: string;
}

const CLAUSES: Readonly<Record<PaperKind, string>> = {
  cheque: "",
  bill: "Against this bill of exchange, pay to the order of",
  note: "Against this promissory note, we promise to pay to the order of",
};

/**
 * What each piece of a paper says; pictures and the magnetic line aside. Stars around amounts leave
 * no room for more figures or words.
 */
export const paperWords = (f: PaperFacts): Readonly<Partial<Record<Piece, string>>> => ({
  company: f.company,
  bankName: f.bankName,
  number: f.number,
  place: f.place,
  date: dateText(f.date),
  dueDate: f.dueDate === null ? "" : dateText(f.dueDate),
  clause: CLAUSES[f.kind],
  payee: f.payee,
  figures: `***${amountText(f.amount, f.currency)} ${f.currency}`,
  words: `***${amountInWords(f.amount, f.currency)}***`,
  drawee: f.drawee,
  payableAt: f.payableAt,
  purpose: f.purpose,
});
