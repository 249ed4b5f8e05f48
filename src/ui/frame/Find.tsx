"use client";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { Command } from "cmdk";
import { Dialog, DialogPanel } from "@headlessui/react";
import type { AreaEntry } from "./areas";
import { FindSaid, type About } from "./FindSaid";
import { findPages } from "./findPages";
import { PAGES } from "./pages";
import { useWork } from "./work";
import { shownSentence } from "../writing";

export interface FoundThing {
  kind: string;
  label: string;
  note: string;
  href: string;
  about?: About;
}

/** Ctrl K: pages and commands at once; accounts and documents as the server finds them. */
export function Find({
  open,
  onClose,
  areas,
}: {
  open: boolean;
  onClose: () => void;
  areas: readonly AreaEntry[];
}) {
  const work = useWork();
  const router = useRouter();
  const [text, setText] = useState("");
  const [found, setFound] = useState<FoundThing[]>([]);
  /** The result at which one stands, and the one whose conversation is open. */
  const [at, setAt] = useState("");
  const [said, setSaid] = useState<string | null>(null);
  const talked = found.find((f) => f.href === said);
  useEffect(() => {
    const asked = text.trim();
    const stop = new AbortController();
    const timer = setTimeout(() => {
      if (asked.length < 2) setFound([]);
      else
        fetch(`/find?company=${work.place.company}&text=${encodeURIComponent(asked)}`, {
          signal: stop.signal,
        })
          .then((r) => (r.ok ? (r.json() as Promise<FoundThing[]>) : []))
          .then(setFound)
          .catch(() => {});
    }, 120);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [text, work.place.company]);
  const go = (href: string) => {
    onClose();
    setText("");
    setSaid(null);
    router.push(href);
  };
  const pages = PAGES.filter((p) => p.rights.length === 0 || p.rights.some(work.may));
  const row = "flex cursor-pointer items-center gap-3 rounded px-2.5 py-1.5 aria-selected:bg-sea-2";
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-petrol/30" aria-hidden />
      <div className="fixed inset-0 flex justify-center pt-[12vh]">
        <DialogPanel className="h-fit w-[640px] overflow-hidden rounded-xl border border-line bg-panel shadow-2xl">
          <Command
            label="Find"
            shouldFilter={false}
            loop
            value={at}
            onValueChange={setAt}
            onKeyDown={(e) => {
              if (e.key !== "Enter" || !(e.ctrlKey || e.metaKey)) return;
              e.preventDefault();
              if (found.some((f) => f.href === at && f.about)) setSaid(at);
            }}
          >
            <Command.Input
              autoFocus
              value={text}
              onValueChange={setText}
              placeholder="A page, an account, a customer, a number, a text, an amount"
              className="h-11 w-full border-b border-line bg-transparent px-4 text-[15px] outline-none"
            />
            <Command.List className="max-h-[50vh] overflow-y-auto p-1.5">
              <Command.Empty className="px-3 py-4 text-ink-3">
                Nothing found for “{text}”.
              </Command.Empty>
              {found.map((f) => (
                <Command.Item
                  key={f.href}
                  value={f.href}
                  onSelect={() =>
                    go(f.href + (f.href.includes("?") ? "" : `?${work.link("").slice(1)}`))
                  }
                  className={row}
                >
                  <span className="w-24 shrink-0 text-xs text-ink-3">{f.kind}</span>
                  <span className="truncate font-semibold">{f.label}</span>
                  <span className="ml-auto truncate text-ink-2">{shownSentence(f.note)}</span>
                  {f.about && f.href === at && <kbd title="What was said about it">Ctrl ⏎</kbd>}
                </Command.Item>
              ))}
              {findPages(pages, text)
                .slice(0, text ? 12 : 30)
                .map((p) => (
                  <Command.Item
                    key={p.href + p.name}
                    value={p.href + p.name}
                    onSelect={() => go(work.link(p.href, p.query))}
                    className={row}
                  >
                    <span className="w-24 shrink-0 text-xs text-ink-3">
                      {areas.find((a) => p.href.startsWith(a.href))?.name ?? "Page"}
                    </span>
                    <span>{p.name}</span>
                    {p.keys && <kbd className="ml-auto">{p.keys}</kbd>}
                  </Command.Item>
                ))}
            </Command.List>
          </Command>
          {talked?.about && <FindSaid key={talked.href} about={talked.about} name={talked.label} />}
        </DialogPanel>
      </div>
    </Dialog>
  );
}
