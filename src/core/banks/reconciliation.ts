import { daysBetween, minor, type CalendarDate, type Minor } from "../shared";

/** Something that stands between what a bank says and what the ledger says. */
export interface PositionItem {
  /** Of the line of the bank, or of the journal where the ledger knows it. */
  id: number;
  date: CalendarDate;
  label: string;
  number: string;
  amount: Minor;
  /** How many days old it is on the day of the position. */
  age: number;
}

/** What explains the difference of a bank account, as it is kept: amounts as text. */
export interface KeptBetween {
  notPosted: KeptItem[];
  notOnStatement: KeptItem[];
  underWay: KeptItem[];
}
export type KeptItem = Omit<PositionItem, "amount"> & { amount: string };

export const sumOfItems = (items: readonly { amount: Minor }[]): Minor =>
  minor(items.reduce((t, i) => t + i.amount, 0n));

/**
 * What nothing explains between a bank's balance and the ledger's: the bank's balance, less the
 * ledger's, less what only the bank knows, plus what only the ledger knows.
 * Minor units of the account's currency, positive is money had. Rule: bank reconciliation by
 * adjusting the ledger's balance to the bank's.
 */
export const unexplained = (of: {
  bank: Minor;
  ledger: Minor;
  notPosted: readonly { amount: Minor }[];
  notOnStatement: readonly { amount: Minor }[];
}): Minor =>
  minor(of.bank - (of.ledger + sumOfItems(of.notPosted) - sumOfItems(of.notOnStatement)));

export const agedItem = <T extends Omit<PositionItem, "age">>(
  item: T,
  day: CalendarDate,
): T & { age: number } => ({ ...item, age: daysBetween(item.date, day) });

const keptItem = ({ id, date, label, number, amount, age }: PositionItem): KeptItem => ({
  id,
  date,
  label,
  number,
  amount: String(amount),
  age,
});

/** The lists of a position as they are kept with a reconciliation. */
export const keptBetween = (of: {
  notPosted: readonly PositionItem[];
  notOnStatement: readonly PositionItem[];
  underWay: readonly PositionItem[];
}): KeptBetween => ({
  notPosted: of.notPosted.map(keptItem),
  notOnStatement: of.notOnStatement.map(keptItem),
  underWay: of.underWay.map(keptItem),
});

/** What stands against closing a reconciliation; nothing where it can be closed. */
export function notYetReconciled(of: {
  code: string;
  bank: { amount: Minor } | null;
  notPosted: readonly unknown[];
  unexplained: Minor;
}): string | null {
  if (!of.bank) return `${of.code} has no statement up to that day`;
  if (of.notPosted.length > 0)
    return of.notPosted.length === 1
      ? `A line of the bank of ${of.code} is not posted`
      : `${of.notPosted.length} lines of the bank of ${of.code} are not posted`;
  return of.unexplained === 0n ? null : `${of.code} has a difference that nothing explains`;
}

/**
 * What a statement that is copied from paper still lacks: its opening balance and what is on it,
 * less its closing balance. Nil where everything is there. Minor units of its currency.
 */
export const paperDifference = (of: {
  opening: Minor;
  closing: Minor;
  lines: readonly { amount: Minor }[];
}): Minor => minor(of.opening + sumOfItems(of.lines) - of.closing);
