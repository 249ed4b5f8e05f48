import type { EntryLine } from "../ledger";
import { fail, minor, ok, type CalendarDate, type Minor, type Result } from "../shared";
import { sharedCoding, type ShareSet } from "../shares";
import { rateOn, type TaxCode } from "../taxes";
import { addTaxLines, BUYING, SELLING, taxSums, type TaxSum } from "../trade";
import type { RestPart } from "./lineJournal";
import type { LineCoding } from "./lineState";

/** What codings with taxes and shares are read with. */
export interface CodingFacts {
  /** The company's code. */
  company: string;
  taxCodes: ReadonlyMap<string, TaxCode>;
  shares: ReadonlyMap<string, ShareSet>;
}

/** What a coding makes of an amount: the parts, and what is to be recorded of its tax. */
export interface CodedRest {
  parts: RestPart[];
  tax: TaxSum | null;
}

/**
 * What an amount of the bank becomes by a coding: the tax in it on its accounts, and what is left,
 * with what can't be recovered of the tax, on the account of the coding or those of its shares. An
 * amount of the bank has its tax in it; under reverse charge it is the net amount, and the buyer owes
 * the tax besides. A tax on what is bought counts money out as positive, one on what is sold money in.
 * Units: minor units of `currency`; `amount` and the parts are positive for money in, the tax signed
 * by its own direction. Rounding: as `taxSums`, half away from zero; shares as `splitByShares`.
 * Errors: TAX_UNKNOWN, TAX_RATE_MISSING, NOT_FOUND and INVALID of shares, INVALID for shares of other
 * companies: a line of a bank is coded in its own.
 */
export function codedRest(
  coding: LineCoding,
  amount: Minor,
  on: { booked: CalendarDate; currency: string },
  facts: CodingFacts,
): Result<CodedRest> {
  const taxed = taxOfRest(coding, amount, on, facts);
  if (!taxed.ok) return taxed;
  const { tax, lines, cost } = taxed.value;
  const { account, dimensions, text } = coding;
  const shared = sharedCoding<{ account: string; dimensions: typeof dimensions; company?: string }>(
    { account, dimensions },
    { amount: cost, currency: on.currency },
    coding.shares ?? "",
    { sets: facts.shares, own: facts.company },
  );
  if (!shared.ok) return shared;
  const abroad = shared.value.find((s) => s.line.company !== undefined);
  if (abroad)
    return fail({
      code: "INVALID",
      what: `Shares ${coding.shares} go to ${abroad.line.company} too; a line of the bank is coded in its own company`,
      field: "shares",
    });
  return ok({
    parts: [
      ...shared.value.map((s) => ({
        account: s.line.account,
        dimensions: s.line.dimensions,
        text,
        written: true as const,
        amount: s.amount,
      })),
      ...lines,
    ],
    tax,
  });
}

/** The tax in an amount, its lines, and what is left for the coding, positive for money in. */
function taxOfRest(
  coding: LineCoding,
  amount: Minor,
  { booked, currency }: { booked: CalendarDate; currency: string },
  { taxCodes }: CodingFacts,
): Result<{ tax: TaxSum | null; lines: RestPart[]; cost: Minor }> {
  const wanted = coding.tax?.trim().toUpperCase() ?? "";
  if (wanted === "") return ok({ tax: null, lines: [], cost: amount });
  const code = taxCodes.get(wanted);
  if (!code) return fail({ code: "TAX_UNKNOWN", tax: coding.tax!, field: "tax" });
  if (code.kind === "withheld")
    return fail({
      code: "INVALID",
      what: `${code.code} is kept back from an invoice; no amount of a bank has it in it`,
      field: "tax",
    });
  const rate = rateOn(code, booked);
  if (!rate) return fail({ code: "TAX_RATE_MISSING", tax: code.code, date: booked, field: "tax" });
  const side = code.direction === "sale" ? SELLING : BUYING;
  const written = {
    line: 1,
    input: null,
    amount: minor(-side.turn * amount),
    code,
    percent: rate.percent,
    from: rate.from,
  };
  const { taxes } = taxSums([written], { gross: true, rounding: "line" });
  const tax = side === BUYING ? taxes[0]! : { ...taxes[0]!, recoverable: minor(0n) };
  const lines: RestPart[] = [];
  const add = (line: Omit<EntryLine, "side" | "amount">, debit: bigint): void => {
    const { account, dimensions, description: text } = line;
    if (debit !== 0n) lines.push({ account, dimensions, text, amount: minor(-debit) });
  };
  addTaxLines({ add }, taxes, { side, note: 1n, currency, taxCodes });
  const cost = amount - lines.reduce((t, l) => t + l.amount, 0n);
  return ok({ tax, lines, cost: minor(cost) });
}
