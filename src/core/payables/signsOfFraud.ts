import { amountText, type Minor } from "../shared";

/** What is known of a supplier's earlier invoices and bank details. */
export interface SupplierPast {
  supplier: string;
  /** Its numbers on the last invoices of the same kind, newest first. */
  numbers: readonly string[];
  /**
   * Totals of its other invoices of the last three months in this company and currency, minor units.
   */
  totals: readonly Minor[];
  /** Accounts that were confirmed lately in place of others and have never been paid to. */
  newAccounts: readonly { account: string; since: string }[];
}

/** The smallest amount from which somebody else would have to approve, in the invoice's currency. */
export interface ApprovalLimit {
  minimum: Minor;
  currency: string;
}

/** As many earlier numbers make a pattern. */
const ENOUGH_NUMBERS = 5;
/** Per cent below a limit that are “just below” it. */
const BELOW_PER_CENT = 5n;
/** As many just below a limit, this one included, are more than chance. */
const TOO_MANY = 3;

/**
 * What makes an invoice look like fraud, as sentences that hold it until a second person has
 * decided: a number unlike the supplier's others, the third total just below an approval limit in
 * three months, an account that nobody has paid to yet in place of another. Signs of the fraud
 * schemes that auditors look for (false suppliers, changed bank details, split invoices). A
 * sentence says nothing that other invoices change: what was decided on stays decided.
 */
export function signsOfFraud(
  invoice: { number: string; total: Minor; currency: string },
  past: SupplierPast,
  limit: ApprovalLimit | null,
): string[] {
  return [
    ...unlikeOthers(invoice.number, past),
    ...belowLimit(invoice, past.totals, limit),
    ...past.newAccounts.map(
      ({ account, since }) =>
        `Nothing has been paid to ${account} yet, which was confirmed on ${since} in place of other details of ${past.supplier}. Ask the supplier by a way known before.`,
    ),
  ];
}

/** A number's shape: what its runs of figures and letters are, and the marks between them. */
const shapeOf = (number: string): string =>
  number
    .trim()
    .toUpperCase()
    .replace(/\p{Nd}+/gu, "9")
    .replace(/\p{L}+/gu, "A");

function unlikeOthers(number: string, { numbers: earlier, supplier }: SupplierPast): string[] {
  if (number.trim() === "" || earlier.length < ENOUGH_NUMBERS) return [];
  const shapes = new Set(earlier.map(shapeOf));
  // More than one series is no pattern.
  if (shapes.size !== 1 || shapes.has(shapeOf(number))) return [];
  return [`Number ${number.trim()} is unlike those on the other invoices of ${supplier}.`];
}

function belowLimit(
  { total, currency }: { total: Minor; currency: string },
  totals: readonly Minor[],
  limit: ApprovalLimit | null,
): string[] {
  if (!limit || limit.currency !== currency || limit.minimum <= 0n) return [];
  const from = limit.minimum - (limit.minimum * BELOW_PER_CENT) / 100n;
  const isBelow = (amount: Minor) => amount >= from && amount < limit.minimum;
  const others = totals.filter(isBelow).length;
  if (!isBelow(total) || others + 1 < TOO_MANY) return [];
  return [
    `The total is just below ${amountText(limit.minimum, currency)} ${currency}, from which approval is needed, and so are others of the last three months.`,
  ];
}
