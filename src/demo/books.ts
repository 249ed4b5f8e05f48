import { addDays, decimalText, endOfMonth, minor, type CalendarDate } from "@/core/shared";
import type { DraftLine, JournalDraft } from "@/core/ledger";
import type { SaleInput } from "@/core/receivables";
import { randomFrom } from "./random";
import { partnerCode } from "./partners";
import { CUSTOMERS, SUPPLIERS } from "./structure";

/** A journal of the past, with who made it and on which day it was posted. */
export interface PastJournal {
  draft: JournalDraft;
  by: "accountant" | "payables" | "receivables" | "treasury" | "assets" | "controller";
  postedOn: CalendarDate;
  /** Names this journal for one that reverses it. */
  mark?: string;
  reversesMark?: string;
  /** An invoice that is written instead of its journal, and the name by which others speak of it. */
  sale?: { called: string; content: Partial<Omit<SaleInput, "lines">> & { lines: SoldLine[] } };
}

type SoldLine = Partial<SaleInput["lines"][number]>;

/** From then on customers get invoices; what is older stands in journals. */
const INVOICES_FROM = "2025-05-01";
/** What output tax is charged by, by its rate. */
const OUTPUT: Readonly<Record<string, string>> = { "0.135": "V13", "0.2": "V20", "0": "VZ" };

export type Coding = Record<string, string>;
export type Code = "HSF" | "MBY" | "KIT";
export const cc = (costCentre: string, project?: string): Coding =>
  project ? { costCentre, project } : { costCentre };
/** Money in whole units of the currency, as minor units. */
export const units = (amount: number): bigint => BigInt(Math.round(amount * 100));
export const share = (amount: bigint, part: number): bigint =>
  (amount * BigInt(Math.round(part * 10_000))) / 10_000n;

const line = (
  account: string,
  side: "debit" | "credit",
  amount: bigint,
  dimensions: Coding = {},
  description = "",
  partner?: string,
): DraftLine => ({
  account,
  side,
  amount: minor(amount),
  dimensions,
  description,
  ...(partner ? { partner: partnerCode(partner) } : {}),
});
/** Output tax on an invoice: half away from zero, once. */
const taxOn = (net: bigint, vat: number): bigint =>
  (net * BigInt(Math.round(vat * 10_000)) * 2n + 10_000n) / 20_000n;

/** Sold by the piece where that comes out even. */
function soldLine(
  { account, net, coding }: { account: string; net: bigint; coding: Coding },
  text: string,
  taxCode: string,
): SoldLine {
  const quantity = [31n, 12n, 8n, 5n, 4n].find((q) => net % q === 0n) ?? 1n;
  return {
    account,
    dimensions: coding,
    description: text[0]!.toUpperCase() + text.slice(1),
    quantity: String(quantity),
    price: decimalText(net / quantity, "EUR"),
    taxCode,
  };
}

/** A line on a partner's account, with what its open item is called. */
const item = (
  line: DraftLine,
  kind: "invoice" | "payment",
  reference: string,
  dueDate?: CalendarDate,
): DraftLine => ({ ...line, item: { kind, reference }, ...(dueDate ? { dueDate } : {}) });
export const debit = (
  account: string,
  amount: bigint,
  dimensions?: Coding,
  description?: string,
  partner?: string,
) => line(account, "debit", amount, dimensions, description, partner);
export const credit = (
  account: string,
  amount: bigint,
  dimensions?: Coding,
  description?: string,
  partner?: string,
) => line(account, "credit", amount, dimensions, description, partner);

/**
 * What one company's year is made of, written down journal by journal: the words in which its
 * history is told.
 */
export class Books {
  readonly journals: PastJournal[] = [];
  readonly random: ReturnType<typeof randomFrom>;
  /** Supplier invoices that wait for their payment, customers' for their receipt. */
  private payable: { supplier: string; gross: bigint; due: CalendarDate; text: string }[] = [];
  private receivable: { customer: string; gross: bigint; due: CalendarDate; number: string }[] = [];

