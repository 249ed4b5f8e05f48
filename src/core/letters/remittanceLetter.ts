import { minor, type CalendarDate, type Minor } from "../shared";
import { addressLines, letterWriter, type Addressee, type Letter } from "./letter";
import type { LetterLanguage } from "./language";

export interface RemittancePaper {
  language: LetterLanguage;
  number: string;
  date: CalendarDate;
  currency: string;
  method: "transfer" | "cheque" | "manual";
  /** The account that was paid to, as a bank writes it. */
  paidTo: string;
  company: Addressee;
  payee: Addressee & { code: string };
  contact: string;
  /** What it settles: settled amount and the discount within it. */
  items: readonly { reference: string; date: CalendarDate; taken: Minor; discount: Minor }[];
  amount: Minor;
  opening: string;
  closing: string;
}

/** A remittance advice: what a payment settles, item by item. Minor units of its currency. */
export function remittanceLetter(paper: RemittancePaper): Letter {
  const { word, amount, day } = letterWriter(paper.language);
  const money = (of: bigint) => amount(of, paper.currency);
  const discounts = paper.items.some((i) => i.discount !== 0n);
  const method = paper.method === "manual" ? "" : word(paper.method);
  return {
    language: paper.language,
    title: `${word("remittance")} ${paper.number}`,
    recipient: addressLines(paper.payee, paper.company),
    facts: [
      { label: word("number"), text: paper.number },
      { label: word("date"), text: day(paper.date) },
      { label: word("yourNumber"), text: paper.payee.code },
      { label: word("method"), text: method },
      { label: word("paidTo"), text: paper.paidTo },
      { label: word("contact"), text: paper.contact },
    ].filter((f) => f.text !== ""),
    blocks: [],
    opening: paper.opening,
    columns: [
      { name: word("reference"), weight: 32 },
      { name: word("invoiceDate"), weight: 20 },
      { name: word("settled"), weight: 16, right: true },
      ...(discounts ? [{ name: word("discount"), weight: 16, right: true }] : []),
      { name: word("paid"), weight: 16, right: true },
    ],
    rows: paper.items.map((i) => [
      i.reference,
      day(i.date),
      money(i.taken),
      ...(discounts ? [money(i.discount)] : []),
      money(minor(i.taken - i.discount)),
    ]),
    totals: [
      { label: `${word("total")} ${paper.currency}`, text: money(paper.amount), strong: true },
    ],
    closing: paper.closing,
  };
}
