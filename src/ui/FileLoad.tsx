"use client";
import { useState } from "react";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { Upload } from "lucide-react";

export interface LoadCounts {
  added: number;
  changed: number;
  same: number;
  /** How the file was read where it could be read otherwise. */
  notes?: readonly string[];
  /** What was posted of the same before; taking it in again has to be meant. */
  before?: string | null;
  /** What would be done to each, where the file's kind says so. */
  changes?: readonly {
    row: number;
    number: string;
    name: string;
    what: "added" | "changed";
    differences: readonly string[];
    used: boolean;
  }[];
}
const MOST_SHOWN = 500;
type Loaded =
  { ok: true; value: LoadCounts } | { ok: false; message: string; problems: { message: string }[] };

/**
 * Rows in from a file: checked first, said what would happen, then taken in whole or not at all.
 */
export function FileLoad({
  label,
  what,
  load,
  again = (before) => `${before} posted the same: the same day, total and number of lines.`,
}: {
  label: string;
  what: string;
  /** What is said of what was taken in before and looks the same. */
  again?: (before: string) => string;
  load: (file: File, how: { take: boolean; confirmed: boolean }) => Promise<Loaded>;
}) {
  const router = useRouter();
  const [check, setCheck] = useState<(LoadCounts & { file: File; problems: string[] }) | null>(
    null,
  );
  const send = async (file: File, take: boolean) => {
    // Whoever takes it in has read what the check said.
    const result = await load(file, { take, confirmed: take && Boolean(check?.before) });
    if (!result.ok)
      return setCheck({
        file,
        added: 0,
        changed: 0,
        same: 0,
        problems:
          result.problems.length > 0 ? result.problems.map((p) => p.message) : [result.message],
      });
    if (!take) return setCheck({ file, ...result.value, problems: [] });
    setCheck(null);
    toast.success(`${result.value.added} added, ${result.value.changed} changed.`);
    router.refresh();
  };
  return (
    <>
      {check && (
        <div
          role="status"
          className={`absolute left-1/2 top-28 z-20 w-[560px] -translate-x-1/2 rounded-lg border p-3 shadow-xl ${check.problems.length > 0 ? "border-coral/40 bg-coral-2" : "border-line bg-panel"}`}
        >
          <b>{check.file.name}</b>
          {check.problems.length > 0 ? (
            <ul className="max-h-48 overflow-auto">
              {check.problems.slice(0, 50).map((p, i) => (
                <li key={i}>{p}</li>
              ))}
            </ul>
          ) : (
            <>
              <p>
                {check.added} {what} to add, {check.changed} to change, {check.same} as they are.
              </p>
              {check.before && <p className="text-coral">{again(check.before)}</p>}
              {check.notes?.map((n) => (
                <p key={n} className="text-ink-2">
                  {n}
                </p>
              ))}
              {check.changes && check.changes.length > 0 && (
                <ul className="mt-2 max-h-64 overflow-auto border-t border-line pt-1">
                  {check.changes.slice(0, MOST_SHOWN).map((c) => (
                    <li key={`${c.row} ${c.number}`}>
                      <b className="font-semibold">{c.number}</b> {c.name}
                      <span className="text-ink-2">
                        {c.what === "added" ? ": new" : `: ${c.differences.join("; ")}`}
                        {c.used && ". It has postings"}
                      </span>
                    </li>
                  ))}
                  {check.changes.length > MOST_SHOWN && (
                    <li className="text-ink-2">and {check.changes.length - MOST_SHOWN} more</li>
                  )}
                </ul>
              )}
            </>
          )}
          <div className="mt-2 flex gap-2">
            {check.problems.length === 0 && check.added + check.changed > 0 && (
              <button
                type="button"
                className="button button-main"
                onClick={() => void send(check.file, true)}
              >
                {check.before ? "Take in once more" : "Take in"} {check.added + check.changed}{" "}
                {what}
              </button>
            )}
            <button type="button" className="button" onClick={() => setCheck(null)}>
              Cancel
            </button>
          </div>
        </div>
      )}
      <label className="button cursor-pointer focus-within:outline-2 focus-within:outline-sea">
        <Upload size={15} aria-hidden />
        {label}
        <input
          type="file"
          accept=".csv,.xlsx"
          className="sr-only"
          aria-label={`${label}: CSV or XLSX`}
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void send(file, false);
          }}
        />
      </label>
    </>
  );
}
