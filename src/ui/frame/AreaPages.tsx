"use client";
import Link from "next/link";
import { usePathname } from "next/navigation";
import { useLayoutEffect, useRef, useState } from "react";
import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { ChevronDown } from "lucide-react";
import { areaOf, pageOf, PAGES, type PageEntry } from "./pages";
import { useWork } from "./work";

/** The pages of the area in view that this person may open. */
export function useAreaPages(): PageEntry[] {
  const { may } = useWork();
  const area = areaOf(usePathname());
  return PAGES.filter((p) => p.in === area && (p.rights.length === 0 || p.rights.some(may)));
}

const nameIn = (page: PageEntry): string => page.tab ?? page.name;
const MORE = 76;
const tab = "whitespace-nowrap border-b-[3px] px-2.5 leading-[41px]";

/** The pages of the area, the current one marked; what does not fit is under More. */
export function AreaPages() {
  const { link } = useWork();
  const pages = useAreaPages();
  const current = pageOf(usePathname());
  const line = useRef<HTMLElement>(null);
  const measured = useRef<HTMLDivElement>(null);
  const [fits, setFits] = useState(pages.length);
  const names = pages.map(nameIn).join("|");
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
  const others = pages.slice(fits);
  const currentOther = others.find((p) => p === current);
  if (pages.length < 2) return <span className="flex-1" />;
  return (
    <nav ref={line} aria-label="Pages of the area" className="relative flex min-w-0 flex-1">
      <div aria-hidden className="invisible absolute inset-0 overflow-hidden">
        <div ref={measured} className="relative flex w-max">
          {pages.map((p) => (
            <span key={p.href} className={`${tab} font-semibold`}>
              {nameIn(p)}
            </span>
          ))}
        </div>
      </div>
      {pages.slice(0, fits).map((p) => (
        <Link
          key={p.href}
          href={link(p.href)}
          aria-current={p === current ? "page" : undefined}
          className={`${tab} hover:text-ink ${p === current ? "border-yellow font-semibold text-ink" : "border-transparent text-ink-2"}`}
        >
          {nameIn(p)}
        </Link>
      ))}
      {others.length > 0 && (
        <Menu>
          <MenuButton
            className={`${tab} inline-flex items-center gap-1 ${currentOther ? "border-yellow font-semibold text-ink" : "border-transparent text-ink-2"}`}
          >
            {currentOther ? nameIn(currentOther) : "More"}
            <ChevronDown size={14} aria-hidden />
          </MenuButton>
          <MenuItems
            anchor="bottom start"
            className="z-30 mt-1 w-52 rounded-lg border border-line bg-panel p-1 shadow-[0_10px_30px_#0b2f3a2b] focus:outline-none"
          >
            {others.map((p) => (
              <MenuItem key={p.href}>
                <Link
                  href={link(p.href)}
                  aria-current={p === current ? "page" : undefined}
                  className="block rounded px-2.5 py-1.5 data-focus:bg-sea-2"
                >
                  {nameIn(p)}
                </Link>
              </MenuItem>
            ))}
          </MenuItems>
        </Menu>
      )}
    </nav>
  );
}
