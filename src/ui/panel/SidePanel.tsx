"use client";
import { useEffect, type ReactNode } from "react";
import { X } from "lucide-react";
import { PanelFrame } from "./PanelFrame";

/** A panel at the right of the worksheet, which it never covers. Esc closes it. */
export function SidePanel({
  title,
  onClose,
  children,
  width = 340,
}: {
  title: string;
  onClose: () => void;
  children: ReactNode;
  width?: number;
}) {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) =>
      event.key === "Escape" && !event.defaultPrevented && onClose();
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onClose]);
  return (
    <PanelFrame label={title} name="beside" width={width} data-keys="Esc=Close the panel">
      <div className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto px-4 py-3.5">
        <div className="flex items-start gap-2">
          <h2 className="flex-1">{title}</h2>
          <button
            type="button"
            aria-label={`Close ${title.toLowerCase()}`}
            className="rounded p-1 text-ink-2 hover:bg-shade"
            onClick={onClose}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        {children}
      </div>
    </PanelFrame>
  );
}
