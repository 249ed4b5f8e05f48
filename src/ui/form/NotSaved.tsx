"use client";
import type { useLeaveGuard } from "./useLeaveGuard";

/** Asks, in a line, before what was typed is left behind. */
export function NotSaved({
  guard,
  says,
}: {
  guard: ReturnType<typeof useLeaveGuard>;
  says: string;
}) {
  if (!guard.leaving) return null;
  return (
    <span role="alertdialog" aria-label="Not saved" className="flex items-center gap-2">
      {says}
      <button type="button" className="button" onClick={guard.leaving}>
        Discard
      </button>
      <button type="button" className="button" autoFocus onClick={guard.stay}>
        Keep editing
      </button>
    </span>
  );
}
