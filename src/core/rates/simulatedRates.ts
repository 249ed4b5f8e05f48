import { addDays, type CalendarDate } from "../shared";
import type { Rate } from "./types";

/** Roughly where each currency stands against one euro. Made up, like everything here. */
const LEVELS: Readonly<Record<string, number>> = {
  USD: 1.09,
  GBP: 0.86,
  NOK: 11.6,
  ISK: 149,
  JPY: 163,
  CHF: 0.95,
  SEK: 11.3,
  DKK: 7.46,
  KWD: 0.334,
  PLN: 4.3,
  CAD: 1.5,
};

/**
 * Stands in for a rate service: a spot rate for each weekday, the average and the closing rate of
 * each month that ends in the stretch.
 * The same day always gives the same rate. Rates have six significant figures, as services publish
 * them.
 */
export function simulatedRates(
  base: string,
  quotes: readonly string[],
  from: CalendarDate,
  to: CalendarDate,
): Rate[] {
  const found: Rate[] = [];
  for (const quote of quotes) {
    const level = LEVELS[quote] ?? 1;
    let month: number[] = [];
    for (let day = from; day <= to; day = addDays(day, 1)) {
      const value = spotOn(quote, level, day);
      const weekday = new Date(`${day}T00:00:00Z`).getUTCDay();
      if (weekday !== 0 && weekday !== 6) {
        found.push({ kind: "spot", base, quote, date: day, rate: figures(value) });
        month.push(value);
      }
      if (addDays(day, 1).slice(8) === "01") {
        if (month.length > 0)
          found.push(
            {
              kind: "average",
              base,
              quote,
              date: day,
              rate: figures(month.reduce((a, b) => a + b, 0) / month.length),
            },
            { kind: "closing", base, quote, date: day, rate: figures(month.at(-1)!) },
          );
        month = [];
      }
    }
  }
  return found;
}

const figures = (value: number): string => String(Number(value.toPrecision(6)));

/** Slow waves with a small daily step, of a phase that is the currency's own. */
function spotOn(quote: string, level: number, day: CalendarDate): number {
  const n = Date.parse(`${day}T00:00:00Z`) / 86_400_000;
  const phase = [...quote].reduce((a, c) => a * 31 + c.charCodeAt(0), 7) % 628;
  const step = ((Math.imul(n ^ phase, 0x9e3779b1) >>> 8) % 1000) / 1000 - 0.5;
  return (
    level *
    (1 + 0.03 * Math.sin(n / 90 + phase / 100) + 0.012 * Math.sin(n / 17 + phase) + 0.004 * step)
  );
}
