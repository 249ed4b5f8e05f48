import type { Account, ControlKind } from "./types";

/**
 * The control accounts whose every line leaves an open item, so that what is left of all items is
 * the balance of the account: whether a line names a partner, and the area whose people work on the
 * items.
 */
export const ITEM_CONTROLS = {
  payables: { namesPartner: true, area: "payables" },
  receivables: { namesPartner: true, area: "receivables" },
  // Money that has left for a bank, or is expected from one, until the bank says so.
  transit: { namesPartner: false, area: "banks" },
} as const satisfies Partial<Record<ControlKind, { namesPartner: boolean; area: string }>>;
export type ItemControl = keyof typeof ITEM_CONTROLS;

const isItemControl = (control: ControlKind | null): control is ItemControl =>
  control !== null && control in ITEM_CONTROLS;

/** Whether lines on the account leave open items. */
export const keepsItems = (account: Pick<Account, "control">): boolean =>
  isItemControl(account.control);

/** Whether lines on the account name a partner and a day on which they are due. */
export const namesPartner = (account: Pick<Account, "control">): boolean =>
  isItemControl(account.control) && ITEM_CONTROLS[account.control].namesPartner;
