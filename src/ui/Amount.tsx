import { shownAmount } from "./writing";

/** Nothing, where noughts would be noise: a dim dash, so that the eye finds what is there. */
export const Nought = () => <span className="text-ink-3">–</span>;

/** An amount in a cell. */
export function Amount({ of, in: currency }: { of: bigint; in: string }) {
  return of === 0n ? <Nought /> : shownAmount(of, currency);
}
