"use client";
import {
  Bar,
  Cell,
  ComposedChart,
  ReferenceLine,
  ResponsiveContainer,
  Scatter,
  Tooltip,
  XAxis,
  YAxis,
} from "recharts";
import { addDays } from "@/core/shared";
import { shownDay } from "../writing";
import type { DueMark } from "./DueLine";

const COLOURS: Readonly<Record<DueMark["kind"], string>> = {
  overdue: "var(--color-coral)",
  due: "var(--color-sea)",
  paid: "var(--color-moss)",
  promise: "var(--color-sea)",
  broken: "var(--color-coral)",
};
const tick = { fontSize: 10.5, fill: "var(--color-ink-2)" };
/** Days beside the first and the last mark, so that no column is cut. */
const BESIDE = 4;

/** The drawing of `DueLine`: by default what brings the library along. */
export default function DueLineDrawing({
  marks,
  today,
}: {
  marks: readonly DueMark[];
  today: string;
}) {
  const amounts = marks.filter((m) => m.kind !== "promise" && m.kind !== "broken");
  const promises = marks
    .filter((m) => m.kind === "promise" || m.kind === "broken")
    .map((m) => ({ ...m, at: 0 }));
  const days = [0, ...marks.map((m) => m.day)];
  const from = Math.min(...days) - BESIDE;
  const to = Math.max(...days) + BESIDE;
  const dayText = (n: number) => shownDay(addDays(today, Math.round(n)));
  return (
    <ResponsiveContainer width="100%" height="100%">
      <ComposedChart
        data={amounts as DueMark[]}
        margin={{ top: 16, right: 8, bottom: 0, left: 8 }}
        accessibilityLayer={false}
      >
        <XAxis
          dataKey="day"
          type="number"
          domain={[from, to]}
          allowDataOverflow
          tick={tick}
          tickLine={false}
          stroke="var(--color-line)"
          tickFormatter={dayText}
          tickCount={7}
        />
        <YAxis hide domain={[0, "auto"]} />
        <Tooltip
          isAnimationActive={false}
          cursor={false}
          content={({ payload }) => {
            const mark = payload?.[0]?.payload as DueMark | undefined;
            return mark ? (
              <div className="rounded border border-line bg-panel px-2 py-1 text-xs">
                <b className="font-semibold">{mark.texts.day}</b> {mark.texts.what}{" "}
                {mark.texts.amount}
              </div>
            ) : null;
          }}
        />
        <ReferenceLine
          x={0}
          stroke="var(--color-yellow)"
          strokeWidth={3}
          label={{ value: "today", position: "top", ...tick }}
        />
        <Bar dataKey="value" barSize={12} isAnimationActive={false}>
          {amounts.map((m, i) => (
            <Cell key={i} fill={COLOURS[m.kind]} />
          ))}
        </Bar>
        <Scatter data={promises} dataKey="at" isAnimationActive={false}>
          {promises.map((m, i) => (
            <Cell key={i} fill="var(--color-panel)" stroke={COLOURS[m.kind]} strokeWidth={2.5} />
          ))}
        </Scatter>
      </ComposedChart>
    </ResponsiveContainer>
  );
}
