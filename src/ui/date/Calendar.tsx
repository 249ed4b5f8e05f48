"use client";
import { ChevronLeft, ChevronRight } from "lucide-react";
import { DayPicker } from "react-day-picker";
import type { CalendarDate } from "@/core/shared";

/** Calendar dates have no hour and no zone: noon is the same day everywhere. */
const atNoon = (date: CalendarDate): Date => new Date(`${date}T12:00:00`);
const dateOf = (date: Date): CalendarDate =>
  [
    date.getFullYear(),
    String(date.getMonth() + 1).padStart(2, "0"),
    String(date.getDate()).padStart(2, "0"),
  ].join("-");

const BUTTON = "rounded p-1 text-ink-2 hover:bg-shade";

/** A month, day by day; weeks begin on Monday. */
export default function Calendar({
  chosen,
  today,
  onChoose,
}: {
  chosen: CalendarDate | null;
  today: CalendarDate;
  onChoose: (date: CalendarDate) => void;
}) {
  return (
    <DayPicker
      mode="single"
      autoFocus
      weekStartsOn={1}
      showOutsideDays
      fixedWeeks
      required={false}
      today={atNoon(today)}
      {...(chosen ? { selected: atNoon(chosen) } : {})}
      defaultMonth={atNoon(chosen ?? today)}
      onDayClick={(date) => onChoose(dateOf(date))}
      classNames={{
        root: "text-[13px]",
        months: "relative",
        month_caption: "flex h-7 items-center pl-2 font-semibold",
        nav: "absolute right-0 top-0 flex gap-1",
        button_previous: BUTTON,
        button_next: BUTTON,
        month_grid: "mt-1 border-collapse",
        weekday: "size-8 text-xs font-normal text-ink-3",
        day: "p-0 text-center",
        day_button: "size-8 rounded hover:bg-shade",
        today: "font-bold underline underline-offset-4",
        selected: "rounded bg-yellow font-semibold text-petrol",
        outside: "text-ink-3",
      }}
      components={{
        Chevron: ({ orientation }) =>
          orientation === "left" ? (
            <ChevronLeft size={15} aria-hidden />
          ) : (
            <ChevronRight size={15} aria-hidden />
          ),
      }}
    />
  );
}
