import { readQuantity, type EntryLine, type JournalEntry } from "../ledger";
import { instalmentsOf, type Instalment, type Terms } from "../openItems";
import { readRate } from "../rates";
import {
  addDays,
  amountText,
  exponentOf,
  isCalendarDate,
  minor,
  readAmount,
  readDate,
  type CalendarDate,
  type Found,
  type Minor,
} from "../shared";
import { matchLine, type LineMatch, type LotUse, type OrderedLine, type ReceiptLot } from "./match";
import { rateOn, recoverableOf, taxOf, type TaxCode } from "../taxes";
import { type InvoiceLineInput, type InvoiceInput } from "./invoiceInput";
import { splitByShares, type ShareSet } from "../shares";

export interface InvoiceContext {
  company?: string;
  functional: string;
  today: CalendarDate;
  taxCodes: ReadonlyMap<string, TaxCode>;
  terms: ReadonlyMap<string, Terms>;
  supplier: { code: string; name: string; terms: string | null; blocked: boolean } | null;
  /** The suppliers' control account. */
  payablesAccount: string;
  /** Control accounts on which invoices may stand instead. */
  payablesAccounts?: ReadonlySet<string>;
  /** Lines of orders in force that the invoice names, by their reference. */
  ordered?: ReadonlyMap<string, OrderedLine>;
  /**
   * Where matching posts: what was received and not invoiced, and differences of price and
   * quantity.
   */
  matching?: { grni: string; priceVariance: string; quantityVariance: string };
  shares?: ReadonlyMap<string, ShareSet>;
  /** What a discount is a per cent of: of the invoice's total, where nothing is said. */
  discountOn?: DiscountOn;
}

export const DISCOUNT_ON = ["invoice total", "net", "amount payable"] as const;

export type DiscountOn = (typeof DISCOUNT_ON)[number];

/**
 * What was computed for a tax code of an invoice. Minor units of its currency, signed as on the
 * paper.
 */
export interface TaxSum {
  code: string;
  percent: string;
  from: CalendarDate;
  base: Minor;
  tax: Minor;
  recoverable: Minor;
  returnLine: string;
  reverse: boolean;
  /** Kept back from the supplier. */
  withheld?: boolean;
}

export interface InvoiceReading {
  /** The journal that it becomes; lines that the system adds come after those as written. */
  entry: JournalEntry;
  /**
   * For each line of the entry, its line in what was written (from 1); null where the system added
   * it.
   */
  sources: (number | null)[];
  lines: { line: number; net: Minor; tax: Minor }[];
  taxes: TaxSum[];
  net: Minor;
  tax: Minor;
  /** What is owed: net and tax, without what the buyer owes to the authority. */
  gross: Minor;
  instalments: Instalment[];
  currency: string;
  date: CalendarDate | "";
  /** How lines compare with orders and receipts. */
  matches: (LineMatch & { line: number })[];
  /** What does not fit to orders and receipts: with a sentence here it is held. */
  holds: string[];
  problems: Found[];
}

const isBlank = (l: InvoiceLineInput): boolean =>
  [l.account, l.net, l.description, l.order, ...Object.values(l.dimensions)].every(
    (t) => t.trim() === "",
  );

/**
 * Turns an invoice as written into the journal that it becomes: cost by line with the tax that
 * can't be recovered, the recoverable tax by code,
 * under reverse charge also what the buyer owes, and the supplier by instalment.
 * Units: amounts are decimals of the invoice's currency. A credit note is written with positive
 * amounts and posted on the other sides.
 * Rounding: tax as `taxOf`; amounts that include tax are taken apart line by line, net by
 * difference.
 */
