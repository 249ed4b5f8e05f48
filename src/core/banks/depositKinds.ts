import { minor, type Minor } from "../shared";

export const DEPOSIT_KINDS = ["cheque", "cash", "bill", "note", "card"] as const;
export type DepositKind = (typeof DEPOSIT_KINDS)[number];

export const DEPOSIT_KIND_NAMES: Readonly<Record<DepositKind, string>> = {
  cheque: "Cheque",
  cash: "Cash",
  bill: "Bill of exchange",
  note: "Promissory note",
  card: "Card payment",
};

/**
 * What the bank gets of a part, in minor units: whoever settles card payments keeps the fee; the fee
 * of a bill is paid with it.
 */
export const toBank = (part: { kind: DepositKind; amount: Minor; fee: Minor }): Minor =>
  part.kind === "card" ? minor(part.amount - part.fee) : part.amount;

/** What people call a part of a slip: "Cheque 500100", "Cash". */
export const partName = (part: { kind: DepositKind; cheque: string }): string =>
  `${DEPOSIT_KIND_NAMES[part.kind]} ${part.cheque}`.trim();

/** Where a part of a slip stands: on its way to the bank or there, come back, or taken back by us. */
export const DEPOSIT_STATES = ["deposited", "returned", "cancelled"] as const;
export type DepositState = (typeof DEPOSIT_STATES)[number];
