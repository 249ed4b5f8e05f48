import { addDays, dateText, type CalendarDate } from "../shared";

/**
 * How many days after the due date a partner's items were settled: the first quartile, the median and
 * the third quartile of those of the last year; negative where they were settled before.
 */
export interface PayingHabit {
  settled: number;
  early: number;
  usual: number;
  late: number;
}

/** From so many settled items on a partner's habit is known. */
const KNOWN_FROM = 3;
/** What counts where nothing is known of a partner: paid when due, or up to two weeks late. */
const UNKNOWN: PayingHabit = { settled: 0, early: 0, usual: 0, late: 14 };
/** When what is later than its partner ever was is expected: within a week, or within four. */
const [SOON, AT_LAST] = [7, 28];

export interface ExpectedDays {
  early: CalendarDate;
  usual: CalendarDate;
  late: CalendarDate;
  /** Why on these days, in a sentence. */
  why: string;
}

/**
 * When money that is due on a day can be expected to come in, by how late that partner usually pays.
 * Days that lie behind become the next day: nothing is expected in the past.
 */
export function expectedDays(
  due: CalendarDate,
  known: PayingHabit | undefined,
  today: CalendarDate,
): ExpectedDays {
  const isKnown = known !== undefined && known.settled >= KNOWN_FROM;
  const habit = isKnown ? known : UNKNOWN;
  const next = addDays(today, 1);
  const at = (days: number): CalendarDate => {
    const day = addDays(due, days);
    return day > next ? day : next;
  };
  const how = isKnown
    ? `the last ${habit.settled} items were settled ${words(habit.usual)}`
    : "too few settled items to know a habit; when it is due";
  if (addDays(due, habit.usual) < next && due < today)
    return {
      early: next,
      usual: addDays(today, SOON),
      late: addDays(today, AT_LAST),
      why: `Due ${dateText(due)} and later than usual (${how}): within a week`,
    };
  return {
    early: at(habit.early),
    usual: at(habit.usual),
    late: at(habit.late),
    why: `Due ${dateText(due)}; ${how}`,
  };
}

const words = (days: number): string => {
  if (days === 0) return "on the day they were due";
  const size = Math.abs(days);
  return `${size} ${size === 1 ? "day" : "days"} ${days > 0 ? "late" : "early"}`;
};