export function readInvoice(input: InvoiceInput, context: InvoiceContext): InvoiceReading {
  const problems: Found[] = [];
  const currency = input.currency?.trim().toUpperCase() || context.functional;
  const at = (written: string, field: string, what: string): CalendarDate | "" => {
    const read = readDate(written, context.today);
    if (written.trim() === "") problems.push({ code: "REQUIRED", what, field });
    else if (!read) problems.push({ code: "DATE_INVALID", text: written, field });
    return read ?? "";
  };
  const date = at(input.date, "date", "The invoice date");
  const postingDate =
    input.postingDate.trim() === ""
      ? date
      : at(input.postingDate, "postingDate", "The journal date");
  if (!context.supplier)
    problems.push(
      input.supplier.trim() === ""
        ? { code: "REQUIRED", what: "The supplier", field: "supplier" }
        : { code: "PARTNER_UNKNOWN", partner: input.supplier, field: "supplier" },
    );
  else if (context.supplier.blocked)
    problems.push({
      code: "INVALID",
      what: `${context.supplier.name} is blocked`,
      field: "supplier",
    });
  if (input.number.trim() === "")
    problems.push({ code: "REQUIRED", what: "The supplier's number", field: "number" });
  const typedRate = input.rate.trim() === "" ? undefined : readRate(input.rate);
  if (typedRate === null) problems.push({ code: "RATE_INVALID", text: input.rate, field: "rate" });

  const sign = input.kind === "credit note" ? -1n : 1n;
  const written: {
    line: number;
    input: InvoiceLineInput;
    amount: Minor;
    code: TaxCode | null;
    percent: string;
    from: CalendarDate;
  }[] = [];
  input.lines.forEach((line, i) => {
    if (isBlank(line)) return;
    const place = i + 1;
    const reading = readAmount(line.net, currency);
    if (!reading.ok)
      problems.push(
        line.net.trim() === ""
          ? { code: "NO_AMOUNT", line: place, field: "net" }
          : { code: "AMOUNT_NOT_NUMBER", text: line.net, line: place, field: "net" },
      );
    const code =
      line.taxCode.trim() === ""
        ? null
        : (context.taxCodes.get(line.taxCode.trim().toUpperCase()) ?? undefined);
    if (code === undefined)
      problems.push({ code: "TAX_UNKNOWN", tax: line.taxCode, line: place, field: "taxCode" });
    else if (code?.kind === "withheld")
      problems.push({
        code: "INVALID",
        what: `${code.code} is kept back from the whole invoice, not charged on a line`,
        line: place,
        field: "taxCode",
      });
    else if (code === null)
      problems.push({ code: "REQUIRED", what: "The tax code", line: place, field: "taxCode" });
    const rate = code && isCalendarDate(date) ? rateOn(code, date) : null;
    if (code && date && !rate)
      problems.push({
        code: "TAX_RATE_MISSING",
        tax: code.code,
        date,
        line: place,
        field: "taxCode",
      });
    written.push({
      line: place,
      input: line,
      amount: reading.ok ? reading.amount : minor(0n),
      code: code ?? null,
      percent: rate?.percent ?? "0",
      from: rate?.from ?? date,
    });
  });
  if (written.length === 0) problems.push({ code: "REQUIRED", what: "A line", field: "lines" });

  // Tax by code, so that it can be rounded once for each.
  const taxed = new Map<number, { net: Minor; tax: Minor; recoverable: Minor }>();
  const taxes: TaxSum[] = [];
  for (const code of new Set(written.map((w) => w.code))) {
    const own = written.filter((w) => w.code === code);
    if (!code) {
      for (const w of own)
        taxed.set(w.line, { net: w.amount, tax: minor(0n), recoverable: minor(0n) });
      continue;
    }
    const percent = own[0]!.percent;
    const included = input.gross && code.kind === "standard";
    const nets = own.map((w) => (included ? netOf(w.amount, percent) : w.amount));
    const computed = included
      ? own.map((w, i) => {
          const tax = minor(w.amount - nets[i]!);
          return { tax, recoverable: recoverableOf(tax, code.recoverable) };
        })
      : taxOf(nets, percent, code.recoverable, input.rounding);
    own.forEach((w, i) => taxed.set(w.line, { net: nets[i]!, ...computed[i]! }));
    const sum = (pick: (i: number) => bigint) => minor(own.reduce((t, _, i) => t + pick(i), 0n));
    taxes.push({
      code: code.code,
      percent,
      from: own[0]!.from,
      base: sum((i) => nets[i]!),
      tax: sum((i) => computed[i]!.tax),
      recoverable: sum((i) => computed[i]!.recoverable),
      returnLine: code.returnLine,
      reverse: code.kind === "reverse",
    });
  }
  const net = minor([...taxed.values()].reduce((t, x) => t + x.net, 0n));
  const tax = minor(taxes.reduce((t, x) => (x.reverse ? t : t + x.tax), 0n));
  const withheld = withholdingOf(input, net, date, context, problems);
  if (withheld) taxes.push(withheld);
  const gross = minor(net + tax - (withheld?.tax ?? 0n));

  if (net + tax < 0n && written.length > 0)
    problems.push({
      code: "INVALID",
      what: `It comes to less than nothing. Enter it as ${input.kind === "invoice" ? "a credit note" : "an invoice"}`,
      field: "kind",
    });

  const lines: EntryLine[] = [];
  const sources: (number | null)[] = [];
  const add = (line: Omit<EntryLine, "side" | "amount">, amount: bigint, source: number | null) => {
    if (amount === 0n) return;
    lines.push({
      ...line,
      side: amount > 0n ? "debit" : "credit",
      amount: minor(amount < 0n ? -amount : amount),
    });
    sources.push(source);
  };
  const matches: (LineMatch & { line: number })[] = [];
  const used = new Map<string, OrderedLine>();
  for (const w of written) {
    const t = taxed.get(w.line)!;
    const company = w.input.company.trim().toUpperCase();
    const coding = {
      written: true as const,
      account: w.input.account.trim(),
      dimensions: w.input.dimensions,
      description: w.input.description,
      ...(company && company !== input.company ? { company } : {}),
    };
    const cost = minor(t.net + t.tax - t.recoverable);
    const ref = w.input.order.trim().toUpperCase();
    const ordered = ref === "" ? null : (used.get(ref) ?? context.ordered?.get(ref));
    if (ref === "") {
      for (const part of sharesOf(w.input, coding, cost, currency, context, problems, w.line))
        add(part.line, sign * part.amount, w.line);
      continue;
    }
    const quantity = readQuantity(w.input.quantity);
    const fault: Found | null = !ordered
      ? { code: "NOT_FOUND", what: `line ${w.input.order} of an order in force`, field: "order" }
      : ordered.supplier !== context.supplier?.code
        ? {
            code: "INVALID",
            what: `${ordered.ref} was ordered from another supplier`,
            field: "order",
          }
        : ordered.currency !== currency
          ? {
              code: "INVALID",
              what: `${ordered.ref} was ordered in ${ordered.currency}`,
              field: "order",
            }
          : quantity === null || quantity <= 0n
            ? { code: "QUANTITY_INVALID", text: w.input.quantity, field: "quantity" }
            : null;
    if (fault) {
      problems.push({ ...fault, line: w.line });
      continue;
    }
    const match = matchLine(ordered!, quantity!, t.net, cost, sign < 0n);
    // A second line of the same invoice finds what the first has left.
    used.set(ref, {
      ...ordered!,
      invoiced: ordered!.invoiced + sign * quantity!,
      lots: ordered!.lots.map((l) => afterUse(l, match.uses)),
    });
    const otherTax =
      w.code && ordered!.taxCode !== "" && w.code.code !== ordered!.taxCode
        ? [`${ordered!.ref}: tax code ${w.code.code} is invoiced, ${ordered!.taxCode} was ordered.`]
        : [];
    matches.push({ ...match, holds: [...match.holds, ...otherTax], line: w.line });
    const to = context.matching!;
    const own = {
      dimensions: ordered!.dimensions,
      description: w.input.description || ordered!.description,
    };
    for (const u of match.uses) {
      lines.push({
        account: to.grni,
        dimensions: {},
        description: own.description,
        side: sign > 0n ? "debit" : "credit",
        amount: u.foreign,
        functional: u.functional,
        carried: true,
      });
      sources.push(w.line);
      if (u.reopened === 0n || !u.reopenedFrom) continue;
      // What was written off and is billed after all stands again before it is cleared.
      const [amount, side, other] = [
        minor(u.reopened < 0n ? -u.reopened : u.reopened),
        u.reopened > 0n ? ("credit" as const) : ("debit" as const),
        u.reopened > 0n ? ("debit" as const) : ("credit" as const),
      ];
      const again = {
        description: `Written off before, ${own.description}`.slice(0, 200),
        amount: currency === context.functional ? amount : minor(0n),
        functional: amount,
      };
      lines.push(
        { ...again, account: to.grni, dimensions: {}, side },
        {
          ...again,
          account: u.reopenedFrom.account,
          dimensions: u.reopenedFrom.dimensions,
          side: other,
        },
      );
      sources.push(w.line, w.line);
    }
    add(
      {
        ...coding,
        account: coding.account || ordered!.account,
        dimensions:
          Object.keys(coding.dimensions).length > 0 ? coding.dimensions : ordered!.dimensions,
        description: own.description,
      },
      sign * match.direct,
      w.line,
    );
    add({ account: to.priceVariance, ...own }, sign * match.priceVariance, w.line);
    add({ account: to.quantityVariance, ...own }, sign * match.quantityVariance, w.line);
  }
  for (const t of taxes) {
    const code = context.taxCodes.get(t.code)!;
    const description = `${code.name}, ${t.percent} % of ${amountText(t.base, currency)}`;
    if (t.withheld) {
      add({ account: code.owedAccount, dimensions: {}, description }, -sign * t.tax, null);
      continue;
    }
    add({ account: code.account, dimensions: {}, description }, sign * t.recoverable, null);
    if (t.reverse)
      add({ account: code.owedAccount, dimensions: {}, description }, -sign * t.tax, null);
  }
  const termsCode = input.terms.trim() || context.supplier?.terms || "";
  const terms = context.terms.get(termsCode);
  if (input.terms.trim() && !terms)
    problems.push({ code: "NOT_FOUND", what: `such terms as ${input.terms}`, field: "terms" });
  const due = input.dueDate.trim() === "" ? null : at(input.dueDate, "dueDate", "The due date");
  const discountable = {
    "invoice total": minor(net + tax),
    net,
    "amount payable": gross,
  }[context.discountOn ?? "invoice total"];
  const instalments: Instalment[] =
    date === ""
      ? []
      : terms
        ? instalmentsOf(terms, date, gross, { discountable, due: due || undefined })
        : [{ due: due || addDays(date, 30), amount: gross, discounts: [] }];
  const control = input.controlAccount.trim() || context.payablesAccount;
  if (input.controlAccount.trim() !== "" && !context.payablesAccounts?.has(control))
    problems.push({
      code: "INVALID",
      what: `Account ${control} is no control account of suppliers`,
      field: "controlAccount",
    });
  for (const part of instalments)
    add(
      {
        account: control,
        dimensions: {},
        description: `${input.number.trim()} ${context.supplier?.name ?? ""}`.trim(),
        partner: context.supplier?.code ?? input.supplier,
        dueDate: part.due,
        item: {
          kind: input.kind,
          reference: input.number.trim(),
          ...(input.kind === "invoice" && part.discounts.length > 0
            ? { discounts: part.discounts }
            : {}),
        },
      },
      -sign * part.amount,
      null,
    );

  if (input.total.trim() !== "") {
    const reading = readAmount(input.total, currency);
    if (!reading.ok)
      problems.push({ code: "AMOUNT_NOT_NUMBER", text: input.total, field: "total" });
    else if (reading.amount !== net + tax)
      problems.push({
        code: "INVOICE_TOTAL",
        paper: amountText(reading.amount, currency),
        computed: amountText(minor(net + tax), currency),
        difference: amountText(minor(reading.amount - net - tax), currency),
        field: "total",
      });
  }
  return {
    entry: {
      company: input.company,
      type: "purchase",
      book: null,
      date: postingDate,
      currency,
      rateKind: input.rateKind,
      ...(typedRate ? { rate: typedRate } : {}),
      description:
        input.description.trim() ||
        `${context.supplier?.name ?? input.supplier}, ${input.kind} ${input.number.trim()}`,
      reference: input.number.trim().slice(0, 60),
      lines,
    },
    sources,
    lines: written.map((w) => ({
      line: w.line,
      net: taxed.get(w.line)!.net,
      tax: taxed.get(w.line)!.tax,
    })),
    taxes,
    net,
    tax,
    gross,
    instalments,
    currency,
    date,
    matches,
    holds: matches.flatMap((m) => m.holds),
    problems,
  };
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

/** What is kept back from the supplier: a per cent of the net amount, half away from zero. */
function withholdingOf(
  input: InvoiceInput,
  net: Minor,
  date: CalendarDate | "",
  context: InvoiceContext,
  problems: Found[],
): TaxSum | null {
  if (input.withholding.trim() === "") return null;
  const code = context.taxCodes.get(input.withholding.trim().toUpperCase());
  if (!code || code.kind !== "withheld") {
    problems.push({ code: "TAX_UNKNOWN", tax: input.withholding, field: "withholding" });
    return null;
  }
  const rate = date === "" ? null : rateOn(code, date);
  if (date !== "" && !rate)
    problems.push({ code: "TAX_RATE_MISSING", tax: code.code, date, field: "withholding" });
  const [computed] = taxOf([net], rate?.percent ?? "0", "0", "line");
  return {
    code: code.code,
    percent: rate?.percent ?? "0",
    from: rate?.from ?? date,
    base: net,
    tax: computed!.tax,
    recoverable: minor(0n),
    returnLine: code.returnLine,
    reverse: false,
    withheld: true,
  };
}

/** What a lot has left after these uses of it. */
function afterUse(lot: ReceiptLot, uses: readonly LotUse[]): ReceiptLot {
  const own = uses.filter((u) => u.receiptLine === lot.receiptLine);
  if (own.length === 0) return lot;
  const turn = lot.quantityLeft < 0n ? -1n : 1n;
  const sum = (pick: (u: LotUse) => bigint): bigint => own.reduce((t, u) => t + pick(u), 0n);
  return {
    ...lot,
    quantityLeft: lot.quantityLeft - turn * sum((u) => u.quantity),
    foreignLeft: minor(lot.foreignLeft - turn * sum((u) => u.foreign)),
    functionalLeft: minor(lot.functionalLeft - turn * sum((u) => u.functional)),
    cleaned: minor(lot.cleaned - sum((u) => u.reopened)),
  };
}

/** The lines that the cost of an invoice line becomes: itself, or its parts by shares. */
function sharesOf<
  L extends { account: string; dimensions: Readonly<Record<string, string>>; company?: string },
>(
  input: InvoiceLineInput,
  coding: L,
  cost: Minor,
  currency: string,
  context: InvoiceContext,
  problems: Found[],
  line: number,
): { line: L; amount: Minor }[] {
  if (input.shares.trim() === "") return [{ line: coding, amount: cost }];
  const set = context.shares?.get(input.shares.trim().toUpperCase());
  if (!set) {
    problems.push({
      code: "NOT_FOUND",
      what: `such shares as ${input.shares}`,
      line,
      field: "shares",
    });
    return [{ line: coding, amount: cost }];
  }
  const parts = splitByShares(set, cost, exponentOf(currency));
  if (!parts.ok) {
    problems.push(...parts.problems.map((p) => ({ ...p, line, field: "shares" })));
    return [{ line: coding, amount: cost }];
  }
  return parts.value.map(({ target, amount }) => ({
    line: {
      ...coding,
      account: target.account || coding.account,
      dimensions: { ...coding.dimensions, ...target.dimensions },
      ...(target.company && target.company !== context.company ? { company: target.company } : {}),
    },
    amount,
  }));
}
