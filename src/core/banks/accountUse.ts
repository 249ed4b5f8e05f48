import { dateText, type CalendarDate, type Minor } from "../shared";

/** What of a bank account waits for a second person; "" where nothing does. */
export const ACCOUNT_REQUESTS = ["", "opening", "change", "closing"] as const;
export type AccountRequest = (typeof ACCOUNT_REQUESTS)[number];

/** A bank account as far as its use asks. */
export interface UsedAccount {
  code: string;
  openedOn: CalendarDate | null;
  closedOn: CalendarDate | null;
  waits: AccountRequest;
}

/**
 * Why no money may be moved from, to or in a bank account on a day: it is not open yet, closed, or
 * new or changed and nobody else has looked at that. Null where it may. An account that somebody asks
 * to close is in use until a second person agrees.
 */
export function againstUse(account: UsedAccount, day: CalendarDate): string | null {
  const { code, openedOn, closedOn, waits } = account;
  if (waits === "opening") return `${code} is new and waits for a second person to agree`;
  if (waits === "change") return `${code} was changed, and waits for a second person to agree`;
  if (openedOn !== null && day < openedOn) return `${code} is open from ${dateText(openedOn)} on`;
  return closedOn !== null && day >= closedOn
    ? `${code} is closed from ${dateText(closedOn)} on`
    : null;
}

/** What can be undone of an account: at once, or after a second person has looked, each by itself. */
export const UNDO_KINDS = ["cheques", "deposits", "payments"] as const;
export type UndoKind = (typeof UNDO_KINDS)[number];

/** What of an account a second person has to agree to when it changes: where money goes, and whose. */
export const isSameAddress = (
  a: { iban: string; number: string; routing: string; holder: string },
  b: { iban: string; number: string; routing: string; holder: string },
): boolean =>
  a.iban === b.iban && a.number === b.number && a.routing === b.routing && a.holder === b.holder;

/** What an account allows without anybody else: minor units of its currency. */
export interface AccountLimits {
  currency: string;
  overdraft: Minor;
  tolerance: Minor;
  beyond: "warn" | "refuse";
  /** Null for any. */
  largestPayment: Minor | null;
  /** What of it is undone only once a second person has looked. */
  reviews: readonly UndoKind[];
}

/**
 * Whether an account would allow more than before: a larger overdraft or payment, a warning instead of
 * a refusal, an undoing at which nobody else looks. Whoever wants that does not have it by himself.
 */
export const allowsMore = (before: AccountLimits, after: AccountLimits): boolean =>
  before.currency !== after.currency ||
  after.overdraft + after.tolerance > before.overdraft + before.tolerance ||
  (before.beyond === "refuse" && after.beyond === "warn") ||
  (before.largestPayment !== null &&
    (after.largestPayment === null || after.largestPayment > before.largestPayment)) ||
  before.reviews.some((kind) => !after.reviews.includes(kind));
