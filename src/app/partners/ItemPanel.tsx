"use client";
import { useState, type ReactNode } from "react";
import { minor } from "@/core/shared";
import type { ItemHistory, OpenItemRow } from "@/server/openItems";
import { SidePanel } from "@/ui/panel/SidePanel";
import { shownAmount, shownDate } from "@/ui/writing";

/** The calculation of an item: what it was made with, what was set against it, what is left. */
export function ItemPanel({
  item,
  sign,
  history,
  busy,
  mayHold,
  restate,
  onHold,
  onUndo,
  onJournal,
  onClose,
}: {
  item: OpenItemRow;
  /** Minus one where what is owed is shown as positive. */
  sign: bigint;
  history: ItemHistory[] | null;
  busy: boolean;
  mayHold: boolean;
  /** How it is agreed that it is owed in another currency; nothing for who may not, or what can't. */
  restate: ReactNode;
  onHold: (reason: string) => void;
  onUndo: (id: number) => void;
  onJournal: (id: number) => void;
  onClose: () => void;
}) {
  const [reason, setReason] = useState("");
  return (
    <SidePanel title={item.reference} onClose={onClose} width={380}>
      <div className="rounded-lg border border-line-2 px-3 py-2">
        <p className="flex justify-between gap-3 py-0.5">
          <button type="button" className="link" onClick={() => onJournal(item.journalId)}>
            {item.number}
          </button>
          <span>
            {shownAmount(minor(sign * item.amount), item.currency)} {item.currency}
          </span>
        </p>
        {history === null && <p className="text-ink-3">…</p>}
        {history?.map((h) => (
          <div key={h.id} className="border-t border-line-2 py-1">
            <p className="flex justify-between gap-3">
              <span>
                {shownDate(h.date)}, {h.kind}
              </span>
              <span>{shownAmount(minor(-sign * h.amount), item.currency)}</span>
            </p>
            <p className="text-xs text-ink-2">
              {h.with.map((o, i) => (
                <button
                  key={i}
                  type="button"
                  className="link mr-2"
                  onClick={() => onJournal(o.journalId)}
                >
                  {o.reference}, {o.number}
                </button>
              ))}
              {h.by}
              {h.journal && (
                <>
                  {" "}
                  · difference in{" "}
                  <button type="button" className="link" onClick={() => onJournal(h.journal!.id)}>
                    {h.journal.number}
                  </button>
                </>
              )}
            </p>
            {h.mayUndo && (
              <button
                type="button"
                className="link text-xs"
                disabled={busy}
                onClick={() => onUndo(h.id)}
              >
                Undo settlement
              </button>
            )}
          </div>
        ))}
        <p className="mt-1 flex justify-between border-t border-line pt-1.5 font-bold">
          <span>Open amount</span>
          <span>{shownAmount(minor(sign * item.left), item.currency)}</span>
        </p>
      </div>
      {item.hold && (
        <p className="notice">
          On hold: {item.hold}
          {mayHold && (
            <button type="button" className="link ml-3" disabled={busy} onClick={() => onHold("")}>
              Release
            </button>
          )}
        </p>
      )}
      {mayHold && !item.hold && item.left !== 0n && (
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            onHold(reason);
          }}
        >
          <div className="flex-1">
            <label className="label" htmlFor="hold-reason">
              Reason for the hold
            </label>
            <input
              id="hold-reason"
              className="field"
              placeholder="Disputed: two crates missing"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </div>
          <button type="submit" className="button" disabled={busy}>
            Hold
          </button>
        </form>
      )}
      {restate}
    </SidePanel>
  );
}
