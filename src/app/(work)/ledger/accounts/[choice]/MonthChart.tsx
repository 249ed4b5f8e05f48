"use client";
import {
  Bar,
  CartesianGrid,
  ComposedChart,
  Line,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import { decimalText } from "@/core/shared";
import type { AccountFigures } from "@/server/ledger";
import { shownAmount } from "@/ui/writing";

/**
 * The months of an account: what moved as bars, what it closed with as a line. For the eye; figures
 * are rounded nowhere but in the drawing.
 */
export default function MonthChart({
  figures: view,
  name,
}: {
  figures: AccountFigures;
  name: string;
}) {
  const data = view.periods
    .filter((p) => !p.period.endsWith("-13"))
    .map((p) => ({
      name: p.name,
      moved: Number(decimalText(p.debit - p.credit, view.currency)),
      closed: Number(decimalText(p.closing, view.currency)),
      movedText: shownAmount(p.debit - p.credit, view.currency),
      closedText: shownAmount(p.closing, view.currency),
    }));
  const short = (n: number) => new Intl.NumberFormat("en", { notation: "compact" }).format(n);
  return (
    <figure
      className="panel h-44 shrink-0 px-2 pt-2"
      aria-label={`Movement and closing of ${name} by month`}
    >
      <ResponsiveContainer width="100%" height="100%">
        <ComposedChart data={data} margin={{ top: 4, right: 12, bottom: 0, left: 4 }}>
          <CartesianGrid stroke="var(--color-line-2)" vertical={false} />
          <XAxis
            dataKey="name"
            tick={{ fontSize: 11, fill: "var(--color-ink-2)" }}
            stroke="var(--color-line)"
          />
          <YAxis
            tickFormatter={short}
            tick={{ fontSize: 11, fill: "var(--color-ink-2)" }}
            stroke="var(--color-line)"
            width={52}
          />
          <Tooltip
            isAnimationActive={false}
            content={({ payload, label }) => {
              const p = payload?.[0]?.payload as (typeof data)[number] | undefined;
              return p ? (
                <div className="rounded border border-line bg-panel px-2 py-1 text-xs">
                  <b>{String(label)}</b>
                  <br />
                  moved {p.movedText}
                  <br />
                  closed {p.closedText}
                </div>
              ) : null;
            }}
          />
          <Bar dataKey="moved" fill="var(--color-sea)" isAnimationActive={false} />
          <Line
            dataKey="closed"
            stroke="var(--color-ink)"
            dot={{ r: 2 }}
            isAnimationActive={false}
          />
        </ComposedChart>
      </ResponsiveContainer>
    </figure>
  );
}
