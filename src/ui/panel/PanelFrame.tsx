"use client";
import {
  useSyncExternalStore,
  type ComponentProps,
  type KeyboardEvent,
  type PointerEvent,
} from "react";
import { keptWidth, keepWidth, LEAST, MOST, watchWidths } from "./widths";

/** How much wider or narrower one arrow makes it. */
const STEP = 40;
/** Where there is no room beside the worksheet, it lies over its left. */
const NARROW =
  "max-[1099px]:absolute max-[1099px]:inset-y-0 max-[1099px]:left-0 max-[1099px]:z-30 max-[1099px]:max-w-[85%] max-[1099px]:border-r max-[1099px]:shadow-[6px_0_18px_#0b2f3a2e]";

/**
 * What every panel beside the worksheet stands in: its width is changed with the mouse or the
 * arrow keys and remembered, and where the window is too narrow for both it lies over the left of
 * the page, so that the amounts at the right stay in sight.
 */
export function PanelFrame({
  label,
  name,
  width: usual,
  children,
  className = "",
  ...aside
}: Omit<ComponentProps<"aside">, "style"> & {
  label: string;
  /** By which its width is remembered: panels of one name share it. */
  name: string;
  width: number;
}) {
  const width = useSyncExternalStore(
    watchWidths,
    () => keptWidth(name) ?? usual,
    () => usual,
  );
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.altKey || (e.key !== "ArrowLeft" && e.key !== "ArrowRight")) return;
    e.preventDefault();
    keepWidth(name, width + (e.key === "ArrowLeft" ? STEP : -STEP));
  };
  const onPointerDown = (e: PointerEvent) => {
    const start = e.clientX;
    const move = (m: globalThis.PointerEvent) => keepWidth(name, width + start - m.clientX);
    const up = () => {
      window.removeEventListener("pointermove", move);
      window.removeEventListener("pointerup", up);
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up);
  };
  return (
    <aside
      {...aside}
      aria-label={label}
      style={{ width }}
      className={`no-print relative flex shrink-0 flex-col border-l border-line bg-panel ${NARROW} ${className}`}
    >
      <div
        role="separator"
        aria-orientation="vertical"
        aria-label={`Width of the panel ${label}`}
        aria-valuenow={width}
        aria-valuemin={LEAST}
        aria-valuemax={MOST}
        tabIndex={0}
        data-keys="← →=Wider, narrower"
        className="absolute max-[1099px]:hidden -left-1 top-0 z-10 h-full w-2 cursor-col-resize"
        onKeyDown={onKeyDown}
        onPointerDown={onPointerDown}
      />
      {children}
    </aside>
  );
}
