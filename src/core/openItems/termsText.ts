import type { Terms } from "./terms";

type Instalment = Terms["instalments"][number];

/**
 * Terms as people write them: "50 % 10 days; 50 % 40 days from end of month, on day 15", or parts in
 * proportion: "1 part 30 days; 1 part 60 days"; "90 % on delivery; 10 % 0 days from delivery, 12
 * months on". `readTermsText` reads it back.
 */
export const instalmentsText = (terms: Terms): string =>
  terms.instalments.map((i) => partText(i, terms.by === "weights" ? "part" : "%")).join("; ");
export const discountsText = (terms: Terms): string =>
  terms.discounts.map((d) => partText(d, "%")).join("; ");

const partText = (i: Instalment, unit: "%" | "part"): string =>
  [
    `${i.percent} ${unit} ${i.days} days`,
    i.fromDelivery ? " from delivery" : "",
    i.endOfMonth ? " from end of month" : "",
    i.months ? `, ${i.months} months on` : "",
    i.dayOfMonth === 31 ? ", then end of month" : i.dayOfMonth ? `, on day ${i.dayOfMonth}` : "",
  ].join("");

export interface TermsPart {
  percent: string;
  days: number;
  fromDelivery: boolean;
  endOfMonth: boolean;
  months: number;
  dayOfMonth: number;
}

/**
 * Reads what stands in a field of the form. A part that is not understood goes to the check as it
 * is, which refuses it; so does a mixture of per cent and parts.
 */
export function readTermsText(text: string): { by: Terms["by"]; parts: TermsPart[] } {
  const written = text
    .split(";")
    .map((p) => p.trim())
    .filter(Boolean);
  const byWeights = written.length > 0 && written.every((p) => /^[\d.]+\s*parts?\b/i.test(p));
  return {
    by: byWeights ? "weights" : "per cent",
    parts: written.map((part) => readPart(part, byWeights)),
  };
}

function readPart(part: string, byWeights: boolean): TermsPart {
  const unit = byWeights ? "parts?" : "%";
  const plain = part.replace(/\bon delivery\b/i, "0 days from delivery");
  const found = new RegExp(`^([\\d.]+)\\s*${unit}\\s*(\\d+)\\s*days?(.*)$`, "i").exec(plain);
  const [, percent = part, days = "", rest = ""] = found ?? [];
  const then = /then\s+(?:the\s+)?end of month/i.test(rest);
  const before = rest.replace(/then\s+(?:the\s+)?end of month/i, "");
  return {
    percent,
    days: Number(days),
    fromDelivery: /from (?:the )?delivery/i.test(rest),
    endOfMonth: /end of month/i.test(before),
    months: Number(/(\d+)\s*months?/i.exec(rest)?.[1] ?? 0),
    dayOfMonth: then ? 31 : Number(/on\s+day\s+(\d+)/i.exec(rest)?.[1] ?? 0),
  };
}
