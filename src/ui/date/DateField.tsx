"use client";
import {
  lazy,
  Suspense,
  useEffect,
  useRef,
  useState,
  type ComponentProps,
  type FocusEvent,
  type KeyboardEvent,
} from "react";
import { createPortal } from "react-dom";
import { CalendarDays } from "lucide-react";
import { addDays, addMonths, dateText, readDate } from "@/core/shared";
import { useToday } from "../frame/work";
import { shownDate } from "../writing";

// It is fetched when somebody opens it.
const Calendar = lazy(() => import("./Calendar"));

interface Props extends Omit<
  ComponentProps<"input">,
  "value" | "onChange" | "type" | "onBlur" | "onKeyDown"
> {
  /** As it was typed, or a calendar date. */
  value: string;
  onChange: (value: string) => void;
  /** What is given back where it can be read: the text of the date, or the calendar date itself. */
  as?: "text" | "day";
  onBlur?: (event: FocusEvent<HTMLInputElement>) => void;
}

/** How far the arrows go: up is later, with Shift by a month. */
const STEPS: Record<string, 1 | -1> = { ArrowUp: 1, ArrowDown: -1 };

/**
 * A date: typed in any of the usual ways ("31 Oct", "31.10.2026"), moved by the arrows, or taken from
 * a small calendar (Alt and the arrow down, or its button).
 */
export function DateField({ value, onChange, as = "text", onBlur, className, ...rest }: Props) {
  const today = useToday();
  const input = useRef<HTMLInputElement>(null);
  const [typed, setTyped] = useState<string | null>(null);
  /** The field below which the calendar is open. */
  const [open, setOpen] = useState<HTMLInputElement | null>(null);
  const kept = readDate(value, today);
  const shown = typed ?? (kept ? shownDate(kept) : value);
  const day = readDate(shown, today);

  const give = (text: string) => {
    const read = readDate(text, today);
    onChange(as === "day" && read ? read : text);
  };
  const put = (date: string) => {
    setTyped(null);
    onChange(as === "day" ? date : dateText(date));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = STEPS[event.key];
    if (!step || rest.readOnly || rest.disabled) return;
    event.preventDefault();
    if (event.altKey) {
      setOpen(step < 0 ? input.current : null);
      return;
    }
    const from = day ?? today;
    // The first arrow in an empty field gives today.
    if (!day) put(today);
    else put(event.shiftKey ? addMonths(from, step) : addDays(from, step));
  };
  return (
    <span className={`relative block ${className ?? ""}`}>
      <input
        {...rest}
        ref={input}
        className="field pr-6"
        autoComplete="off"
        value={shown}
        onChange={(e) => {
          setTyped(e.target.value);
          give(e.target.value);
        }}
        onKeyDown={onKeyDown}
        onBlur={(e) => {
          if (typed !== null && day) put(day);
          setTyped(null);
          onBlur?.(e);
        }}
      />
      {!rest.readOnly && !rest.disabled && (
        <button
          type="button"
          tabIndex={-1}
          aria-label="Calendar"
          title="Calendar (Alt ↓)"
          className="absolute inset-y-0 right-1 flex items-center rounded p-0.5 text-ink-3 hover:text-ink"
          // The field keeps what was typed and the focus comes back to it.
          onMouseDown={(e) => e.preventDefault()}
          onClick={() => setOpen(open ? null : input.current)}
        >
          <CalendarDays size={14} aria-hidden />
        </button>
      )}
      {open && (
        <Below
          of={open}
          close={(back) => {
            setOpen(null);
            if (back) open.focus();
          }}
        >
          <Suspense fallback={<p className="p-4 text-ink-2">Reading</p>}>
            <Calendar
              chosen={day}
              today={today}
              onChoose={(date) => {
                put(date);
                setOpen(null);
                open.focus();
              }}
            />
          </Suspense>
        </Below>
      )}
    </span>
  );
}

/** A small panel below a field, over everything else. Esc, and a click elsewhere, close it. */
function Below({
  of,
  close,
  children,
}: {
  of: HTMLElement;
  close: (back: boolean) => void;
  children: React.ReactNode;
}) {
  const panel = useRef<HTMLDivElement>(null);
  const { left, bottom, top } = of.getBoundingClientRect();
  const isLow = bottom > window.innerHeight - 320;
  useEffect(() => {
    const elsewhere = (event: Event) => {
      const target = event.target as Node;
      if (!panel.current?.contains(target) && !of.parentElement?.contains(target)) close(false);
    };
    document.addEventListener("mousedown", elsewhere);
    window.addEventListener("resize", elsewhere);
    return () => {
      document.removeEventListener("mousedown", elsewhere);
      window.removeEventListener("resize", elsewhere);
    };
  });
  return createPortal(
    <div
      ref={panel}
      role="dialog"
      aria-label="Calendar"
      className="fixed z-50 rounded-lg border border-line bg-panel p-2 shadow-lg"
      style={{
        left: Math.min(left, window.innerWidth - 268),
        ...(isLow ? { bottom: window.innerHeight - top + 4 } : { top: bottom + 4 }),
      }}
      // What is typed here is not for the form around the field.
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key !== "Escape") return;
        e.preventDefault();
        close(true);
      }}
    >
      {children}
    </div>,
    document.body,
  );
}
