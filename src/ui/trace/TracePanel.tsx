"use client";
import { PanelFrame } from "../panel/PanelFrame";
import Link from "next/link";
import { useEffect, useRef } from "react";
import { X } from "lucide-react";
import { decodeTrace } from "@/core/trace";
import { useTrace } from "./useTrace";
import { shownAmount } from "../writing";

export interface StationView {
  kind: string;
  title: string;
  facts: { label: string; text: string; href?: string }[];
  rows: {
    step: string;
    label: string;
    note: string;
    amount: bigint;
    chosen: boolean;
    href: string | null;
  }[];
  amount: bigint | null;
  more: number;
}
export interface TraceView {
  currency: string;
  stations: StationView[];
  trace: string;
}

/**
 * The steps from a figure to its source, as stations on a line. Each can be entered; Alt ← goes
 * back; Esc closes.
 */
export function TracePanel({
  trace,
  message,
}: {
  trace: TraceView | null;
  message: string | null;
}) {
  const { text, step, back, close } = useTrace();
  const panel = useRef<HTMLElement>(null);
  const stations = trace?.stations.length ?? 0;
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.altKey && event.key === "ArrowLeft") {
        event.preventDefault();
        back();
      } else if (
        event.key === "Escape" &&
        !document.querySelector('[role="dialog"]') &&
        !(event.target instanceof HTMLInputElement)
      ) {
        close();
        const figure = document.querySelector<HTMLElement>('.figure[aria-expanded="true"]');
        figure?.focus();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [back, close]);
  useEffect(() => {
    // The newest station is where one goes on from.
    const list = panel.current?.querySelectorAll<HTMLElement>("[data-station]");
    const last = list?.[list.length - 1];
    last?.scrollIntoView({ block: "nearest" });
    // The panel takes room from the sheet; the figure that opened it stays in sight.
    document
      .querySelector('.figure[aria-expanded="true"]')
      ?.scrollIntoView({ block: "nearest", inline: "center" });
    const first = last?.querySelector<HTMLElement>("button[data-step]");
    if (first && panel.current?.contains(document.activeElement)) first.focus();
  }, [text, stations]);
  if (!text) return null;
  const taken = decodeTrace(trace?.trace ?? text)?.path ?? [];
  let depth = 0;
  return (
    <PanelFrame
      ref={panel}
      label="Trace"
      name="trace"
      width={400}
      data-keys="Alt ←=One step back;Esc=Close the trace;↑ ↓=Between the rows;Enter=Into the row"
    >
      <div className="flex items-center gap-2 px-4 pb-1.5 pt-3.5">
        <h2>Trace</h2>
        <button
          type="button"
          className="button-plain ml-auto rounded px-1.5 text-xs"
          onClick={back}
        >
          Back <kbd>Alt ←</kbd>
        </button>
        <button
          type="button"
          aria-label="Close the trace"
          className="rounded p-1 text-ink-2 hover:bg-shade"
          onClick={close}
        >
          <X size={15} />
        </button>
      </div>
      <div
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-6"
        onKeyDown={(e) => moveBetweenRows(e, panel.current)}
      >
        {message && (
          <p role="alert" className="rounded bg-coral-2 px-2 py-1">
            {message}
          </p>
        )}
        <ol className="relative before:absolute before:bottom-2 before:left-[6px] before:top-2 before:w-[2px] before:bg-line">
          {trace?.stations.map((station, i) => {
            const at = depth;
            if (station.rows.some((r) => r.step && taken[at] === r.step)) depth++;
            return (
              <li
                key={i}
                data-station
                className="relative pb-4 pl-[22px] before:absolute before:left-0 before:top-[3px] before:size-[14px] before:rounded-full before:border-2 before:border-sea before:bg-panel"
              >
                <div className="text-xs text-ink-2">{station.kind}</div>
                {(station.title || station.amount !== null) && (
                  <div className="flex justify-between gap-3 font-bold">
                    <span>{station.title}</span>
                    {station.amount !== null && (
                      <span className="whitespace-nowrap">
                        {shownAmount(station.amount, trace.currency)}
                      </span>
                    )}
                  </div>
                )}
                {station.facts.map((f) => (
                  <div key={f.label + f.text} className="flex justify-between gap-3 py-0.5">
                    <span className="text-ink-2">{f.label}</span>
                    {f.href ? (
                      <Link className="link" href={f.href}>
                        {f.text}
                      </Link>
                    ) : (
                      <span className="text-right">{f.text}</span>
                    )}
                  </div>
                ))}
                <ul>
                  {station.rows.map((r, k) => {
                    const body = (
                      <>
                        <span
                          className="min-w-0 flex-1 truncate text-left"
                          title={`${r.label} ${r.note}`}
                        >
                          {r.label}
                          {r.note && <span className="text-ink-3"> · {r.note}</span>}
                        </span>
                        <b className="whitespace-nowrap font-semibold">
                          {shownAmount(r.amount, trace.currency)}
                        </b>
                      </>
                    );
                    const look = `-mx-2 flex w-[calc(100%+16px)] items-baseline gap-3 rounded px-2 py-[3px] ${r.chosen ? "bg-yellow-2" : "hover:bg-shade"}`;
                    return (
                      <li key={k} className="border-b border-line-2">
                        {r.step ? (
                          <button
                            type="button"
                            data-step={r.step}
                            aria-current={r.chosen ? "step" : undefined}
                            className={look}
                            onClick={() => step(at, r.step)}
                          >
                            {body}
                          </button>
                        ) : r.href ? (
                          <Link href={r.href} className={look} data-step="link">
                            {body}
                          </Link>
                        ) : (
                          <div className={look}>{body}</div>
                        )}
                      </li>
                    );
                  })}
                </ul>
                {station.more > 0 && (
                  <p className="pt-1 text-xs text-ink-3">
                    and {station.more} more; open the account to see them all.
                  </p>
                )}
              </li>
            );
          })}
        </ol>
      </div>
    </PanelFrame>
  );
}

function moveBetweenRows(event: React.KeyboardEvent, panel: HTMLElement | null): void {
  if (event.altKey || (event.key !== "ArrowDown" && event.key !== "ArrowUp")) return;
  const list = [...(panel?.querySelectorAll<HTMLElement>("[data-step]") ?? [])];
  const next =
    list[
      list.indexOf(document.activeElement as HTMLElement) + (event.key === "ArrowDown" ? 1 : -1)
    ];
  if (next) {
    event.preventDefault();
    next.focus();
  }
}
