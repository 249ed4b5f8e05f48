"use client";
import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { createContext, useCallback, useContext, useEffect, useMemo, type ReactNode } from "react";
import type { Right } from "@/core/access";
import { placeQuery, resolvePlace, type PeriodState, type Place } from "@/core/organisation";

/** What the frame knows of the installation; the shape of the server's answer, without its code. */
export interface FrameInfo {
  today: string;
  demo: boolean;
  companies: { code: string; name: string; currency: string; periods: FramePeriodInfo[] }[];
  books: { code: string; name: string; main: boolean; ended: boolean }[];
  dimensions: { id: number; code: string; name: string }[];
  /** What waits for a decision: by company, by page. */
  waiting: Record<string, Record<string, number>>;
  person: { name: string; login: string; initials: string; roles: string[]; rights: Right[] };
}
export interface FramePeriodInfo {
  key: string;
  name: string;
  year: string;
  no: number;
  start: string;
  end: string;
  adjustment: boolean;
  states: Record<string, PeriodState>;
}

export interface Work extends FrameInfo {
  place: Place;
  company: FrameInfo["companies"][number] | undefined;
  may(right: Right): boolean;
  /**
   * Changes the address: the place and whatever else the screen keeps there. Null takes a key out.
   */
  go(change: Record<string, string | null>, options?: { replace?: boolean }): void;
  /** A link to another screen at the same place. */
  link(path: string, more?: Record<string, string | null | undefined>): string;
}

const WorkContext = createContext<Work | null>(null);

export function useWork(): Work {
  const work = useContext(WorkContext);
  if (!work) throw new Error("useWork outside the frame");
  return work;
}

/** The same where a part may stand outside the frame. */
export const useWorkIfAny = (): Work | null => useContext(WorkContext);

/** The date on which work is done; outside the frame, that of the machine. */
export const useToday = (): string =>
  useContext(WorkContext)?.today ?? new Date().toISOString().slice(0, 10);

export function WorkProvider({
  info,
  last,
  children,
}: {
  info: FrameInfo;
  last: Partial<Place>;
  children: ReactNode;
}) {
  const params = useSearchParams();
  const pathname = usePathname();
  const router = useRouter();
  const place = useMemo(
    () => resolvePlace(info, Object.fromEntries(params), last),
    [info, params, last],
  );
  useEffect(() => {
    // Where the person was last, for addresses that do not say.
    document.cookie = `anchor_place=${place.company}~${place.book}~${place.period}; path=/; max-age=31536000; samesite=lax`;
  }, [place.company, place.book, place.period]);
  const go = useCallback<Work["go"]>(
    (change, options) => {
      const query = new URLSearchParams(params);
      for (const [key, value] of Object.entries(change))
        if (value === null) query.delete(key);
        else query.set(key, value);
      const target = `${pathname}?${query.toString()}`;
      if (options?.replace) router.replace(target, { scroll: false });
      else router.push(target, { scroll: false });
    },
    [params, pathname, router],
  );
  const work = useMemo<Work>(
    () => ({
      ...info,
      place,
      go,
      company: info.companies.find((c) => c.code === place.company),
      may: (right) => info.person.rights.includes(right),
      link: (path, more) => `${path}?${placeQuery(place, more)}`,
    }),
    [info, place, go],
  );
  return <WorkContext.Provider value={work}>{children}</WorkContext.Provider>;
}
