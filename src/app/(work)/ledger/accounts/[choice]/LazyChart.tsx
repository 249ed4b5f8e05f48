"use client";
import dynamic from "next/dynamic";

/**
 * Brought along only where somebody asks for it: the library behind it is larger than the rest of
 * the page.
 */
export const LazyChart = dynamic(() => import("./MonthChart"), {
  ssr: false,
  loading: () => <div className="panel h-44 shrink-0" />,
});
