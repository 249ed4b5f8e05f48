import { useLayoutEffect, useState, type RefObject } from "react";

/** The width inside an element, in pixels, as it changes; null before it is drawn. */
export function useRoom(element: RefObject<HTMLElement | null>): number | null {
  const [room, setRoom] = useState<number | null>(null);
  useLayoutEffect(() => {
    const of = element.current;
    if (!of || typeof ResizeObserver === "undefined") return;
    const observer = new ResizeObserver(() => setRoom(of.clientWidth));
    observer.observe(of);
    return () => observer.disconnect();
  }, [element]);
  return room;
}
