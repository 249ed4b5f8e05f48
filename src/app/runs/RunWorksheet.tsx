"use client";
import { Fragment, useMemo, useRef, useState, type KeyboardEvent } from "react";
import type { Ask, RunOverrides } from "@/core/runs";
import type { RunItemRow, RunView } from "@/server/runs";
import { FigureField } from "@/ui/FigureField";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { shownAmount, shownFigures, shownSentence } from "@/ui/writing";
import { groupName } from "./LeftOut";

/** An item that a person can still bring into the run belongs on the sheet. */
export const isWorkedOn = (item: RunItemRow): boolean =>
  item.state !== "out" || asksOf(item).some((a) => a.given !== "");

const asksOf = (item: RunItemRow): Ask[] =>
  item.asks === "" || item.asks === null ? [] : ((JSON.parse(item.asks) as Ask[] | null) ?? []);

interface Group {
  name: string;
  items: RunItemRow[];
  total: bigint;
}

/**
 * The items of a run as one sheet, grouped with subtotals. The space bar leaves an item out and
 * takes it in again; an amount typed in its cell takes a part.
 */
export function RunWorksheet({
  run,
  items,
  chosen,
  busy,
  onChoose,
  onChange,
}: {
  run: RunView;
  items: readonly RunItemRow[];
  /** The key of the item in hand. */
  chosen: string | null;
  busy: boolean;
  onChoose: (key: string) => void;
  onChange: (overrides: RunOverrides) => void;
}) {
  const body = useRef<HTMLTableElement>(null);
  const [typing, setTyping] = useState<{ key: string; text: string } | null>(null);
  const groups = useMemo(() => grouped(items), [items]);
  const takesParts = useMemo(() => items.some((i) => asksOf(i).length > 0), [items]);
  const changeable = run.status === "preview" && run.mayPost && !busy;
  const { dropped, amounts } = run.overrides;

  const toggle = (of: readonly RunItemRow[]) => {
    const keys = of.filter((i) => i.droppable === "yes").map((i) => i.key);
    if (!changeable || keys.length === 0) return;
    const allOut = keys.every((k) => dropped.includes(k));
    const others = dropped.filter((k) => !keys.includes(k));
    onChange({ amounts, dropped: allOut ? others : [...others, ...keys] });
  };
  const askOf = (item: RunItemRow): Ask | undefined =>
    changeable && item.state !== "dropped" ? asksOf(item)[0] : undefined;
  const give = (ask: Ask, text: string) => {
    setTyping(null);
    if (text.trim() !== ask.given)
      onChange({ dropped, amounts: { ...amounts, [ask.key]: text.trim() } });
  };
  const moveTo = (from: HTMLElement, by: number) => {
    const rows = [...body.current!.querySelectorAll<HTMLElement>("[data-line]")];
    rows[rows.indexOf(from) + by]?.focus();
  };
  const onKeyDown = (e: KeyboardEvent<HTMLElement>, of: readonly RunItemRow[], ask?: Ask) => {
    if (e.target !== e.currentTarget) return;
    if (e.key === " ") toggle(of);
    else if (e.key === "ArrowDown" || e.key === "ArrowUp")
      moveTo(e.currentTarget, e.key === "ArrowDown" ? 1 : -1);
    else if (ask && (e.key === "Enter" || e.key === "F2"))
      setTyping({ key: of[0]!.key, text: ask.given });
    else if (ask && /^[0-9]$/.test(e.key) && !e.ctrlKey && !e.altKey && !e.metaKey)
      setTyping({ key: of[0]!.key, text: e.key });
    else return;
    e.preventDefault();
  };
  const first = chosen ?? items[0]?.key;
  return (
    <div
      className="panel flex min-h-0 flex-1 flex-col overflow-hidden"
      data-keys={`↑ ↓=Between the items;Space=Leave out, take in${
        takesParts ? ";0…9=Pay a part;Enter=Change the amount" : ""
      }`}
    >
      <div className="no-print flex h-9 shrink-0 items-center gap-3 border-b border-line px-3 text-ink-2">
        {changeable && (
          <span>
            {[
              ...(items.some((i) => i.droppable === "yes") ? ["Space leaves out"] : []),
              ...(takesParts ? ["type an amount to change it"] : []),
            ].join(" · ")}
          </span>
        )}
        <span className="ml-auto">
          <ExportMenu
            name="run-items"
            headers={[groupName(run.kind), "Item", "Reason", "In the run", "Amount"]}
            rows={items.map((i) => [
              i.group,
              i.label,
              i.why,
              i.inRun,
              { amount: i.amount, currency: run.currency },
            ])}
          />
        </span>
      </div>
      <div className="print-flow min-h-0 flex-1 overflow-auto">
        <table ref={body} className="sheet" style={{ tableLayout: "fixed" }}>
          <colgroup>
            <col style={{ width: 34 }} />
            <col style={{ width: "34%" }} />
            <col />
            <col style={{ width: 132 }} />
          </colgroup>
          <thead>
            <tr>
              <th aria-label="In the run" />
              <th>{groupName(run.kind)} and item</th>
              <th>Reason</th>
              <th className="num">In the run, {run.currency}</th>
            </tr>
          </thead>
          <tbody>
            {groups.map((g) => (
              <Fragment key={g.name}>
                {g.items.length > 1 && (
                  <tr
                    data-line
                    tabIndex={-1}
                    className="bg-shade font-[650] outline-offset-[-2px]"
                    onKeyDown={(e) => onKeyDown(e, g.items)}
                  >
                    <td>
                      <Box
                        label={`All of ${g.name}`}
                        checked={g.items.every((i) => i.state === "in")}
                        disabled={!changeable}
                        onToggle={() => toggle(g.items)}
                      />
                    </td>
                    <td colSpan={2}>
                      {g.name}
                      <span className="font-normal text-ink-2"> · {g.items.length} items</span>
                    </td>
                    <td className="num">{shownAmount(g.total, run.currency)}</td>
                  </tr>
                )}
                {g.items.map((item) => {
                  const ask = askOf(item);
                  return (
                    <tr
                      key={item.key}
                      data-line={item.key}
                      tabIndex={item.key === first ? 0 : -1}
                      aria-selected={item.key === chosen}
                      className={`cursor-pointer outline-offset-[-2px] ${item.state === "in" ? "" : "text-ink-3"}`}
                      onFocus={() => item.key !== chosen && onChoose(item.key)}
                      onClick={(e) => {
                        if (!(e.target as HTMLElement).closest("input,button")) onChoose(item.key);
                      }}
                      onKeyDown={(e) => onKeyDown(e, [item], ask)}
                    >
                      <td>
                        <Box
                          label={`${item.group} ${item.label}`}
                          checked={item.state === "in"}
                          disabled={!changeable || item.droppable !== "yes"}
                          onToggle={() => toggle([item])}
                        />
                      </td>
                      <td title={`${item.group} ${item.label}`}>
                        {g.items.length === 1 && <b className="font-[650]">{g.name} </b>}
                        {item.label}
                      </td>
                      <td title={reasonOf(item)}>{shownSentence(reasonOf(item))}</td>
                      <td className="num">
                        {typing?.key === item.key && ask ? (
                          <PartField
                            ask={ask}
                            text={typing.text}
                            onLeave={() => setTyping(null)}
                            onGive={(text, row) => {
                              give(ask, text);
                              row?.focus();
                            }}
                          />
                        ) : (
                          <span
                            className={ask ? "cursor-text border-b border-dotted border-ink-3" : ""}
                            title={ask?.label}
                            onDoubleClick={() =>
                              ask && setTyping({ key: item.key, text: ask.given })
                            }
                          >
                            {item.state === "in"
                              ? shownAmount(item.amount, run.currency)
                              : item.state === "waiting"
                                ? "needed"
                                : "–"}
                          </span>
                        )}
                      </td>
                    </tr>
                  );
                })}
              </Fragment>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <td />
              <td colSpan={2}>In the run</td>
              <td className="num">
                {shownAmount(
                  groups.reduce((t, g) => t + g.total, 0n),
                  run.currency,
                )}
              </td>
            </tr>
          </tfoot>
        </table>
        {items.length === 0 && <p className="p-8 text-center text-ink-2">Nothing to do.</p>}
      </div>
    </div>
  );
}

const reasonOf = (item: RunItemRow): string =>
  item.state === "in" ? item.why : item.state === "dropped" ? "left out by hand" : item.leftOut;

function grouped(items: readonly RunItemRow[]): Group[] {
  const groups = new Map<string, RunItemRow[]>();
  for (const item of items) groups.set(item.group, [...(groups.get(item.group) ?? []), item]);
  return [...groups].map(([name, own]) => ({
    name,
    items: own,
    total: own.reduce((t, i) => (i.state === "in" ? t + i.amount : t), 0n),
  }));
}

function Box({
  label,
  checked,
  disabled,
  onToggle,
}: {
  label: string;
  checked: boolean;
  disabled: boolean;
  onToggle: () => void;
}) {
  return (
    <input
      type="checkbox"
      tabIndex={-1}
      aria-label={label}
      checked={checked}
      disabled={disabled}
      onChange={onToggle}
    />
  );
}

/** The cell in which a part is typed: Enter takes it, Esc leaves it as it was. */
function PartField({
  ask,
  text: first,
  onGive,
  onLeave,
}: {
  ask: Ask;
  text: string;
  onGive: (text: string, row: HTMLElement | null) => void;
  onLeave: () => void;
}) {
  const [text, setText] = useState(first);
  return (
    <span onBlur={onLeave}>
      <FigureField
        aria-label={`${ask.label}, ${ask.currency}`}
        className="field h-[24px]! w-full px-1! text-right"
        placeholder={shownFigures("0.00")}
        autoFocus
        value={text}
        onChange={setText}
        onKeyDown={(e) => {
          const row = e.currentTarget.closest<HTMLElement>("[data-line]");
          if (e.key === "Enter") onGive(text, row);
          else if (e.key === "Escape") {
            e.preventDefault();
            e.stopPropagation();
            onLeave();
            row?.focus();
          } else return;
        }}
      />
    </span>
  );
}
