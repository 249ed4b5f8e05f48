import { amountText, minor, type Found, type Minor } from "../shared";

export interface Total {
  currency: string;
  amount: Minor;
}
/**
 * One currency of a batch: what its papers add up to, where that was said, and what is entered.
 * Minor units of the currency.
 */
export interface ControlLine {
  currency: string;
  control: Minor | null;
  entered: Minor;
  /** Entered less control; nothing where no control was given. */
  difference: Minor;
}

/**
 * Holds what was entered against the control totals, currency by currency, in the order of their
 * codes.
 */
export function holdAgainst(controls: readonly Total[], entered: readonly Total[]): ControlLine[] {
  const sum = (list: readonly Total[], currency: string) =>
    minor(list.filter((t) => t.currency === currency).reduce((total, t) => total + t.amount, 0n));
  return [...new Set([...controls, ...entered].map((t) => t.currency))].sort().map((currency) => {
    const control = controls.some((c) => c.currency === currency) ? sum(controls, currency) : null;
    const amount = sum(entered, currency);
    return {
      currency,
      control,
      entered: amount,
      difference: control === null ? minor(0n) : minor(amount - control),
    };
  });
}

/** The differences as problems: what is missing, or too much. */
export const controlProblems = (lines: readonly ControlLine[]): Found[] =>
  lines
    .filter((l) => l.difference !== 0n)
    .map((l) => {
      const size = amountText(l.difference < 0n ? -l.difference : l.difference, l.currency);
      return {
        code: "CONTROL_TOTAL",
        currency: l.currency,
        control: amountText(l.control!, l.currency),
        entered: amountText(l.entered, l.currency),
        difference: l.difference < 0n ? `${size} is missing` : `${size} is too much`,
        field: "controls",
      };
    });
