"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { CloseBoard } from "@/server/closing";
import { useWork } from "@/ui/frame/work";
import { Status } from "@/ui/Status";
import { switchPeriodsAction } from "./actions";
import { shownDate, shownSentence } from "@/ui/writing";

/**
 * The tasks of a close, each with what the system found and the door to what fails; below, what was
 * done and why.
 */
export function CloseTable({ board }: { board: CloseBoard }) {
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[auto_minmax(0,1fr)] gap-2.5">
      <div className="panel overflow-hidden">
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-36">Status</th>
              <th className="w-72">Check</th>
              <th>Finding</th>
              <th className="w-28" aria-label="Door" />
            </tr>
          </thead>
          <tbody>
            {board.checks.map((c) => (
              <tr key={c.code}>
                <td>
                  <Status of={c.state} />
                </td>
                <td className="font-semibold">{c.name}</td>
                <td className="whitespace-normal! py-1">{shownSentence(c.finding)}</td>
                <td>
                  {c.door && (
                    <Link className="link" href={c.door}>
                      Open
                    </Link>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div
        className="panel min-h-0 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="What was done"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-44">Date and time</th>
              <th className="w-44">Changed by</th>
              <th className="w-56">Change of state</th>
              <th>Reason</th>
              <th className="num w-56">Last journal</th>
            </tr>
          </thead>
          <tbody>
            {board.history.map((h, i) => (
              <tr key={i}>
                <td>
                  {shownDate(h.at.slice(0, 10))} {h.at.slice(11, 16)}
                </td>
                <td>{h.by}</td>
                <td>
                  {h.from.replace("not-yet", "not yet open")} →{" "}
                  {h.to.replace("not-yet", "not yet open")}
                </td>
                <td>{h.reason || "–"}</td>
                <td className="num">journal {h.chainSeq}</td>
              </tr>
            ))}
          </tbody>
        </table>
        {board.history.length === 0 && (
          <p className="p-4 text-ink-2">This period has not been opened yet.</p>
        )}
      </div>
    </div>
  );
}

const STEPS: Record<string, { to: string; word: string; main: boolean; reason: boolean }[]> = {
  "not-yet": [{ to: "open", word: "Open the period", main: true, reason: false }],
  open: [
    { to: "closing", word: "Begin closing", main: true, reason: false },
    { to: "closed", word: "Close", main: false, reason: false },
  ],
  closing: [
    { to: "closed", word: "Close the period", main: true, reason: false },
    { to: "open", word: "Back to open", main: false, reason: false },
  ],
  closed: [{ to: "open", word: "Reopen", main: false, reason: true }],
};

export function CloseActions({ board }: { board: CloseBoard }) {
  const work = useWork();
  const router = useRouter();
  const [reason, setReason] = useState("");
  const [asking, setAsking] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const go = async (to: string) => {
    setBusy(true);
    const result = await switchPeriodsAction({
      company: board.company,
      book: board.book,
      area: "ledger",
      periods: [board.period],
      to,
      reason,
    }).catch(() => null);
    setBusy(false);
    if (!result)
      return toast.error("The server did not answer. Nothing may have changed; look again.");
    if (!result.ok) return toast.error(result.message, { duration: 8000 });
    setAsking(null);
    setReason("");
    toast.success(`${board.periodName} is ${to} in ${board.book}.`);
    router.refresh();
  };
  return (
    <>
      <Link className="button button-plain" href={work.link("/close/runs")}>
        Runs
      </Link>
      {work.may("period.ledger") && (
        <Link className="button button-plain" href={work.link("/close/year-end")}>
          Year end
        </Link>
      )}
      <Link className="button button-plain" href={work.link("/close/sub-ledgers")}>
        Sub-ledgers
      </Link>
      {work.may("read.history") && (
        <Link className="button button-plain" href={work.link("/close/verify")}>
          Verify
        </Link>
      )}
      {board.mayClose &&
        (asking ? (
          <form
            className="flex items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              void go(asking);
            }}
          >
            <input
              className="field w-64"
              autoFocus
              aria-label="Reason"
              placeholder="Why is it reopened?"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
            <button type="submit" className="button button-main" disabled={busy}>
              Reopen
            </button>
            <button type="button" className="button" onClick={() => setAsking(null)}>
              Cancel
            </button>
          </form>
        ) : (
          (STEPS[board.state] ?? []).map((s) => (
            <button
              key={s.to}
              type="button"
              disabled={busy}
              className={`button ${s.main ? "button-main" : ""}`}
              onClick={() => (s.reason ? setAsking(s.to) : void go(s.to))}
            >
              {s.word}
            </button>
          ))
        ))}
    </>
  );
}
