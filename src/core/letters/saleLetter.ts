import type { CalendarDate, Minor } from "../shared";
import { addressLines, letterWriter, type Addressee, type Letter } from "./letter";
import type { LetterLanguage } from "./language";
import { priceText } from "../trade";

export interface SoldLine {
  description: string;
  /** A decimal; "1" of nothing is not written. */
  quantity: string;
  unit: string;
  /** "" where only the amount is agreed. */
  price: string;
  /** Per cent off the line; "0" for none. */
  discount: string;
  value: Minor;
}

export interface SalePaper {
  kind: "invoice" | "credit note";
  /** Whether it asks for a prepayment. */
  prepayment: boolean;
  language: LetterLanguage;
  number: string;
  date: CalendarDate;
  currency: string;
  company: Addressee;
  customer: Addressee & { code: string; taxNumber: string };
  contact: string;
  /** The day of its supply, where that is another one, and where it went besides. */
  deliveredOn: CalendarDate | "";
  deliveredTo: Addressee | null;
  reference: string;
  /** Number of the invoice that a credit note corrects. */
  corrects: string;
  terms: string;
  lines: readonly SoldLine[];
  /** Per cent off the whole, and what that comes to. */
  discount: { percent: string; amount: Minor };
  /** Whether the lines have their tax in them. */
  gross: boolean;
  net: Minor;
  taxes: readonly { name: string; percent: string; base: Minor; tax: Minor; reverse: boolean }[];
  /** What is to be paid. */
  total: Minor;
  /** Texts that the law wants: why nothing is charged. */
  reasons: readonly string[];
  instalments: readonly {
    due: CalendarDate;
    amount: Minor;
    discounts: readonly { until: CalendarDate; amount: Minor }[];
  }[];
  bank: { iban: string; bic: string; reference: string; square: string };
  opening: string;
  closing: string;
}

/**
 * An invoice or credit note as the letter that its customer gets. Amounts in minor units of its
 * currency, exactly as they were posted; nothing is computed again.
 */
export function saleLetter(sale: SalePaper): Letter {
  const { word, amount, figure, day } = letterWriter(sale.language);
  const money = (of: bigint) => amount(of, sale.currency);
  const invoice = sale.prepayment ? "prepayment" : "sale";
  const title = word(sale.kind === "invoice" ? invoice : "creditNote");
  const discounts = sale.lines.some((l) => l.discount !== "0");
  const due = sale.instalments.map((i) =>
    sale.instalments.length > 1 ? `${day(i.due)}: ${money(i.amount)}` : day(i.due),
  );
  const less = (percent: string) => word("less").replace("{percent}", figure(percent));
  return {
    language: sale.language,
    title: `${title} ${sale.number}`,
    recipient: addressLines(sale.customer, sale.company),
    facts: [
      { label: word("number"), text: sale.number },
      { label: word("date"), text: day(sale.date) },
      { label: word("deliveredOn"), text: day(sale.deliveredOn) },
      { label: word("corrects"), text: sale.corrects },
      { label: word("reference"), text: sale.reference },
      { label: word("yourNumber"), text: sale.customer.code },
      { label: word("yourTaxNumber"), text: sale.customer.taxNumber },
      { label: word("contact"), text: sale.contact },
      { label: word("terms"), text: sale.terms },
      { label: word("due"), text: sale.kind === "invoice" ? due.join("\n") : "" },
    ].filter((f) => f.text !== ""),
    blocks: sale.deliveredTo
      ? [
          {
            label: word("deliveredTo"),
            lines: addressLines(sale.deliveredTo, sale.company),
          },
        ]
      : [],
    opening: sale.opening,
    columns: [
      { name: word("no"), weight: 5 },
      { name: word("description"), weight: discounts ? 39 : 47 },
      { name: word("quantity"), weight: 14, right: true },
      { name: word("price"), weight: 16, right: true },
      ...(discounts ? [{ name: "%", weight: 8, right: true }] : []),
      { name: `${word("amount")} ${sale.currency}`, weight: 18, right: true },
    ],
    rows: sale.lines.map((l, i) => [
      String(i + 1),
      l.description,
      l.price === "" ? "" : `${figure(l.quantity)} ${l.unit}`.trim(),
      l.price === "" ? "" : figure(priceText(l.price, sale.currency)),
      ...(discounts ? [l.discount === "0" ? "" : figure(l.discount)] : []),
      money(l.value),
    ]),
    totals: [
      ...(sale.discount.amount === 0n
        ? []
        : [{ label: less(sale.discount.percent), text: money(-sale.discount.amount) }]),
      { label: word("net"), text: money(sale.net) },
      ...sale.taxes
        .filter((t) => !t.reverse)
        .map((t) => ({
          label: `${t.name}, ${figure(t.percent)} % / ${money(t.base)}`,
          text: money(t.tax),
        })),
      { label: `${word("total")} ${sale.currency}`, text: money(sale.total), strong: true },
    ],
    closing: [
      ...sale.reasons,
      ...sale.instalments.flatMap((i) =>
        sale.kind === "invoice"
          ? i.discounts.map((d) =>
              word("until").replace("{day}", day(d.until)).replace("{amount}", money(d.amount)),
            )
          : [],
      ),
      ...(sale.closing === "" ? [] : [sale.closing]),
    ].join("\n"),
    ...(sale.kind === "invoice" && sale.bank.iban !== ""
      ? {
          payment: {
            facts: [
              { label: word("payTo"), text: sale.bank.iban },
              { label: "BIC", text: sale.bank.bic },
              { label: word("withReference"), text: sale.bank.reference },
            ].filter((f) => f.text !== ""),
            square: sale.bank.square,
            below: word("scan"),
          },
        }
      : {}),
  };
}
