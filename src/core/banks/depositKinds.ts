export const DEPOSIT_KINDS = ["cheque", "cash"] as const;
export type DepositKind = (typeof DEPOSIT_KINDS)[number];

/** Where a part of a slip stands: on its way to the bank or there, come back, or taken back by us. */
export const DEPOSIT_STATES = ["deposited", "returned", "cancelled"] as const;
export type DepositState = (typeof DEPOSIT_STATES)[number];
