"use client";
import { useWork } from "./work";
import type { AreaTab } from "./AreaPages";

/** How many documents wait for a decision on the pages of a place in the line. */
export function Waiting({ of }: { of: AreaTab }) {
  const { waiting, place } = useWork();
  const count = of.pages.reduce((n, p) => n + (waiting[place.company]?.[p.href] ?? 0), 0);
  if (count === 0) return null;
  return (
    <span
      className="ml-1.5 rounded-full bg-yellow-2 px-1.5 py-px text-[11px] font-semibold text-ink"
      title={`${count} wait for a decision`}
    >
      {count}
      <span className="sr-only"> waiting</span>
    </span>
  );
}
