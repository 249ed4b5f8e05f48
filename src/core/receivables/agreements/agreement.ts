import { object, string, type InferType } from "yup";
import { dateText, datesOf, fillPattern, rhythmSchema, type CalendarDate } from "../../shared";
import { saleSchema, type SaleInput } from "../saleInput";
import { indexClauseSchema, indexedPrice, type IndexMove } from "./priceIndex";

/** What was agreed with a customer, from which invoices are made again and again. */
export const agreementSchema = object({
  name: string().trim().required("A name is needed").max(100),
  /** When invoices are dated, from when to when. */
  rhythm: rhythmSchema.required(),
  clause: indexClauseSchema.required(),
  sale: saleSchema.required(),
});
export type Agreement = InferType<typeof agreementSchema>;

/**
 * The invoice of an agreement for a date: texts say its month or quarter, prices and amounts follow
 * the index where it has moved enough.
 */
export function agreementSale(
  agreement: Agreement,
  date: CalendarDate,
  move: IndexMove | null,
  currency: string,
): SaleInput {
  const n = datesOf(agreement.rhythm, date).length;
  const fill = (text: string) => fillPattern(text, date, n);
  const priced = (text: string): string => {
    const isFigure = /^[\d,]+(\.\d+)?$/.test(text.trim());
    return move?.follows && isFigure
      ? indexedPrice(text, move.value, agreement.clause.base, currency)
      : text;
  };
  const { sale } = agreement;
  return {
    ...sale,
    kind: "invoice",
    date: dateText(date),
    postingDate: "",
    dueDate: "",
    // Each is a supply of its own, on its day.
    deliveredOn: dateText(date),
    total: "",
    corrects: "",
    description: fill(sale.description || agreement.name),
    lines: sale.lines.map((l) => ({
      ...l,
      description: fill(l.description),
      price: priced(l.price),
      // An amount that quantity and price come to follows them.
      net: l.price.trim() === "" ? priced(l.net) : "",
    })),
  };
}
