import { amountText, minor, type Found, type Minor } from "../shared";
import type { SaleInput } from "./saleInput";

/** A prepayment that an invoice has asked for, with what of it is left to be set off. */
export interface PrepaymentAsked {
  id: number;
  number: string;
  currency: string;
  /** Net amounts by tax code, in minor units of its currency. */
  byTax: ReadonlyMap<string, { asked: Minor; left: Minor }>;
}

/** What a line does to a prepayment: asks for it, sets it off, or takes either back. */
export interface PrepaidPart {
  line: number;
  /** The document that asked for it; null for the one that is read. */
  of: number | null;
  taxCode: string;
  /** Net, positive for what is asked for. */
  amount: Minor;
}

export interface PrepaymentContext {
  /** Where what customers pay ahead waits (IFRS 15.106); null where nothing is set up for it. */
  prepaymentAccount: string | null;
  /** Those that the paper names, by number. */
  prepayments: ReadonlyMap<string, PrepaymentAsked>;
}

const named = (text: string): string => text.trim().toUpperCase();

/** Whether a line of a paper stands for a prepayment, and not for revenue. */
export const isPrepaid = (input: SaleInput, line: { setsOff: string }): boolean =>
  input.prepayment || named(line.setsOff) !== "";

/** What stands against a prepayment in a line, whatever it comes to. */
export function againstPrepaid(
  input: SaleInput,
  line: SaleInput["lines"][number],
  {
    prepaymentAccount,
    currency,
    functional,
  }: PrepaymentContext & Record<"currency" | "functional", string>,
): Found | null {
  const setsOff = named(line.setsOff) !== "";
  const wrong = (what: string, field: string): Found => ({ code: "INVALID", what, field });
  const field = setsOff ? "setsOff" : "net";
  if (prepaymentAccount === null)
    return wrong("No account is set for prepayments; choose one in Setup, Receivables", field);
  if (input.prepayment && setsOff)
    return wrong("What asks for a prepayment sets none off", "setsOff");
  if (currency !== functional)
    return wrong(
      `A prepayment is asked for and set off in ${functional}, not in ${currency}`,
      field,
    );
  if (line.shares.trim() !== "") return wrong("A prepayment is not split by shares", "shares");
  if (line.earnedFrom.trim() !== "" || line.earnedTo.trim() !== "")
    return wrong("A prepayment is earned when it is set off; leave the days out", "earnedFrom");
  const company = named(line.company);
  if (company !== "" && company !== named(input.company))
    return wrong(`What ${company} earns is no prepayment of this company`, "company");
  if (setsOff && input.gross)
    return wrong("What was asked for is known net; write this invoice net", "setsOff");
  if (setsOff && input.discount.trim() !== "")
    return wrong(
      "A discount of the whole would lessen what is set off; give it by line",
      "setsOff",
    );
  return null;
}

/**
 * What a paper does to prepayments, from the net amounts of its lines; no more is set off of one than
 * is left of it under a tax code, so that no tax is taken back that was not charged. A credit note
 * takes back what its kind of paper has done.
 * Units: minor units of its currency, which is the company's: what was paid ahead keeps its value.
 */
export function readPrepaid(
  input: SaleInput,
  nets: ReadonlyMap<number, Minor>,
  context: PrepaymentContext,
): { parts: PrepaidPart[]; problems: Found[] } {
  const problems: Found[] = [];
  const parts: PrepaidPart[] = [];
  const sign = input.kind === "credit note" ? -1n : 1n;
  const corrected = context.prepayments.get(named(input.corrects));
  if (input.kind === "credit note" && input.prepayment !== (corrected !== undefined))
    problems.push({
      code: "INVALID",
      what: corrected
        ? `${corrected.number} has asked for a prepayment: its credit note takes back one too`
        : "Name the invoice that has asked for the prepayment",
      field: "corrects",
    });
  const left = new Map<string, bigint>();
  input.lines.forEach((l, i) => {
    const line = i + 1;
    const net = nets.get(line);
    if (net === undefined || !isPrepaid(input, l)) return;
    const taxCode = named(l.taxCode);
    const bad = (what: string, field: string) =>
      problems.push({ code: "INVALID", what, line, field });
    const ofOther = named(l.setsOff);
    const of = ofOther === "" ? corrected : context.prepayments.get(ofOther);
    if (ofOther !== "" && !of)
      return void bad(
        `No invoice ${ofOther} to this customer has asked for a prepayment`,
        "setsOff",
      );
    if (ofOther !== "" && net > 0n)
      return void bad("What is set off is taken off: write it below nothing", "net");
    const amount = minor(sign * net);
    parts.push({ line, of: of?.id ?? null, taxCode, amount });
    if (!of) {
      if (net <= 0n) bad("A prepayment asks for an amount above nothing", "net");
      return;
    }
    const known = of.byTax.get(taxCode);
    if (!known) return void bad(`${of.number} has no tax ${taxCode || "code"}`, "taxCode");
    const key = `${of.id} ${taxCode}`;
    const before = left.get(key) ?? known.left;
    const after = before + amount;
    left.set(key, after);
    if (after < 0n)
      bad(
        `Only ${amountText(minor(before), of.currency)} ${of.currency} of ${of.number} is left to be set off`,
        "net",
      );
    else if (after > known.asked)
      bad(`More than was set off of ${of.number} would come back`, "net");
  });
  return { parts, problems };
}
