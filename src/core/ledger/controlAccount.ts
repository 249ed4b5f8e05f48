import type { Masters } from "./masters";

/**
 * Number of the account on which what partners owe (receivables) or are owed (payables) stands: the
 * first of that kind, by number, that is not an advance; "" where the chart has none.
 */
export const controlAccountOf = (masters: Masters, control: "payables" | "receivables"): string => {
  const type = control === "payables" ? "liability" : "asset";
  return (
    masters.accounts.find((a) => a.control === control && a.type === type && !a.blocked)?.number ??
    ""
  );
};
