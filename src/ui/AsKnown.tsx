"use client";
import Link from "next/link";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { History } from "lucide-react";
import { useState } from "react";
import { useWork } from "./frame/work";

/** The report as it stood at an earlier moment, and what has changed since. */
export function AsKnown({ changes = false }: { changes?: boolean }) {
  const work = useWork();
  const [moment, setMoment] = useState(work.place.asKnown ?? `${work.today}T08:00`);
  return (
    <Popover className="relative">
      <PopoverButton className={`button ${work.place.asKnown ? "bg-yellow-2!" : ""}`}>
        <History size={15} aria-hidden />
        {work.place.asKnown ? "As known then" : "As known"}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 mt-1 w-72 rounded-lg border border-line bg-panel p-3 shadow-[0_10px_30px_#0b2f3a2b]"
      >
        {({ close }) => (
          <form
            className="grid gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              work.go({ asKnown: moment, trace: null });
              close();
            }}
          >
            <label className="label" htmlFor="as-known">
              The ledger as it stood at
            </label>
            <input
              id="as-known"
              type="datetime-local"
              className="field"
              value={moment}
              onChange={(e) => setMoment(e.target.value)}
              required
            />
            <p className="text-xs text-ink-3">Journals posted later are left out. Times are UTC.</p>
            <div className="flex flex-wrap gap-2">
              <button type="submit" className="button">
                Show
              </button>
              {work.place.asKnown && (
                <button
                  type="button"
                  className="button button-plain"
                  onClick={() => {
                    work.go({ asKnown: null, trace: null });
                    close();
                  }}
                >
                  Back to now
                </button>
              )}
              {changes && (
                <Link
                  className="button button-plain"
                  href={work.link("/ledger/changes", { since: moment, asKnown: null })}
                >
                  What changed since
                </Link>
              )}
            </div>
          </form>
        )}
      </PopoverPanel>
    </Popover>
  );
}