  constructor(
    readonly company: Code,
    private readonly vat: number,
    seed: number,
    private invoice: number,
    private sale: number,
  ) {
    this.random = randomFrom(seed);
  }

  around(amount: number, spread = 0.12): bigint {
    return units(Math.round(amount * (1 - spread + 2 * spread * this.random.next()) * 100) / 100);
  }

  growth(first: CalendarDate): number {
    return 1 + 0.05 * (Number(first.slice(0, 4)) - 2024) + 0.003 * (Number(first.slice(5, 7)) - 1);
  }

  weeks(first: CalendarDate): { from: CalendarDate; to: CalendarDate }[] {
    return [0, 7, 14, 21].map((d, i) => ({
      from: addDays(first, d),
      to: i === 3 ? endOfMonth(first) : addDays(first, d + 6),
    }));
  }

  add(
    type: string,
    date: CalendarDate,
    description: string,
    lines: DraftLine[],
    by: PastJournal["by"],
    more: Partial<JournalDraft> & { mark?: string; reversesMark?: string; delay?: number } = {},
  ): void {
    const { mark, reversesMark, delay, ...rest } = more;
    const kept = lines.filter((l) => l.amount !== 0n);
    if (kept.length < 2) return;
    this.journals.push({
      draft: { company: this.company, type, book: null, date, description, lines: kept, ...rest },
      by,
      postedOn: addDays(date, delay ?? this.random.between(0, 2)),
      ...(mark ? { mark } : {}),
      ...(reversesMark ? { reversesMark } : {}),
    });
  }

  buy(
    date: CalendarDate,
    supplier: string,
    text: string,
    parts: { account: string; net: bigint; coding: Coding; note?: string }[],
    days = 30,
    vat: number = this.vat,
  ): void {
    const number = `PI-${++this.invoice}`;
    const net = parts.reduce((t, p) => t + p.net, 0n);
    const tax = share(net, vat);
    this.add(
      "purchase",
      date,
      `${supplier}, ${text}`,
      [
        ...parts.map((p) => debit(p.account, p.net, p.coding, p.note ?? text)),
        debit("1410", tax, {}, `VAT on ${number}`),
        item(
          credit("2140", net + tax, {}, `${number} ${supplier}`, supplier),
          "invoice",
          number,
          addDays(date, days),
        ),
      ],
      "payables",
      { reference: number },
    );
    this.payable.push({ supplier, gross: net + tax, due: addDays(date, days), text: number });
  }

  sell(
    date: CalendarDate,
    customer: string,
    text: string,
    parts: { account: string; net: bigint; coding: Coding }[],
    late = 0,
    vat: number = this.vat,
    number = `SI-${++this.sale}`,
  ): void {
    const net = parts.reduce((t, p) => t + p.net, 0n);
    const asInvoice = date >= INVOICES_FROM;
    const tax = asInvoice ? taxOn(net, vat) : share(net, vat);
    this.add(
      "sales",
      date,
      `${customer}, ${text}`,
      [
        item(
          debit("1310", net + tax, {}, `${number} ${customer}`, customer),
          "invoice",
          number,
          addDays(date, 30),
        ),
        ...parts.map((p) => credit(p.account, p.net, p.coding, text)),
        credit("2210", tax, {}, `VAT on ${number}`),
      ],
      "receivables",
      { reference: number },
    );
    if (asInvoice)
      this.journals.at(-1)!.sale = {
        called: number,
        content: {
          company: this.company,
          customer: partnerCode(customer),
          date,
          description: text[0]!.toUpperCase() + text.slice(1),
          lines: parts.map((p, i) =>
            soldLine(p, i === 0 ? text : `${text}, ${i + 1}`, OUTPUT[vat]!),
          ),
        },
      };
    this.receivable.push({ customer, gross: net + tax, due: addDays(date, 30 + late), number });
  }

