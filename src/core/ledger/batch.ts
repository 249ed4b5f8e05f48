import { array, object, string, type InferType } from "yup";
import { isCurrency, readAmount, type Found } from "../shared";
import type { Total } from "./controlTotals";

/** A batch of journals as it is written: its period, and what its papers add up to. */
export const batchSchema = object({
  company: string().required(),
  name: string().trim().max(100).default(""),
  period: string().required("A period is needed"),
  description: string().max(500).default(""),
  controls: array(object({ currency: string().required(), amount: string().default("") }))
    .max(20)
    .default([]),
});
export type BatchInput = InferType<typeof batchSchema>;

/**
 * The control totals that are given, by currency, in minor units; a blank amount gives none. Errors:
 * a currency that is none, an amount that is no number.
 */
export function readControls(controls: BatchInput["controls"]): {
  totals: Total[];
  problems: Found[];
} {
  const totals: Total[] = [];
  const problems: Found[] = [];
  for (const { currency, amount } of controls) {
    if (amount.trim() === "") continue;
    if (!isCurrency(currency)) {
      problems.push({ code: "CURRENCY_UNKNOWN", currency, field: "controls" });
      continue;
    }
    const reading = readAmount(amount, currency);
    if (reading.ok) totals.push({ currency, amount: reading.amount });
    else problems.push({ code: "AMOUNT_NOT_NUMBER", text: amount, field: "controls" });
  }
  return { totals, problems };
}
