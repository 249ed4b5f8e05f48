"use client";
import Link from "next/link";
import type { LoadedJournal } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Status } from "@/ui/Status";
import { shownAmount, shownSentence } from "@/ui/writing";

const MOST = 300;

interface Props {
  /** What this load has taken in. */
  done: readonly LoadedJournal[];
  /** What is left, and why: problems of the whole journal, or that it came in before. */
  left: readonly LoadedJournal[];
  again: ReadonlySet<string>;
  onAgain: (key: string) => void;
}

/** The journals of a load: those that are in, with their numbers, and those that wait for a word. */
export function JournalsOfLoad({ done, left, again, onAgain }: Props) {
  const work = useWork();
  const journals = [...left, ...done];
  if (journals.length === 0) return null;
  return (
    <div
      className="panel max-h-48 shrink-0 overflow-auto"
      tabIndex={0}
      role="region"
      aria-label="Journals of the load"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-28">Key</th>
            <th>Journal</th>
            <th className="w-28">Status</th>
            <th className="num w-36">Debits</th>
            <th>Problems of the whole</th>
          </tr>
        </thead>
        <tbody>
          {journals.slice(0, MOST).map((j, i) => (
            <tr key={i}>
              <td>{j.key}</td>
              <td>
                {j.id === null ? (
                  j.description
                ) : (
                  <Link className="link font-semibold" href={work.link(`/ledger/journals/${j.id}`)}>
                    {j.number ?? j.description}
                  </Link>
                )}
              </td>
              <td>
                <Status of={statusOf(j)} quiet />
              </td>
              <td className="num">
                {shownAmount(j.debits, j.currency)}{" "}
                <span className="text-xs text-ink-3">{j.currency}</span>
              </td>
              <td>
                <span className="text-coral">
                  {j.problems
                    .filter((p) => p.line === null && p.code !== "LOADED_BEFORE")
                    .map((p) => shownSentence(p.message))
                    .join(" ")}
                </span>
                {j.id === null && j.before && !again.has(j.key) && (
                  <span>
                    {j.before.by} loaded the same journal on {j.before.at} as{" "}
                    <Link className="link" href={work.link(`/ledger/journals/${j.before.id}`)}>
                      {j.before.number}
                    </Link>
                    .{" "}
                    <button type="button" className="button h-7" onClick={() => onAgain(j.key)}>
                      Load it again
                    </button>
                  </span>
                )}
              </td>
            </tr>
          ))}
          {journals.length > MOST && (
            <tr>
              <td colSpan={5}>{journals.length - MOST} more are not shown here.</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

const statusOf = (j: LoadedJournal): string =>
  j.status !== "checked" && j.status !== "left"
    ? j.status
    : j.problems.length > 0
      ? "problems"
      : "draft";