  settle(from: CalendarDate, to: CalendarDate): void {
    const paid = this.payable.filter((p) => p.due <= to);
    if (paid.length > 0) {
      this.payable.splice(0, this.payable.length, ...this.payable.filter((p) => p.due > to));
      const total = paid.reduce((t, p) => t + p.gross, 0n);
      this.add(
        "payment",
        to,
        `Payment run of ${to.slice(8)}.${to.slice(5, 7)}., ${paid.length} invoices`,
        [
          ...paid.map((p) =>
            item(
              debit("2140", p.gross, {}, `${p.text} ${p.supplier}`, p.supplier),
              "payment",
              p.text,
            ),
          ),
          credit("1110", total, {}, "Transfer file"),
        ],
        "payables",
      );
    }
    const received = this.receivable.filter((r) => r.due >= from && r.due <= to);
    if (received.length > 0) {
      const total = received.reduce((t, r) => t + r.gross, 0n);
      this.add(
        "receipt",
        to,
        `Customers' payments, week to ${to.slice(8)}.${to.slice(5, 7)}.`,
        [
          debit("1110", total, {}, "Bank statements of the week"),
          ...received.map((r) =>
            item(
              credit("1310", r.gross, {}, `${r.number} ${r.customer}`, r.customer),
              "payment",
              r.number,
            ),
          ),
        ],
        "receivables",
        { delay: 1 },
      );
    }
    const left = this.receivable.filter((x) => x.due > to);
    this.receivable.splice(0, this.receivable.length, ...left);
  }

  payroll(
    first: CalendarDate,
    parts: { account: string; amount: bigint; coding: Coding }[],
    social: { account: string; coding: Coding; of: bigint }[],
  ): void {
    const last = endOfMonth(first);
    const gross = parts.reduce((t, p) => t + p.amount, 0n);
    const employer = social.map((s) => ({ ...s, amount: share(s.of, 0.11) }));
    const cost = employer.reduce((t, s) => t + s.amount, 0n);
    const tax = share(gross, 0.19);
    const own = share(gross, 0.04);
    const pension = share(gross, 0.05);
    const net = gross - tax - own - pension;
    this.add(
      "payroll",
      last,
      `Payroll ${first.slice(0, 7)}`,
      [
        ...parts.map((p) => debit(p.account, p.amount, p.coding, "Gross pay")),
        ...employer.map((s) => debit(s.account, s.amount, s.coding, "Employer's share")),
        credit("2310", net, {}, "Net pay"),
        credit("2250", tax, {}, "Wage tax"),
        credit("2260", own + cost, {}, "Social security"),
        credit("2340", pension, {}, "Pension scheme"),
      ],
      "accountant",
    );
    this.add(
      "bank",
      last,
      `Net pay ${first.slice(0, 7)}`,
      [debit("2310", net), credit("1110", net)],
      "treasury",
    );
    this.add(
      "bank",
      addDays(last, 12),
      `Wage tax, social security and pensions ${first.slice(0, 7)}`,
      [
        debit("2250", tax),
        debit("2260", own + cost),
        debit("2340", pension),
        credit("1110", tax + own + cost + pension),
      ],
      "treasury",
    );
  }

  monthEnd(
    first: CalendarDate,
    profitTax: bigint,
    accruals: { account: string; amount: bigint; coding: Coding; text: string }[],
  ): void {
    const last = endOfMonth(first);
    const mark = `${this.company} accrual ${first}`;
    const total = accruals.reduce((t, a) => t + a.amount, 0n);
    const lines = [
      ...accruals.map((a) => debit(a.account, a.amount, a.coding, a.text)),
      credit("2410", total),
    ];
    this.add("accrual", last, `Accrued costs, ${first.slice(0, 7)}`, lines, "accountant", {
      mark,
      delay: 0,
    });
    this.add(
      "accrual",
      addDays(last, 1),
      `Reversal of accrued costs, ${first.slice(0, 7)}`,
      lines.map((l) => ({ ...l, amount: minor(-l.amount) })),
      "accountant",
      { reversesMark: mark, delay: 1 },
    );
    this.add(
      "general",
      last,
      `Income tax, ${first.slice(0, 7)}`,
      [debit("8910", profitTax), credit("2230", profitTax)],
      "accountant",
      { delay: 0 },
    );
    this.add(
      "bank",
      addDays(last, 20),
      `Income tax instalment ${first.slice(0, 7)}`,
      [debit("2230", profitTax), credit("1110", profitTax)],
      "treasury",
    );
    this.add(
      "bank",
      last,
      "Bank charges",
      [
        debit("7450", this.around(this.company === "HSF" ? 1850 : 420), cc("A-FIN")),
        credit("1110", 0n),
      ].map((l, _i, all) => (l.side === "credit" ? { ...l, amount: all[0]!.amount } : l)),
      "treasury",
    );
  }

