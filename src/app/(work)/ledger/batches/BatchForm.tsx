"use client";
import { useState } from "react";
import { Plus } from "lucide-react";
import { amountText, CURRENCIES } from "@/core/shared";
import type { BatchView } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { saveBatchAction } from "./actions";
import { FigureField } from "@/ui/FigureField";

/** What is said of a batch: its period, and what its papers add up to in each currency. */
export function BatchForm({
  batch,
  onSaved,
  onLeave,
}: {
  batch: BatchView | null;
  onSaved: (id: number) => void;
  onLeave: () => void;
}) {
  const work = useWork();
  const functional = work.company?.currency ?? "EUR";
  const [name, setName] = useState(batch?.name ?? "");
  const [period, setPeriod] = useState(batch?.period ?? work.place.period);
  const [description, setDescription] = useState(batch?.description ?? "");
  const given =
    batch?.lines
      .filter((l) => l.control !== null)
      .map((l) => ({ currency: l.currency, amount: amountText(l.control!, l.currency) })) ?? [];
  const [controls, setControls] = useState(
    given.length > 0 ? given : [{ currency: functional, amount: "" }],
  );
  const [messages, setMessages] = useState<string[]>([]);
  const [busy, setBusy] = useState(false);
  const save = async () => {
    setBusy(true);
    const result = await saveBatchAction({
      ...(batch ? { id: batch.id, version: batch.version } : {}),
      content: {
        company: batch?.company ?? work.place.company,
        name,
        period,
        description,
        controls,
      },
    }).catch(() => null);
    setBusy(false);
    if (!result)
      return setMessages(["The server did not answer. What you typed is still here; try again."]);
    if (!result.ok) return setMessages(result.problems.map((p) => p.message));
    onSaved(result.value.id);
  };
  const change = (i: number, part: Partial<(typeof controls)[number]>) =>
    setControls((list) => list.map((c, k) => (k === i ? { ...c, ...part } : c)));
  return (
    <form
      className="panel flex shrink-0 flex-wrap items-end gap-3 px-3 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      {messages.length > 0 && (
        <div className="w-full">
          <Problems messages={messages} />
        </div>
      )}
      <div>
        <label className="label" htmlFor="b-name">
          Name
        </label>
        <input
          id="b-name"
          autoFocus
          className="field w-56"
          placeholder="proposed when left empty"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="b-period">
          Period
        </label>
        <select
          id="b-period"
          className="field w-32"
          value={period}
          onChange={(e) => setPeriod(e.target.value)}
        >
          {work.company?.periods
            .filter((p) => p.states[work.place.book] !== "closed" || p.key === period)
            .map((p) => (
              <option key={p.key} value={p.key}>
                {p.name} {p.year}
              </option>
            ))}
        </select>
      </div>
      <div className="min-w-48 flex-1">
        <label className="label" htmlFor="b-desc">
          Description
        </label>
        <input
          id="b-desc"
          className="field"
          value={description}
          onChange={(e) => setDescription(e.target.value)}
        />
      </div>
      <fieldset>
        <legend className="label">The papers add up to, sum of debits</legend>
        <div className="flex flex-wrap gap-2">
          {controls.map((c, i) => (
            <span key={i} className="flex gap-1">
              <select
                aria-label={`Currency ${i + 1}`}
                className="field w-20"
                value={c.currency}
                onChange={(e) => change(i, { currency: e.target.value })}
              >
                {CURRENCIES.map((x) => (
                  <option key={x}>{x}</option>
                ))}
              </select>
              <FigureField
                aria-label={`Control total ${i + 1}`}
                className="field w-32 text-right"
                value={c.amount}
                onChange={(amount) => change(i, { amount })}
              />
            </span>
          ))}
          <button
            type="button"
            aria-label="Another currency"
            className="button"
            onClick={() =>
              setControls((l) => [
                ...l,
                {
                  currency: CURRENCIES.find((c) => !l.some((x) => x.currency === c)) ?? "EUR",
                  amount: "",
                },
              ])
            }
          >
            <Plus size={15} aria-hidden />
          </button>
        </div>
      </fieldset>
      <button type="submit" className="button button-main" disabled={busy}>
        {batch ? "Save" : "Add batch"}
      </button>
      <button type="button" className="button" onClick={onLeave}>
        Cancel
      </button>
    </form>
  );
}
