"use client";
import { useState, type DragEvent, type ReactNode } from "react";

const holdsFiles = (e: DragEvent) => e.dataTransfer.types.includes("Files");

/** A part of a page on which papers can be dropped; it says so while one is held over it. */
export function PaperDrop({
  what,
  onPapers,
  children,
}: {
  /** What comes of dropping: "Drop to begin an invoice with this paper". */
  what: string;
  onPapers: (files: readonly File[]) => void;
  children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  return (
    <div
      className="relative flex min-h-0 flex-1 flex-col gap-2.5"
      onDragOver={(e) => {
        if (!holdsFiles(e)) return;
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => {
        if (!e.currentTarget.contains(e.relatedTarget as Node | null)) setOver(false);
      }}
      onDrop={(e) => {
        setOver(false);
        if (!holdsFiles(e)) return;
        e.preventDefault();
        onPapers([...e.dataTransfer.files]);
      }}
    >
      {children}
      {over && (
        <p className="pointer-events-none absolute inset-0 z-20 grid place-items-center rounded-lg border-2 border-dashed border-sea bg-sea-2/90 font-semibold">
          {what}
        </p>
      )}
    </div>
  );
}
