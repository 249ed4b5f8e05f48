"use client";
import {
  Bar as Column,
  BarChart,
  Cell,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import type { Bar } from "./Bars";

const tick = { fontSize: 10.5, fill: "var(--color-ink-2)" };
const compact = new Intl.NumberFormat("en", { notation: "compact" });

/** The drawing of `Bars`: by default what brings the library along. */
export default function BarsDrawing({
  bars,
  onChoose,
}: {
  bars: readonly Bar[];
  onChoose?: (index: number) => void;
}) {
  return (
    <ResponsiveContainer width="100%" height="100%">
      <BarChart
        data={[...bars]}
        margin={{ top: 6, right: 4, bottom: 0, left: 0 }}
        accessibilityLayer={false}
      >
        <XAxis dataKey="name" tick={tick} stroke="var(--color-line)" tickLine={false} />
        <YAxis
          tick={tick}
          stroke="var(--color-line)"
          tickLine={false}
          tickFormatter={(n: number) => compact.format(n)}
          width={38}
          tickCount={3}
        />
        <Tooltip
          isAnimationActive={false}
          cursor={{ fill: "var(--color-shade)" }}
          content={({ payload }) => {
            const bar = payload?.[0]?.payload as Bar | undefined;
            return bar ? (
              <div className="rounded border border-line bg-panel px-2 py-1 text-xs">
                <b>{bar.name}</b> {bar.text}
              </div>
            ) : null;
          }}
        />
        <Column
          dataKey="value"
          isAnimationActive={false}
          maxBarSize={34}
          {...(onChoose && { onClick: (_: unknown, index: number) => onChoose(index) })}
        >
          {bars.map((b) => (
            <Cell
              key={b.name}
              fill={b.late ? "var(--color-coral)" : "var(--color-sea)"}
              cursor={onChoose ? "pointer" : "default"}
            />
          ))}
        </Column>
      </BarChart>
    </ResponsiveContainer>
  );
}