  declareVat(first: CalendarDate): void {
    const own = this.journals.filter((j) => j.draft.date.slice(0, 7) === first.slice(0, 7));
    const sumOf = (account: string, side: "debit" | "credit") =>
      own
        .flatMap((j) => j.draft.lines)
        .filter((l) => l.account === account)
        .reduce((t, l) => t + (l.side === side ? l.amount : -l.amount), 0n);
    const input = sumOf("1410", "debit");
    const output = sumOf("2210", "credit");
    if (input === 0n && output === 0n) return;
    const due = output - input;
    const last = endOfMonth(first);
    this.add(
      "tax",
      last,
      `VAT return ${first.slice(0, 7)}`,
      [
        debit("2210", output),
        credit("1410", input),
        line("2220", due > 0n ? "credit" : "debit", due > 0n ? due : -due),
      ],
      "accountant",
      { delay: 1 },
    );
    this.add(
      "bank",
      addDays(last, 18),
      `VAT ${first.slice(0, 7)}`,
      due > 0n
        ? [debit("2220", due), credit("1110", due)]
        : [debit("1110", -due), credit("2220", -due)],
      "treasury",
    );
  }

  depreciation(
    first: CalendarDate,
    rows: readonly (readonly [string, string, number, string])[],
  ): void {
    // From then on the register of assets says what is charged, and a run posts it.
    if (first >= "2026-10-01") return;
    const last = endOfMonth(first);
    this.add(
      "asset",
      last,
      `Depreciation ${first.slice(0, 7)}`,
      rows.flatMap(([expense, asset, amount, centre]) => [
        debit(expense, units(amount), cc(centre)),
        credit(asset, units(amount), {}),
      ]),
      "assets",
      { delay: 0 },
    );
  }

  /**
   * Opening balances in whole units, debit positive; what is missing from zero is retained
   * earnings.
   */
  open(rows: readonly (readonly [string, number])[]): void {
    const net = rows.reduce((t, [, amount]) => t + units(amount), 0n);
    this.add(
      "opening",
      "2024-01-01",
      "Opening balances 2024",
      [
        ...rows.map(([account, amount]) =>
          line(
            account,
            amount > 0 ? "debit" : "credit",
            units(Math.abs(amount)),
            {},
            "",
            account === "1310"
              ? CUSTOMERS.freight
              : account === "2140"
                ? SUPPLIERS.fuel
                : undefined,
          ),
        ),
        line(
          "3210",
          net > 0n ? "credit" : "debit",
          net > 0n ? net : -net,
          {},
          "Retained earnings brought in",
        ),
      ],
      "accountant",
      { delay: 0, reference: "TAKEN OVER" },
    );
    // What stood open when the books were taken over is settled in the first weeks.
    const of = (account: string) => units(Math.abs(rows.find(([a]) => a === account)?.[1] ?? 0));
    this.add(
      "payment",
      "2024-02-09",
      "Suppliers of 2023",
      [
        debit("2140", of("2140"), {}, "Opening balances", SUPPLIERS.fuel),
        credit("1110", of("2140"), {}, "Transfer file"),
      ],
      "payables",
      { reference: "TAKEN OVER" },
    );
    this.add(
      "receipt",
      "2024-02-16",
      "Customers of 2023",
      [
        debit("1110", of("1310"), {}, "Bank statement"),
        credit("1310", of("1310"), {}, "Opening balances", CUSTOMERS.freight),
      ],
      "receivables",
      { reference: "TAKEN OVER" },
    );
  }
}
