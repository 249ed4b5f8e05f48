import type { DraftLine, JournalDraft } from "../ledger";
import { convertBy } from "../rates";
import { decimalText, minor, proportion, type CalendarDate, type Minor } from "../shared";
import type { TaxTakenBack } from "../taxes";
import { placesOf, underWayItem, type Money, type MoneyAccounts, type MoneySide } from "./money";

/**
 * What money is for besides items: a coding, in minor units of its currency, positive for what goes
 * with the money and negative for what is kept of it.
 */
export interface CodedPart {
  line: Omit<DraftLine, "side" | "amount" | "foreignAmount" | "rate">;
  amount: Minor;
}

type Line = CodedPart["line"];

/**
 * The journal of money that is paid or received: the partner by control account at what its items
 * are carried at, what the bank pays or gets at the day's rate, the discount without the tax that
 * it takes back, and what remains as a realised exchange difference (IAS 21.28). Both currencies
 * balance.
 * Rounding: conversions half away from zero, each line by itself, what is coded so that its parts come
 * to the whole.
 */
export function moneyJournal(
  money: Money,
  date: CalendarDate,
  taken: readonly TaxTakenBack[],
  to: MoneyAccounts,
  side: MoneySide,
  coded: readonly CodedPart[] = [],
): JournalDraft {
  const { currency, rate } = money;
  const lines = journalLines(currency !== to.functional, rate);
  const own = (amount: bigint): bigint => convertBy(minor(amount), currency, to.functional, rate);
  const whom = `${side.preposition} ${money.payee}`;
  for (const of of placesOf(money.items)) {
    const { account, partner = money.partner } = of[0]!;
    lines.add(
      {
        account,
        dimensions: {},
        description: whom,
        ...(partner ? { partner } : {}),
        dueDate: date,
        item: underWayItem(money, date, side).item,
      },
      -of.reduce((t, i) => t + i.functional, 0n),
      -of.reduce((t, i) => t + i.taken, 0n),
    );
  }
  const inBank = -side.turn * money.amount;
  lines.add(
    {
      account: to.underWay,
      dimensions: {},
      description: `${whom}, ${money.method}`,
      ...underWayItem(money, date, side),
    },
    own(inBank),
    inBank,
  );
  const taxes = addTaxesTakenBack(lines, taken, money);
  // What is had or granted in all, less what of it are taxes.
  const discount = -side.turn * money.discount - taxes;
  lines.add(
    { account: to.discount, dimensions: {}, description: `Discount, ${money.payee}` },
    own(discount),
    discount,
  );
  const amounts = coded.map((c) => side.turn * c.amount);
  const converted = convertedTogether(amounts, own);
  coded.forEach((c, i) => lines.add(c.line, converted[i]!, amounts[i]!));
  const rest = lines.rest();
  if (rest !== 0n)
    lines.add(
      {
        account: rest > 0n ? to.exchangeGain : to.exchangeLoss,
        dimensions: {},
        description: "Exchange difference of settled items",
      },
      -rest,
      0n,
    );
  return {
    company: to.company,
    type: side.kind,
    book: null,
    date,
    ...(currency === to.functional ? {} : { currency }),
    description: `${side.title} ${money.payee}`.slice(0, 200),
    reference: money.items.length === 1 ? money.items[0]!.reference.slice(0, 60) : "",
    lines: lines.all,
  };
}

/**
 * Amounts converted so that they come to what their sum converts to: the last ones by themselves, the
 * first carries what rounding leaves.
 */
function convertedTogether(
  amounts: readonly bigint[],
  own: (amount: bigint) => bigint,
): readonly bigint[] {
  let behind = 0n;
  return amounts
    .toReversed()
    .map((amount) => {
      const before = own(behind);
      behind += amount;
      return own(behind) - before;
    })
    .toReversed();
}

/**
 * Takes the taxes of a discount back, each on the other side of where it stands: what could be
 * recovered by a credit, what was owed by a debit. Returns what that comes to, a debit positive, in
 * the money's currency.
 */
function addTaxesTakenBack(lines: Lines, taken: readonly TaxTakenBack[], money: Money): bigint {
  let sum = 0n;
  for (const t of taken) {
    const description = `${t.code} taken back on a discount of ${decimalText(money.discount, money.currency)}`;
    const line = { dimensions: {}, description };
    if (t.account) {
      const recovered = proportion(t.functionalTax, t.recoverable, t.tax < 0n ? -t.tax : t.tax);
      lines.add(
        { ...line, account: t.account },
        t.tax < 0n ? recovered : -recovered,
        -t.recoverable,
      );
      sum -= t.recoverable;
    }
    if (!t.owedAccount) continue;
    lines.add({ ...line, account: t.owedAccount }, t.functionalTax, t.tax);
    sum += t.tax;
  }
  return sum;
}

interface Lines {
  all: DraftLine[];
  /** Adds a line by signed amounts: a debit is positive. Nothing is added for nothing. */
  add(line: Line, functional: bigint, foreign: bigint): void;
  /** What all lines come to in functional currency. */
  rest(): bigint;
}

function journalLines(foreign: boolean, rate: Money["rate"]): Lines {
  const all: DraftLine[] = [];
  let rest = 0n;
  return {
    all,
    rest: () => rest,
    add: (line, signed, signedForeign) => {
      if (signed === 0n && signedForeign === 0n) return;
      rest += signed;
      const isDebit = (signed === 0n ? signedForeign : signed) > 0n;
      const turn = isDebit ? 1n : -1n;
      all.push({
        ...line,
        side: isDebit ? "debit" : "credit",
        amount: minor(turn * signed),
        ...(foreign
          ? { foreignAmount: minor(turn * signedForeign), ...(rate === "same" ? {} : rate) }
          : {}),
      });
    },
  };
}
