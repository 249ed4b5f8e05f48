export const DEPOSIT_KINDS = ["cheque", "cash", "bill", "note"] as const;
export type DepositKind = (typeof DEPOSIT_KINDS)[number];

export const DEPOSIT_KIND_NAMES: Readonly<Record<DepositKind, string>> = {
  cheque: "Cheque",
  cash: "Cash",
  bill: "Bill of exchange",
  note: "Promissory note",
};

/** What people call a part of a slip: "Cheque 500100", "Cash". */
export const partName = (part: { kind: DepositKind; cheque: string }): string =>
  `${DEPOSIT_KIND_NAMES[part.kind]} ${part.cheque}`.trim();

/** Where a part of a slip stands: on its way to the bank or there, come back, or taken back by us. */
export const DEPOSIT_STATES = ["deposited", "returned", "cancelled"] as const;
export type DepositState = (typeof DEPOSIT_STATES)[number];
