import { minor, type CalendarDate, type Found, type Minor } from "../shared";
import { rateOn, recoverableOf, taxOf, type TaxCode, type TaxRounding } from "../taxes";
import type { ReadLine, TaxedLine, TaxSum } from "./paper";

/**
 * Tax of a trade document's lines, by code, so that it can be rounded once for each; and what it
 * makes of each line.
 * Rounding: as `taxOf`; amounts that have their tax in them are taken apart line by line, net half
 * away from zero and tax by difference.
 */
export function taxSums<L>(
  written: readonly ReadLine<L>[],
  how: { gross: boolean; rounding: TaxRounding },
): { taxed: ReadonlyMap<number, TaxedLine>; taxes: TaxSum[] } {
  const taxed = new Map<number, TaxedLine>();
  const taxes: TaxSum[] = [];
  for (const code of new Set(written.map((w) => w.code))) {
    const own = written.filter((w) => w.code === code);
    if (!code) {
      for (const w of own)
        taxed.set(w.line, { net: w.amount, tax: minor(0n), recoverable: minor(0n) });
      continue;
    }
    const lines = taxedLines(own, code, how);
    own.forEach((w, i) => taxed.set(w.line, lines[i]!));
    const sum = (pick: (l: TaxedLine) => bigint) => minor(lines.reduce((t, l) => t + pick(l), 0n));
    taxes.push({
      code: code.code,
      percent: own[0]!.percent,
      from: own[0]!.from,
      base: sum((l) => l.net),
      tax: sum((l) => l.tax),
      recoverable: sum((l) => l.recoverable),
      returnLine: code.returnLine,
      reverse: code.kind === "reverse",
    });
  }
  return { taxed, taxes };
}

/** The lines of one code. What is sold has no part that can't be recovered: all tax is passed on. */
function taxedLines<L>(
  own: readonly ReadLine<L>[],
  code: TaxCode,
  how: { gross: boolean; rounding: TaxRounding },
): TaxedLine[] {
  const percent = own[0]!.percent;
  const recoverable = code.direction === "sale" ? "100" : code.recoverable;
  if (!how.gross || code.kind !== "standard") {
    const nets = own.map((w) => w.amount);
    return taxOf(nets, percent, recoverable, how.rounding).map((t, i) => ({ net: nets[i]!, ...t }));
  }
  return own.map((w) => {
    const net = netOf(w.amount, percent);
    const tax = minor(w.amount - net);
    return { net, tax, recoverable: recoverableOf(tax, recoverable) };
  });
}

/** The net amount in one that includes tax: amount × 100 / (100 + rate), half away from zero. */
function netOf(amount: Minor, percent: string): Minor {
  const [whole = "0", fraction = ""] = percent.split(".");
  const scale = 10n ** BigInt(fraction.length);
  const rate = BigInt(whole + fraction);
  const divisor = 100n * scale + rate;
  const n = amount * 100n * scale;
  const sign = n < 0n ? -1n : 1n;
  return minor(sign * ((sign * n * 2n + divisor) / (divisor * 2n)));
}

/** What the buyer keeps back: a per cent of the net amount, half away from zero. */
export function withholdingOf(
  wanted: string,
  net: Minor,
  date: CalendarDate | "",
  taxCodes: ReadonlyMap<string, TaxCode>,
): { withheld: TaxSum | null; problems: Found[] } {
  if (wanted.trim() === "") return { withheld: null, problems: [] };
  const code = taxCodes.get(wanted.trim().toUpperCase());
  if (!code || code.kind !== "withheld")
    return {
      withheld: null,
      problems: [{ code: "TAX_UNKNOWN", tax: wanted, field: "withholding" }],
    };
  const rate = date === "" ? null : rateOn(code, date);
  const [computed] = taxOf([net], rate?.percent ?? "0", "0", "line");
  return {
    withheld: {
      code: code.code,
      percent: rate?.percent ?? "0",
      from: rate?.from ?? date,
      base: net,
      tax: computed!.tax,
      recoverable: minor(0n),
      returnLine: code.returnLine,
      reverse: false,
      withheld: true,
    },
    problems:
      date !== "" && !rate
        ? [{ code: "TAX_RATE_MISSING", tax: code.code, date, field: "withholding" }]
        : [],
  };
}
