"use client";
import type { LineTotal } from "@/server/banks";
import { minor } from "@/core/shared";
import { shownAmount } from "@/ui/writing";

const FILTERS = [
  ["open", "Not posted"],
  ["certain", "Certain"],
  ["to decide", "To decide"],
  ["unexplained", "Unexplained"],
  ["chosen", "Chosen"],
  ["posted", "Posted"],
  ["all", "All"],
] as const;

const isOf = (filter: string, state: string): boolean =>
  filter === "all" || (filter === "open" ? state !== "posted" : state === filter);

/** What stands in each state, with how many lines and what they come to; each narrows the list to it. */
export function LineFilters({
  totals,
  status,
  choose,
}: {
  totals: readonly LineTotal[];
  status: string;
  choose: (status: string) => void;
}) {
  return (
    <div role="group" aria-label="Status" className="flex shrink-0 flex-wrap gap-1.5">
      {FILTERS.map(([value, word]) => {
        const own = totals.filter((t) => isOf(value, t.state));
        const count = own.reduce((n, t) => n + t.lines, 0);
        return (
          <button
            key={value}
            type="button"
            aria-pressed={status === value}
            className={`min-w-[86px] rounded-lg border px-2.5 py-1 text-left ${status === value ? "border-sea bg-sea-2" : "border-line bg-panel hover:bg-shade"}`}
            onClick={() => choose(value)}
          >
            <span className="block whitespace-nowrap font-semibold">
              {word} <span className="font-normal text-ink-2">{count}</span>
            </span>
            <span className="block whitespace-nowrap text-xs text-ink-2">{sumOf(own)}</span>
          </button>
        );
      })}
    </div>
  );
}

/** What they come to, where that is in one currency. */
function sumOf(own: readonly LineTotal[]): string {
  const currencies = [...new Set(own.map((t) => t.currency))];
  if (currencies.length > 1) return `${currencies.length} currencies`;
  const [currency] = currencies;
  if (currency === undefined) return "–";
  return `${shownAmount(minor(own.reduce((n, t) => n + t.amount, 0n)), currency)} ${currency}`;
}
