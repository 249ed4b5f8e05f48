"use client";
import { useEffect, useRef } from "react";
import type { DeskRow } from "@/server/receivables";
import { shownAmount } from "@/ui/writing";

/** From so many points on a score is high, and from so many it is worth a look. */
const HIGH = 60;
const MIDDLE = 35;

/** A score, its colour beside its number. */
export function ScoreMark({ score }: { score: number }) {
  const tone =
    score >= HIGH
      ? "bg-coral-2 text-coral"
      : score >= MIDDLE
        ? "bg-yellow-2 text-ink"
        : "bg-shade text-ink-2";
  return (
    <span className={`inline-block w-9 rounded-md py-0.5 text-center font-bold ${tone}`}>
      {score}
    </span>
  );
}

/** The customers by score, each with the next action and its reason. */
export function DeskList({
  rows,
  of,
  chosen,
  currency,
  onChoose,
}: {
  rows: readonly DeskRow[];
  of: number;
  chosen: string;
  currency: string;
  onChoose: (code: string) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => {
    list.current?.querySelector("[aria-current=true]")?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  return (
    <section
      aria-label="Customers by score"
      className="panel flex w-[340px] shrink-0 flex-col overflow-hidden"
    >
      <div className="flex justify-between border-b border-line px-3 py-1.5 text-xs text-ink-2">
        <span>Score · customer</span>
        <span>To collect {currency}</span>
      </div>
      <ul ref={list} className="min-h-0 flex-1 overflow-y-auto">
        {rows.map((r) => (
          <li key={r.code}>
            <button
              type="button"
              aria-current={r.code === chosen}
              className={`flex w-full items-start gap-2.5 border-b border-line-2 px-3 py-1.5 text-left ${r.code === chosen ? "bg-sea-2" : "hover:bg-shade"}`}
              onClick={() => onChoose(r.code)}
            >
              <span className="pt-0.5">
                <ScoreMark score={r.score} />
              </span>
              <span className="min-w-0 flex-1">
                <span className="flex justify-between gap-2">
                  <b className="truncate font-semibold">{r.name}</b>
                  <b className="font-semibold">{shownAmount(r.toCollect, currency)}</b>
                </span>
                <span className="flex justify-between gap-2 text-xs text-ink-2">
                  <span className="truncate" title={`${r.action}: ${r.because}`}>
                    {r.action}: {r.because}
                  </span>
                  <span className="shrink-0">{besideAmount(r, currency)}</span>
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {of > rows.length && (
        <p className="border-t border-line px-3 py-1.5 text-xs text-ink-2">
          The first {rows.length} of {of}.
        </p>
      )}
    </section>
  );
}

function besideAmount(r: DeskRow, currency: string): string {
  if (r.daysLate > 0) return `overdue ${r.daysLate === 1 ? "1 day" : `${r.daysLate} days`}`;
  if (r.promised > 0n) return `${shownAmount(r.promised, currency)} promised`;
  return r.disputed > 0n ? `${shownAmount(r.disputed, currency)} disputed` : "";
}
