"use client";
import { useState } from "react";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { Bookmark, X } from "lucide-react";
import type { Pages } from "./pages";

/** Filters and order of a list under a name of one's own, to be taken again. */
export function SavedFilters<T>({ pages }: { pages: Pages<T> }) {
  const [name, setName] = useState("");
  const { state, saved } = pages;
  const asks = state.sort !== "" || Object.keys(state.filters).length > 0;
  const others = saved.filter((s) => s.name !== name.trim());
  return (
    <Popover>
      <PopoverButton className="button button-plain h-7" aria-label="Saved filters">
        <Bookmark size={15} aria-hidden />
        Saved filters
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 w-72 rounded-lg border border-line bg-panel p-2 shadow-[0_10px_30px_#0b2f3a2b]"
      >
        {({ close }) => (
          <>
            {saved.length === 0 && (
              <p className="px-1 py-1 text-ink-2">
                None yet. Filter or sort the list, then save that under a name.
              </p>
            )}
            {saved.map((s) => (
              <div key={s.name} className="flex items-center">
                <button
                  type="button"
                  className="min-w-0 flex-1 truncate rounded px-1 py-1 text-left hover:bg-shade"
                  onClick={() => {
                    pages.ask({ sort: s.sort, filters: s.filters });
                    close();
                  }}
                >
                  {s.name}
                </button>
                <button
                  type="button"
                  aria-label={`Delete the filter ${s.name}`}
                  className="rounded p-1 hover:bg-shade"
                  onClick={() => pages.save(saved.filter((x) => x !== s))}
                >
                  <X size={13} aria-hidden />
                </button>
              </div>
            ))}
            {asks && (
              <form
                className="mt-1 flex gap-2 border-t border-line pt-2"
                onSubmit={(e) => {
                  e.preventDefault();
                  if (name.trim() === "") return;
                  pages.save([...others, { name: name.trim(), ...state }]);
                  setName("");
                }}
              >
                <input
                  aria-label="Name of the filter"
                  className="field min-w-0 flex-1"
                  placeholder="Name"
                  maxLength={60}
                  value={name}
                  onChange={(e) => setName(e.target.value)}
                />
                <button type="submit" className="button">
                  Save
                </button>
              </form>
            )}
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
