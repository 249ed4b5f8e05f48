"use client";
import { useState } from "react";
import type { StatementLineView, TakeView } from "@/server/banks";
import { decimalText, minor, readAmount, type Minor } from "@/core/shared";
import { FigureField } from "@/ui/FigureField";
import { shownAmount, shownDate } from "@/ui/writing";
import { itemsForLineAction } from "./actions";
import { useFound } from "./useFound";
import { RestChoice, restOf, usualRest, type KindChoice, type Rest } from "./RestChoice";

type Item = NonNullable<TakeView["item"]>;

/** Looks for open items that the line could pay, of any partner; several of one are paid together. */
export function ItemSearch({
  line,
  kinds,
  busy,
  onDecide,
}: {
  line: StatementLineView;
  kinds: readonly KindChoice[];
  busy: boolean;
  onDecide: (decision: Record<string, unknown>) => void;
}) {
  const [text, setText] = useState("");
  const { found, message } = useFound<Item>(() => itemsForLineAction(line.id, text), text);
  const [said, setSaid] = useState<Rest | null>(null);
  const [taken, setTaken] = useState<Readonly<Record<number, string>>>({});
  const plain = (amount: bigint) =>
    decimalText(minor(amount < 0n ? -amount : amount), line.currency);
  const toggle = (item: Item) =>
    setTaken(({ [item.id]: before, ...others }) =>
      before === undefined
        ? { ...others, [item.id]: plain(smaller(item.left, line.amount)) }
        : others,
    );
  const rest = restOfTaken(taken, line);
  const restTo = said ?? usualRest(rest, line.amount, kinds);
  const takes = Object.entries(taken).map(([item, amount]) => ({ item: Number(item), amount }));
  return (
    <div className="flex flex-col gap-2">
      <input
        className="field"
        aria-label="Look for items"
        placeholder="Partner, number or amount"
        autoFocus
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      {message && <p className="text-coral">{message}</p>}
      <ul className="flex max-h-72 flex-col overflow-y-auto" aria-label="Open items">
        {found?.map((i) => (
          <li
            key={i.id}
            className="flex items-center gap-2 border-t border-line py-1 text-[12.5px]"
          >
            <input
              type="checkbox"
              aria-label={`Take ${i.reference}`}
              checked={taken[i.id] !== undefined}
              onChange={() => toggle(i)}
            />
            <span className="min-w-0 flex-1">
              <span className="block truncate">
                {i.partnerName || "Money under way"} · {i.document.number ?? i.reference}
              </span>
              <span className="text-ink-2">
                due {shownDate(i.due)}, {shownAmount(i.left, i.currency)} left
              </span>
            </span>
            {taken[i.id] !== undefined && (
              <span className="w-28">
                <FigureField
                  aria-label={`Amount of ${i.reference}`}
                  className="field text-right"
                  value={taken[i.id]!}
                  onChange={(v) => setTaken((t) => ({ ...t, [i.id]: v }))}
                />
              </span>
            )}
          </li>
        ))}
        {found?.length === 0 && !message && (
          <li className="text-ink-2">Nothing open that this line could pay is called that.</li>
        )}
      </ul>
      {takes.length > 0 && rest !== 0n && (
        <RestChoice rest={rest} line={line} kinds={kinds} value={restTo} onChange={setSaid} />
      )}
      <button
        type="button"
        className="button button-main self-start"
        disabled={busy || takes.length === 0}
        onClick={() => onDecide({ takes, ...(rest === 0n ? {} : restOf(restTo)) })}
      >
        Take {takes.length} {takes.length === 1 ? "item" : "items"}
      </button>
    </div>
  );
}

const smaller = (a: bigint, b: bigint): bigint => {
  const [x, y] = [a < 0n ? -a : a, b < 0n ? -b : b];
  return x < y ? x : y;
};

/** What of the line is not taken, signed like the line. */
function restOfTaken(taken: Readonly<Record<number, string>>, line: StatementLineView): Minor {
  const sign = line.amount < 0n ? -1n : 1n;
  const sum = Object.values(taken).reduce((t, text) => {
    const read = readAmount(text, line.currency);
    return t + (read.ok ? read.amount : 0n);
  }, 0n);
  return minor(line.amount - sign * sum);
}
