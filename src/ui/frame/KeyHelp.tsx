"use client";
import { Dialog, DialogPanel, DialogTitle } from "@headlessui/react";
import type { AreaEntry } from "./areas";

/** The keys of the page in view: each page declares its own with data-keys on its elements. */
export function KeyHelp({
  open,
  onClose,
  areas,
}: {
  open: boolean;
  onClose: () => void;
  areas: readonly AreaEntry[];
}) {
  const own = open ? keysOfPage() : [];
  const row = ([keys, what]: [string, string]) => (
    <div key={keys + what} className="flex justify-between gap-4 py-0.5">
      <span>{what}</span>
      <kbd>{keys}</kbd>
    </div>
  );
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-petrol/30" aria-hidden />
      <div className="fixed inset-0 flex justify-center pt-[10vh]">
        <DialogPanel className="grid h-fit w-[620px] grid-cols-2 gap-x-8 rounded-xl border border-line bg-panel p-5 shadow-2xl">
          <DialogTitle as="h2" className="col-span-2 mb-3">
            Keys
          </DialogTitle>
          <div>
            <h3 className="label">On this page</h3>
            {own.length > 0 ? (
              own.map(row)
            ) : (
              <p className="text-ink-3">This page has no keys of its own.</p>
            )}
          </div>
          <div>
            <h3 className="label">Everywhere</h3>
            {(
              [
                ["Ctrl K", "Find a page, account or document"],
                ["?", "These keys"],
                ["Esc", "Close the panel"],
                ["Alt ←", "One step back in the trace"],
                ["n", "New journal"],
                ["g 1 … g 9", "Page of this area"],
                ...areas.map((a): [string, string] => [`g ${a.key}`, a.name]),
              ] as [string, string][]
            ).map(row)}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const keysOfPage = (): [string, string][] =>
  [...document.querySelectorAll<HTMLElement>("[data-keys]")]
    .flatMap((e) => (e.dataset.keys ?? "").split(";"))
    .map((part) => part.split("=").map((t) => t.trim()) as [string, string])
    .filter(([keys, what]) => keys && what);
