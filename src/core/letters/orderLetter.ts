import type { Minor, CalendarDate } from "../shared";
import { addressLines, letterWriter, type Addressee, type Letter } from "./letter";
import type { LetterLanguage } from "./language";
import { priceText } from "../trade";

export interface OrderedLine {
  no: number | null;
  description: string;
  /** Days and quantities in which it is to come. */
  deliveries: readonly { date: CalendarDate; quantity: string }[];
  quantity: string;
  unit: string;
  price: string;
  net: Minor;
}

export interface OrderPaper {
  language: LetterLanguage;
  number: string;
  date: CalendarDate | "";
  currency: string;
  company: Addressee;
  supplier: Addressee & { code: string };
  contact: string;
  terms: string;
  /** Lines of the address of delivery. */
  deliverTo: readonly string[];
  lines: readonly OrderedLine[];
  net: Minor;
  /** By code, as they would be charged; reverse charge charges nothing. */
  taxes: readonly { name: string; percent: string; tax: Minor }[];
  approvedBy: readonly string[];
  opening: string;
  closing: string;
}

/**
 * An order as the letter that its supplier gets. Amounts in minor units of its currency; the taxes
 * are added to the net exactly as they are given.
 */
export function orderLetter(order: OrderPaper): Letter {
  const { word, amount, figure, day } = letterWriter(order.language);
  const money = (of: bigint) => amount(of, order.currency);
  const total = order.taxes.reduce((sum, t) => sum + t.tax, order.net as bigint);
  return {
    language: order.language,
    title: `${word("order")} ${order.number}`,
    recipient: addressLines(order.supplier, order.company),
    facts: [
      { label: word("number"), text: order.number },
      { label: word("date"), text: day(order.date) },
      { label: word("yourNumber"), text: order.supplier.code },
      { label: word("contact"), text: order.contact },
      { label: word("terms"), text: order.terms },
      { label: word("currency"), text: order.currency },
      { label: word("approvedBy"), text: order.approvedBy.join(", ") },
    ].filter((f) => f.text !== ""),
    blocks: [{ label: word("deliverTo"), lines: order.deliverTo }],
    opening: order.opening,
    columns: [
      { name: word("no"), weight: 5 },
      { name: word("description"), weight: 34 },
      { name: word("delivery"), weight: 16 },
      { name: word("quantity"), weight: 14, right: true },
      { name: word("price"), weight: 14, right: true },
      { name: word("amount"), weight: 17, right: true },
    ],
    rows: order.lines.map((l) => [
      String(l.no ?? ""),
      l.description,
      l.deliveries
        .map((d) =>
          l.deliveries.length > 1 ? `${figure(d.quantity)}: ${day(d.date)}` : day(d.date),
        )
        .join("\n"),
      `${figure(l.quantity)} ${l.unit}`.trim(),
      figure(priceText(l.price, order.currency)),
      money(l.net),
    ]),
    totals: [
      { label: word("net"), text: money(order.net) },
      ...order.taxes.map((t) => ({
        label: `${t.name}, ${figure(t.percent)} %`,
        text: money(t.tax),
      })),
      { label: `${word("total")} ${order.currency}`, text: money(total), strong: true },
    ],
    closing: order.closing,
  };
}
