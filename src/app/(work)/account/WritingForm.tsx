"use client";
import { useState } from "react";
import {
  DAY_STYLES,
  FIGURE_STYLES,
  sampleFigure,
  writtenDay,
  type DayStyle,
  type FigureStyle,
  type Writing,
} from "@/core/shared";
import { Problems } from "@/ui/Page";
import { useToday } from "@/ui/frame/work";
import { keepWritingAction } from "./actions";

const FIGURES = Object.keys(FIGURE_STYLES) as FigureStyle[];
const DAYS = Object.keys(DAY_STYLES) as DayStyle[];

/** How this person writes and reads figures and days. */
export function WritingForm({ now }: { now: Writing }) {
  const today = useToday();
  const [writing, setWriting] = useState(now);
  const [messages, setMessages] = useState<string[]>([]);
  const save = async () => {
    const kept = await keepWritingAction(writing).catch(() => null);
    if (!kept) return setMessages(["The server did not answer. Try again."]);
    if (!kept.ok) return setMessages([kept.message]);
    // Every figure on the page is written anew.
    window.location.reload();
  };
  return (
    <form
      className="panel grid content-start gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}
    >
      <Problems messages={messages} />
      <div>
        <label className="label" htmlFor="writing-figures">
          Amounts are written
        </label>
        <select
          id="writing-figures"
          className="field"
          value={writing.figures}
          onChange={(e) => setWriting((w) => ({ ...w, figures: e.target.value as FigureStyle }))}
        >
          {FIGURES.map((f) => (
            <option key={f} value={f}>
              {sampleFigure(f)}
            </option>
          ))}
        </select>
      </div>
      <div>
        <label className="label" htmlFor="writing-days">
          Dates are written
        </label>
        <select
          id="writing-days"
          className="field"
          value={writing.days}
          onChange={(e) => setWriting((w) => ({ ...w, days: e.target.value as DayStyle }))}
        >
          {DAYS.map((d) => (
            <option key={d} value={d}>
              {writtenDay(today, d)}
            </option>
          ))}
        </select>
      </div>
      <p className="text-xs text-ink-2">
        Amounts are also typed this way. Dates may be typed in any of these ways, the day first.
      </p>
      <div>
        <button type="submit" className="button">
          Save
        </button>
      </div>
    </form>
  );
}
