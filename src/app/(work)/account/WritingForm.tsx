"use client";
import {
  DAY_STYLES,
  FIGURE_STYLES,
  sampleFigure,
  writtenDay,
  type DayStyle,
  type FigureStyle,
  type Writing,
} from "@/core/shared";
import { FieldForm } from "@/app/lib/FieldForm";
import { useToday } from "@/ui/frame/work";
import { keepWritingAction } from "./actions";

const FIGURES = Object.keys(FIGURE_STYLES) as FigureStyle[];
const DAYS = Object.keys(DAY_STYLES) as DayStyle[];

/** How this person writes and reads figures and days. */
export function WritingForm({ now }: { now: Writing }) {
  const today = useToday();
  return (
    <FieldForm
      name="writing"
      title="Amounts and dates"
      fields={[
        {
          key: "figures",
          label: "Amounts",
          kind: "select",
          options: FIGURES.map((f) => ({ value: f, text: sampleFigure(f) })),
          hint: "They are typed this way too.",
        },
        {
          key: "days",
          label: "Dates",
          kind: "select",
          options: DAYS.map((d) => ({ value: d, text: writtenDay(today, d) })),
          hint: "They may be typed in any of these ways, the day first.",
        },
      ]}
      start={{ ...now }}
      button="Save"
      job={(values) => keepWritingAction(values as unknown as Writing)}
      // Every figure on the page is written anew.
      then={() => window.location.reload()}
    />
  );
}
