import { isCalendarDate, minor, readAmount, type CalendarDate, type Found } from "../shared";
import { rateOn, type TaxCode } from "../taxes";
import type { ReadLine } from "./paper";
import type { PaperLine } from "./paperInput";

interface Known {
  currency: string;
  date: CalendarDate | "";
  taxCodes: ReadonlyMap<string, TaxCode>;
  isBlank(line: PaperLine): boolean;
}

/**
 * The lines of a trade document that say anything, with their amounts and tax codes. What can't be
 * read is a problem at its cell, and the line goes on with nothing in its place.
 */
export function readLines<L extends PaperLine>(
  lines: readonly L[],
  known: Known,
): { written: ReadLine<L>[]; problems: Found[] } {
  const problems: Found[] = [];
  const written = lines.flatMap((input, i): ReadLine<L>[] => {
    if (known.isBlank(input)) return [];
    const line = i + 1;
    const reading = readAmount(input.net, known.currency);
    if (!reading.ok)
      problems.push(
        input.net.trim() === ""
          ? { code: "NO_AMOUNT", line, field: "net" }
          : { code: "AMOUNT_NOT_NUMBER", text: input.net, line, field: "net" },
      );
    const wanted = input.taxCode.trim();
    const code = known.taxCodes.get(wanted.toUpperCase());
    const fault = taxFault(wanted, code);
    if (fault) problems.push({ ...fault, line, field: "taxCode" });
    const rate = code && isCalendarDate(known.date) ? rateOn(code, known.date) : null;
    if (code && known.date && !rate)
      problems.push({
        code: "TAX_RATE_MISSING",
        tax: code.code,
        date: known.date,
        line,
        field: "taxCode",
      });
    return [
      {
        line,
        input,
        amount: reading.ok ? reading.amount : minor(0n),
        code: code ?? null,
        // Whatever rate stands there, nothing is charged under a code of this kind.
        percent: code?.kind === "none" ? "0" : (rate?.percent ?? "0"),
        from: rate?.from ?? known.date,
      },
    ];
  });
  if (written.length === 0) problems.push({ code: "REQUIRED", what: "A line", field: "lines" });
  return { written, problems };
}

function taxFault(wanted: string, code: TaxCode | undefined): Found | null {
  if (wanted === "") return { code: "REQUIRED", what: "The tax code" };
  if (!code) return { code: "TAX_UNKNOWN", tax: wanted };
  if (code.kind === "withheld")
    return {
      code: "INVALID",
      what: `${code.code} is kept back from the whole invoice, not charged on a line`,
    };
  return null;
}
