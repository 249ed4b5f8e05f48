"use client";
import Link from "next/link";
import { useLayoutEffect, useRef, useState } from "react";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import { Waiting } from "./Waiting";
import { areaOf, pageOf, PAGES, type PageEntry } from "./pages";
import { useBelongs } from "./belongs";
import { useWork } from "./work";

/** The pages of the area in view that this person may open. */
export function useAreaPages(): PageEntry[] {
  const { may } = useWork();
  const area = areaOf(useBelongs());
  return PAGES.filter((p) => p.in === area && (p.rights.length === 0 || p.rights.some(may)));
}

export const nameIn = (page: PageEntry): string => page.tab ?? page.name;

/** A place in the area's line: a page, or the pages of a subject. */
export interface AreaTab {
  name: string;
  href: string;
  pages: readonly PageEntry[];
}

/** The places in the line of the area in view, in the order of the work. */
export function useAreaTabs(): AreaTab[] {
  const pages = useAreaPages();
  const tabs = new Map<string, PageEntry[]>();
  for (const page of pages) {
    const key = page.subject ?? page.href;
    tabs.set(key, [...(tabs.get(key) ?? []), page]);
  }
  return [...tabs.values()].map((own) => ({
    name: own[0]!.subject ?? nameIn(own[0]!),
    href: own[0]!.href,
    pages: own,
  }));
}

/** The other pages of the subject of the page in view, where it has one. */
export function SubjectPages() {
  const { link } = useWork();
  const current = pageOf(useBelongs());
  const pages = useAreaTabs().find((t) => t.pages.some((p) => p === current))?.pages ?? [];
  if (pages.length < 2) return null;
  return (
    <nav aria-label="Pages of the subject" className="flex items-stretch gap-1 px-2">
      {pages.map((p) => (
        <Link
          key={p.href}
          href={link(p.href)}
          aria-current={p === current ? "page" : undefined}
          className={`${tab} hover:text-ink ${p === current ? "border-yellow font-semibold text-ink" : "border-transparent text-ink-2"}`}
        >
          {nameIn(p)}
        </Link>
      ))}
    </nav>
  );
}
const MORE = 76;
const tab = "whitespace-nowrap border-b-[3px] px-2.5 leading-[41px]";

/** The pages of the area, the current one marked; what does not fit is under More. */
export function AreaPages() {
  const { link } = useWork();
  const tabs = useAreaTabs();
  const current = pageOf(useBelongs());
  const line = useRef<HTMLElement>(null);
  const measured = useRef<HTMLDivElement>(null);
  const [fits, setFits] = useState(tabs.length);
  const names = tabs.map((t) => t.name).join("|");
  useLayoutEffect(() => {
    const measure = () => {
      const room = line.current?.clientWidth ?? 0;
      const ends = [...(measured.current?.children ?? [])].map(
        (e) => (e as HTMLElement).offsetLeft + (e as HTMLElement).offsetWidth,
      );
      const all = (ends.at(-1) ?? 0) <= room;
      setFits(all ? ends.length : ends.filter((end) => end <= room - MORE).length);
    };
    measure();
    const watch = new ResizeObserver(measure);
    if (line.current) watch.observe(line.current);
    return () => watch.disconnect();
  }, [names]);
  const others = tabs.slice(fits);
  const isCurrent = (t: AreaTab) => t.pages.some((p) => p === current);
  const currentOther = others.find(isCurrent);
  if (tabs.length < 2) return <span className="flex-1" />;
  return (
    <nav ref={line} aria-label="Pages of the area" className="relative flex min-w-0 flex-1">
      <div aria-hidden className="invisible absolute inset-0 overflow-hidden">
        <div ref={measured} className="relative flex w-max">
          {tabs.map((t) => (
            <span key={t.href} className={`${tab} font-semibold`}>
              {t.name}
              <Waiting of={t} />
            </span>
          ))}
        </div>
      </div>
      {tabs.slice(0, fits).map((t) => (
        <Link
          key={t.href}
          href={link(t.href)}
          aria-current={isCurrent(t) ? "page" : undefined}
          className={`${tab} hover:text-ink ${isCurrent(t) ? "border-yellow font-semibold text-ink" : "border-transparent text-ink-2"}`}
        >
          {t.name}
          <Waiting of={t} />
        </Link>
      ))}
      {others.length > 0 && (
        <Menu>
          <MenuButton
            className={`${tab} inline-flex items-center gap-1 ${currentOther ? "border-yellow font-semibold text-ink" : "border-transparent text-ink-2"}`}
          >
            {currentOther ? currentOther.name : "More"}
            <ChevronDown size={14} aria-hidden />
          </MenuButton>
          <MenuItems
            anchor="bottom start"
            className="z-30 mt-1 w-52 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
          >
            {others.map((t) => (
              <MenuItem key={t.href}>
                <Link
                  href={link(t.href)}
                  aria-current={isCurrent(t) ? "page" : undefined}
                  className="block rounded px-2.5 py-1.5 data-focus:bg-sea-2"
                >
                  {t.name}
                  <Waiting of={t} />
                </Link>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      )}
    </nav>
  );
}
