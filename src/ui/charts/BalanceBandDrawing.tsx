"use client";
import {
  Area,
  Bar,
  ComposedChart,
  Line,
  ReferenceLine,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import type { BandPoint } from "./BalanceBand";

const tick = { fontSize: 10.5, fill: "var(--color-ink-2)" };
const compact = new Intl.NumberFormat("en", { notation: "compact", maximumSignificantDigits: 4 });

/** The drawing of `BalanceBand`: by default what brings the library along. */
export default function BalanceBandDrawing({
  points,
  onChoose,
}: {
  points: readonly BandPoint[];
  onChoose?: (index: number) => void;
}) {
  const data = points.map((p) => ({ ...p, band: [p.low, p.high] }));
  const common = {
    data,
    syncId: "cash",
    accessibilityLayer: false,
    ...(onChoose && {
      onClick: ({ activeTooltipIndex }: { activeTooltipIndex?: unknown }) => {
        const index = Number(activeTooltipIndex);
        if (activeTooltipIndex !== null && Number.isInteger(index)) onChoose(index);
      },
      style: { cursor: "pointer" },
    }),
  };
  const axis = {
    tick,
    stroke: "var(--color-line)",
    tickLine: false,
    tickFormatter: (n: number) => compact.format(n),
    width: 48,
  };
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-[3]">
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart {...common} margin={{ top: 8, right: 8, bottom: 0, left: 0 }}>
            <XAxis dataKey="name" scale="band" hide />
            <YAxis {...axis} domain={["auto", "auto"]} tickCount={4} />
            <Tooltip
              isAnimationActive={false}
              cursor={{ stroke: "var(--color-ink-3)" }}
              content={({ payload }) => {
                const point = payload?.[0]?.payload as BandPoint | undefined;
                return point ? <Said point={point} /> : null;
              }}
            />
            <ReferenceLine y={0} stroke="var(--color-coral)" ifOverflow="hidden" />
            <Area
              dataKey="band"
              stroke="none"
              fill="var(--color-sea)"
              fillOpacity={0.16}
              isAnimationActive={false}
            />
            <Line
              dataKey="closing"
              stroke="var(--color-sea)"
              strokeWidth={2}
              dot={{ r: 2.5 }}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <div className="min-h-0 flex-[2]">
        <ResponsiveContainer width="100%" height="100%">
          <ComposedChart
            {...common}
            stackOffset="sign"
            margin={{ top: 2, right: 8, bottom: 0, left: 0 }}
          >
            <XAxis dataKey="name" tick={tick} stroke="var(--color-line)" tickLine={false} />
            <YAxis {...axis} tickCount={3} />
            <Tooltip cursor={{ fill: "var(--color-shade)" }} content={() => null} />
            <ReferenceLine y={0} stroke="var(--color-ink-3)" />
            <Bar
              dataKey="in"
              stackId="moves"
              fill="var(--color-moss)"
              maxBarSize={22}
              isAnimationActive={false}
            />
            <Bar
              dataKey="out"
              stackId="moves"
              fill="var(--color-coral)"
              maxBarSize={22}
              isAnimationActive={false}
            />
          </ComposedChart>
        </ResponsiveContainer>
      </div>
    </div>
  );
}

function Said({ point: { name, texts } }: { point: BandPoint }) {
  const lines = [
    ["Balance", texts.closing],
    ["At the least", texts.low],
    ["At the most", texts.high],
    ["In", texts.in],
    ["Out", texts.out],
  ];
  return (
    <dl className="grid grid-cols-[auto_auto] gap-x-3 rounded border border-line bg-panel px-2 py-1 text-xs">
      <dt className="col-span-2 font-semibold">up to {name}</dt>
      {lines.map(([what, text]) => (
        <div key={what} className="contents">
          <dt className="text-ink-2">{what}</dt>
          <dd className="text-right">{text}</dd>
        </div>
      ))}
    </dl>
  );
}
