"use client";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ArrowDown, ArrowUp, Columns3 } from "lucide-react";
import type { Columns } from "./useColumns";

const STEPS = [
  ["Up", -1, ArrowUp],
  ["Down", 1, ArrowDown],
] as const;

/** Which columns are shown, and in what order. */
export function ColumnMenu<T>({ columns }: { columns: Columns<T> }) {
  return (
    <Popover>
      <PopoverButton className="button button-plain h-7" aria-label="Choose columns">
        <Columns3 size={15} aria-hidden />
        Columns
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 w-60 rounded-lg border border-line bg-panel p-2 shadow-[0_10px_30px_#0b2f3a2b]"
      >
        {columns.all.map(({ key, header }, i) => (
          <div key={key} className="flex items-center gap-2 py-0.5">
            <label className="flex flex-1 items-center gap-2">
              <input
                type="checkbox"
                checked={columns.isShown(key)}
                onChange={(e) => columns.show(key, e.target.checked)}
              />
              {header}
            </label>
            {STEPS.map(([word, by, Icon]) => (
              <button
                key={word}
                type="button"
                aria-label={`${word}: ${header}`}
                disabled={i + by < 0 || i + by >= columns.all.length}
                className="rounded p-1 hover:bg-shade disabled:opacity-30"
                onClick={() => columns.move(key, by)}
              >
                <Icon size={13} />
              </button>
            ))}
          </div>
        ))}
      </PopoverPanel>
    </Popover>
  );
}
