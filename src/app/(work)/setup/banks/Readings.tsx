"use client";
import type { SavedReading } from "@/server/banks";
import { useAct } from "@/app/lib/useAct";
import { Problems } from "@/ui/Page";
import { shownDate } from "@/ui/writing";
import { saveRecordAction } from "../actions";

/** How tables of an account are read, by their headings; what is forgotten is asked about anew. */
export function Readings({
  readings,
  mayChange,
}: {
  readings: readonly SavedReading[];
  mayChange: boolean;
}) {
  const { busy, messages, act } = useAct();
  if (readings.length === 0) return null;
  return (
    <div>
      <p className="label">Tables that it can read</p>
      <Problems messages={messages} />
      <ul>
        {readings.map((r) => (
          <li key={r.id} className="border-t border-line py-1 text-[12.5px]">
            <p>{r.headings.filter((h) => h !== "").join(", ")}</p>
            <p className="text-ink-2">
              said by {r.by}, {shownDate(r.at.slice(0, 10))}{" "}
              {mayChange && (
                <button
                  type="button"
                  className="link"
                  disabled={busy}
                  onClick={() =>
                    void act(
                      () => saveRecordAction("readingGone", { id: r.id }),
                      "Forgotten: the next table of these headings is asked about.",
                    )
                  }
                >
                  Forget
                </button>
              )}
            </p>
          </li>
        ))}
      </ul>
    </div>
  );
}
