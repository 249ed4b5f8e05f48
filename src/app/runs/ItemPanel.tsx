"use client";
import Link from "next/link";
import { useEffect, useState } from "react";
import { documentPage } from "@/core/documents";
import type { Ask, RunOverrides } from "@/core/runs";
import type { OpenedItem, RunItemRow, RunView } from "@/server/runs";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { readRunItem } from "./actions";
import { shownAmount, shownSentence } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

/** How the figure of an item came about, and what can be changed about it in a preview. */
export function ItemPanel({
  run,
  row,
  busy,
  onChange,
  onClose,
}: {
  run: RunView;
  /** The item as its list shows it: the panel stands at once, and its figure is read meanwhile. */
  row: RunItemRow;
  busy: boolean;
  onChange: (overrides: RunOverrides) => void;
  onClose: () => void;
}) {
  const [read, setRead] = useState<OpenedItem | null>(null);
  const [failed, setFailed] = useState(false);
  const work = useWork();
  const no = row.id;
  useEffect(() => {
    let current = true;
    void readRunItem(String(run.id), no)
      .then((answer) => {
        if (!current) return;
        setFailed(!answer.ok);
        if (answer.ok) setRead(answer.value);
      })
      .catch(() => current && setFailed(true));
    return () => {
      current = false;
    };
  }, [run, no]);
  const item = read ?? row;
  const asks = read?.asks ?? (row.asks === "" ? [] : (JSON.parse(row.asks) as Ask[]));
  const { dropped, amounts } = run.overrides;
  const out = item.state === "dropped";
  const changeable = run.status === "preview" && run.mayPost;
  return (
    <SidePanel title={read?.explanation.title ?? row.label} onClose={onClose}>
      <p className="text-ink-2">{item.why}</p>
      {read?.document && (
        <p>
          <Link
            className="link"
            href={work.link(documentPage(read.document.kind, read.document.id))}
          >
            {read.document.name}
          </Link>
        </p>
      )}
      {item.leftOut && <p className="notice">Not part of the run: {item.leftOut}</p>}
      <div className="rounded-lg border border-line-2 px-3 py-2">
        {!read && (
          <p className="text-ink-2">
            {failed ? "The item could not be read. Close and open it again." : "Reading"}
          </p>
        )}
        {read?.explanation.steps.map((s, i) => (
          <div
            key={i}
            className={`flex justify-between gap-3 py-0.5 ${s.total ? "mt-1 border-t border-line pt-1.5 font-bold" : ""}`}
          >
            <span>{s.label}</span>
            <span>
              {s.text === undefined
                ? s.amount !== undefined && shownAmount(s.amount, run.currency)
                : shownSentence(s.text)}
            </span>
          </div>
        ))}
      </div>
      {changeable &&
        asks.map((a) => (
          <GiveAmount
            key={a.key}
            ask={a}
            busy={busy}
            onGive={(text) => onChange({ dropped, amounts: { ...amounts, [a.key]: text } })}
          />
        ))}
      {changeable && read?.droppable && (
        <button
          type="button"
          className="button self-start"
          disabled={busy}
          onClick={() =>
            onChange({
              amounts,
              dropped: out ? dropped.filter((k) => k !== item.key) : [...dropped, item.key],
            })
          }
        >
          {out ? "Include in the run" : "Exclude from the run"}
        </button>
      )}
    </SidePanel>
  );
}

function GiveAmount({
  ask,
  busy,
  onGive,
}: {
  ask: Ask;
  busy: boolean;
  onGive: (text: string) => void;
}) {
  const [text, setText] = useState(ask.given);
  return (
    <form
      className="flex items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        onGive(text);
      }}
    >
      <div className="flex-1">
        <label className="label" htmlFor={`ask-${ask.key}`}>
          {ask.label}, {ask.currency}
        </label>
        <FigureField
          id={`ask-${ask.key}`}
          className="field text-right"
          autoFocus={ask.given === "" && !ask.optional}
          value={text}
          onChange={setText}
        />
      </div>
      <button type="submit" className="button" disabled={busy}>
        Apply
      </button>
    </form>
  );
}
