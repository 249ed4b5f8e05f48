"use client";
import type { KeyboardEvent, ReactNode } from "react";
import { type Scale } from "@/core/shared";
import {
  roundingDifference,
  type EvaluatedColumn,
  type EvaluatedLine,
  type StatementLayout,
} from "@/core/statements";
import { Figure } from "@/ui/trace/Figure";
import { shownAmount } from "@/ui/writing";

interface Props {
  code: string;
  layout: StatementLayout;
  scale: Scale;
  currency: string;
  columns: EvaluatedColumn[];
  lines: EvaluatedLine[];
  /** The lines as they are now, where the statement is shown as known then. */
  now: EvaluatedLine[] | null;
}

/** A statement as a sheet of figures: arrows move between them, Enter opens one. */
export function StatementTable({ code, layout, scale, currency, columns, lines, now }: Props) {
  const current = new Map(now?.map((l) => [l.code, l.values[0] ?? null]));
  const first = columns[0];
  const byCode = new Map(lines.map((l) => [l.code, l]));
  // A line without a figure in any column says nothing, unless it is a heading or a total.
  const shown = lines.filter(
    (l) =>
      l.kind === "heading" || l.kind === "total" || l.values.some((v) => v !== null && v !== 0n),
  );
  return (
    <div
      className="panel print-flow min-h-0 flex-1 overflow-auto"
      data-keys="Arrows=Between the figures;Enter=Take the figure apart"
      onKeyDown={moveBetweenFigures}
    >
      <table className="sheet sheet-named">
        <thead>
          <tr>
            <th aria-label="Line" className="w-[34%] min-w-56" />
            {columns.map((c) => (
              <th key={c.key} className="num">
                {c.label}
              </th>
            ))}
            {now && first && (
              <>
                <th className="num">{first.label}, now</th>
                <th className="num">Changed since</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {shown.map((line) => {
            const strong = line.kind === "total" || line.kind === "heading";
            return (
              <tr key={line.code} className={strong ? "font-bold" : ""}>
                <td
                  className={
                    line.rule === "double" ? "border-b-[3px]! border-double! border-b-ink!" : ""
                  }
                  style={{ paddingLeft: 9 + line.level * 17 }}
                >
                  {line.label}
                </td>
                {line.values.map((value, i) => {
                  const column = columns[i]!;
                  return (
                    <td
                      key={column.key}
                      className={`num ${line.rule === "double" ? "border-b-[3px]! border-double! border-b-ink!" : ""}`}
                    >
                      {value !== null && (
                        <Figure
                          amount={value}
                          currency={currency}
                          of={{
                            kind: "statement",
                            code,
                            line: line.code,
                            column: column.key,
                            layout,
                          }}
                          style={{ style: "statement", scale }}
                          {...(column.of && code === "income-statement"
                            ? { signed: "favourable" as const }
                            : {})}
                        />
                      )}
                      <Rounding of={roundingDifference(line, i, byCode, { currency, scale })} />
                    </td>
                  );
                })}
                {now && first && (
                  <Since
                    then={line.values[0] ?? null}
                    now={current.get(line.code) ?? null}
                    figure={(amount) => (
                      <Figure
                        amount={amount}
                        currency={currency}
                        of={{ kind: "statement", code, line: line.code, column: first.key, layout }}
                        style={{ style: "statement", scale }}
                      />
                    )}
                    text={(amount) => shownAmount(amount, currency, { style: "statement", scale })}
                  />
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

/** By how much a rounded total differs from its rounded lines. */
function Rounding({ of }: { of: bigint }) {
  if (of === 0n) return null;
  const text = `${of > 0n ? "+" : "−"}${of < 0n ? -of : of}`;
  return (
    <sup className="text-[10px] font-normal text-ink-3" title={`Rounding difference ${text}`}>
      {text}
    </sup>
  );
}

/**
 * What a figure is now, and by how much it differs; the difference opens into the journals behind
 * it.
 */
function Since({
  then,
  now,
  figure,
  text,
}: {
  then: bigint | null;
  now: bigint | null;
  figure: (amount: bigint) => ReactNode;
  text: (amount: bigint) => string;
}) {
  return (
    <>
      <td className="num text-ink-2">{now !== null && text(now)}</td>
      <td className="num">{now !== null && now !== (then ?? 0n) && figure(now - (then ?? 0n))}</td>
    </>
  );
}

/** Arrow keys move over the figures of a sheet as over its cells. */
export function moveBetweenFigures(event: KeyboardEvent<HTMLElement>): void {
  const steps: Record<string, [number, number]> = {
    ArrowDown: [1, 0],
    ArrowUp: [-1, 0],
    ArrowLeft: [0, -1],
    ArrowRight: [0, 1],
  };
  const step = steps[event.key];
  const cell = (event.target as HTMLElement).closest("td");
  if (!step || event.altKey || event.shiftKey || !cell) return;
  event.preventDefault();
  const row = cell.parentElement as HTMLTableRowElement;
  if (step[1] !== 0) {
    let next = step[1] > 0 ? cell.nextElementSibling : cell.previousElementSibling;
    while (next && !next.querySelector(".figure"))
      next = step[1] > 0 ? next.nextElementSibling : next.previousElementSibling;
    next?.querySelector<HTMLElement>(".figure")?.focus();
    return;
  }
  let next = step[0] > 0 ? row.nextElementSibling : row.previousElementSibling;
  while (next && !(next as HTMLTableRowElement).cells[cell.cellIndex]?.querySelector(".figure"))
    next = step[0] > 0 ? next.nextElementSibling : next.previousElementSibling;
  (next as HTMLTableRowElement | null)?.cells[cell.cellIndex]
    ?.querySelector<HTMLElement>(".figure")
    ?.focus();
}
