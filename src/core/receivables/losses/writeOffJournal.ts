import type { DraftLine, JournalDraft } from "../../ledger";
import { minor, proportion, type CalendarDate, type Minor } from "../../shared";
import { taxTakenBack, type ItemTax, type TaxTakenBack } from "../../taxes";

/** What of an open item is given up. Amounts positive, in minor units. */
export interface GivenUpItem {
  id: number;
  account: string;
  reference: string;
  /** What is given up, in the item's currency, and what that is carried at in the company's. */
  amount: Minor;
  functional: Minor;
  /** The taxes of its document, where what was declared of them is corrected; else none. */
  taxes: readonly ItemTax[];
}

export interface WriteOffOf {
  company: { code: string; currency: string };
  date: CalendarDate;
  partner: string;
  name: string;
  reason: string;
  currency: string;
  lossAccount: string;
  dimensions: Readonly<Record<string, string>>;
}

/**
 * The journal that gives up what a customer does not pay: its account at what the items are carried
 * at, the output tax that was declared of it where that is corrected (as Article 90 of Directive
 * 2006/112/EC allows), and the rest as a loss. No exchange difference comes of it: nothing is paid.
 * Units: minor units, all items in one currency. Rounding: each tax by itself, half away from zero;
 * the loss takes what is left, so that both currencies balance.
 */
export function writeOffJournal(
  items: readonly GivenUpItem[],
  of: WriteOffOf,
): { draft: JournalDraft; taxes: readonly TaxTakenBack[] } {
  const foreign = of.currency !== of.company.currency;
  const lines: DraftLine[] = [];
  let rest = 0n;
  let restForeign = 0n;
  const add = (
    line: Omit<DraftLine, "side" | "amount" | "foreignAmount">,
    signed: bigint,
    signedForeign: bigint,
  ) => {
    if (signed === 0n && signedForeign === 0n) return;
    rest += signed;
    restForeign += signedForeign;
    const turn = (signed === 0n ? signedForeign : signed) > 0n ? 1n : -1n;
    lines.push({
      ...line,
      side: turn > 0n ? "debit" : "credit",
      amount: minor(turn * signed),
      ...(foreign ? { foreignAmount: minor(turn * signedForeign) } : {}),
    });
  };
  for (const account of [...new Set(items.map((i) => i.account))]) {
    const own = items.filter((i) => i.account === account);
    add(
      {
        account,
        dimensions: {},
        description: `Written off: ${of.reason}`.slice(0, 200),
        partner: of.partner,
        dueDate: of.date,
        item: { kind: "receipt", reference: `Written off ${of.date}` },
      },
      -own.reduce((sum, i) => sum + i.functional, 0n),
      -own.reduce((sum, i) => sum + i.amount, 0n),
    );
  }
  const taxes = items.flatMap((i) => taxTakenBack({ id: i.id, taxes: i.taxes }, i.amount));
  for (const t of taxes)
    if (t.owedAccount !== "" && !t.reverse)
      add(
        {
          account: t.owedAccount,
          dimensions: {},
          description: `${t.code} corrected, ${of.name}`.slice(0, 200),
        },
        t.functionalTax,
        t.tax,
      );
  add(
    {
      account: of.lossAccount,
      dimensions: { ...of.dimensions },
      description: `${of.name}: ${of.reason}`.slice(0, 200),
    },
    -rest,
    -restForeign,
  );
  return {
    draft: {
      company: of.company.code,
      // Of the types of receivables it is the one that reaches taxes too.
      type: "sales",
      book: null,
      date: of.date,
      ...(foreign ? { currency: of.currency } : {}),
      description: `Written off, ${of.name}`.slice(0, 200),
      reference: items.length === 1 ? items[0]!.reference.slice(0, 60) : "",
      lines,
    },
    taxes,
  };
}

/** What a part of an item is carried at: in proportion to what is left of it, all for all. */
export const carriedAt = (left: Minor, leftFunctional: Minor, part: Minor): Minor =>
  part === left ? leftFunctional : proportion(leftFunctional, part, left);
