"use client";
import { useEffect, useMemo, useRef, type KeyboardEvent } from "react";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { toast } from "sonner";
import { useWork } from "./work";

const BAR: Record<string, string> = {
  closed: "bg-past",
  closing:
    "bg-[repeating-linear-gradient(90deg,var(--color-past)_0_6px,var(--color-past-2)_6px_9px)]",
  open: "bg-sea",
  "not-yet": "bg-line",
};

/**
 * The months of the fiscal year with their state. Click or arrows move, with Shift a range grows,
 * the ends step a year.
 */
export function PeriodStrip({ range = false }: { range?: boolean }) {
  const { company, place, today, go } = useWork();
  const list = useRef<HTMLDivElement>(null);
  // The focus follows the period once the page shows it, which may be a while after the key.
  useEffect(() => {
    if (list.current?.contains(document.activeElement))
      list.current.querySelector<HTMLElement>('[tabindex="0"]')?.focus();
  }, [place.period]);
  const years = useMemo(() => [...new Set(company?.periods.map((p) => p.year) ?? [])], [company]);
  const chosen = company?.periods.find((p) => p.key === place.period);
  if (!company || !chosen)
    return (
      <div className="flex h-full items-center px-3 text-ink-3">
        No fiscal year has been set up for this company.
      </div>
    );
  const periods = company.periods.filter((p) => p.year === chosen.year);
  const fromYear = company.periods.find((p) => p.key === place.from)?.year;
  const select = (key: string, extend: boolean) => {
    if (extend && !range) toast.info("This page shows one period at a time.");
    if (!extend || !range) return go({ period: key, from: null, trace: null });
    const order = company.periods.map((p) => p.key);
    const [from, to] = [place.from, key].sort((a, b) => order.indexOf(a) - order.indexOf(b)) as [
      string,
      string,
    ];
    go({ period: to, from: from === to ? null : from, trace: null });
  };
  /** With Shift the range grows over the years between. */
  const step = (by: number, extend: boolean) => {
    const year = years[years.indexOf(chosen.year) + by];
    const target = company.periods.filter((p) => p.year === year);
    const same = target.find((p) => p.no === chosen.no) ?? target.at(-1);
    if (same) select(same.key, extend);
  };
  const onKey = (event: KeyboardEvent) => {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!by || event.altKey) return;
    event.preventDefault();
    const all = company.periods;
    const next = all[all.findIndex((p) => p.key === place.period) + by];
    if (!next) return;
    select(next.key, event.shiftKey && next.year === chosen.year);
  };
  const order = company.periods.map((p) => p.key);
  const inRange = (key: string) =>
    order.indexOf(key) >= order.indexOf(place.from) &&
    order.indexOf(key) <= order.indexOf(place.period);
  const now = company.periods.find((p) => !p.adjustment && p.start <= today && today <= p.end);
  const arrow =
    "grid size-5 place-items-center rounded text-ink-2 hover:bg-shade disabled:opacity-30";
  return (
    <div
      className="flex h-full items-stretch px-3"
      data-keys={`← →=Move the period${range ? "; Shift ← →=Grow the range" : ""}`}
    >
      <div className="mr-2.5 flex items-center gap-0.5">
        <button
          type="button"
          className={arrow}
          disabled={years[0] === chosen.year}
          onClick={(e) => step(-1, e.shiftKey)}
          aria-label="Year before"
        >
          <ChevronLeft size={15} />
        </button>
        <span className="font-bold">
          {fromYear && fromYear !== chosen.year && `${fromYear} to `}
          {chosen.year}
        </span>
        <button
          type="button"
          className={arrow}
          disabled={years.at(-1) === chosen.year}
          onClick={(e) => step(1, e.shiftKey)}
          aria-label="Year after"
        >
          <ChevronRight size={15} />
        </button>
      </div>
      {now && now.key !== place.period && (
        <button
          type="button"
          data-to-today
          data-keys="t=The period of today"
          className="link mr-2 self-center whitespace-nowrap text-xs"
          title={`To ${now.name} ${now.year}, the period of today`}
          onClick={() => select(now.key, false)}
        >
          Today <kbd>T</kbd>
        </button>
      )}
      <div
        ref={list}
        role="listbox"
        aria-label="Period"
        aria-orientation="horizontal"
        aria-multiselectable={range}
        onKeyDown={onKey}
        className="flex min-w-0 flex-1 items-stretch"
      >
        {periods.map((p) => {
          const state = p.states[place.book] ?? "not-yet";
          const on = inRange(p.key);
          return (
            <div
              key={p.key}
              role="option"
              aria-selected={on}
              tabIndex={p.key === place.period ? 0 : -1}
              title={`${p.adjustment ? "Adjustment period" : p.name} ${p.year}: ${state.replace("not-yet", "not yet open")}`}
              onClick={(e) => select(p.key, e.shiftKey)}
              className={`relative flex max-w-[74px] flex-1 cursor-pointer select-none flex-col items-center justify-center gap-1 text-xs outline-offset-[-2px] ${on ? "font-bold text-ink after:absolute after:inset-x-1.5 after:bottom-0 after:h-[3px] after:rounded-t after:bg-yellow" : state === "not-yet" ? "text-ink-3" : "text-ink-2"}`}
            >
              <i className={`block h-[5px] w-full ${BAR[state]}`} />
              <span className="max-[899px]:hidden">{p.adjustment ? "Adj." : p.name}</span>
              <span aria-hidden className="min-[900px]:hidden">
                {p.name.slice(0, 1)}
              </span>
            </div>
          );
        })}
      </div>
      <span className="ml-3 flex items-center gap-3 self-center max-[1099px]:hidden whitespace-nowrap text-xs text-ink-3">
        {(["closed", "closing", "open"] as const).map((s) => (
          <span key={s} className="flex items-center gap-1">
            <i className={`inline-block h-[5px] w-4 ${BAR[s]}`} />
            {s}
          </span>
        ))}
      </span>
    </div>
  );
}
