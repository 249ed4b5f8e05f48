import type { CalendarDate } from "@/core/shared";

const DAY = 24 * 3_600_000;
/** By then the scenario has done all that it does on a day. */
const SCENARIO_ENDS = 18;

/**
 * When something is done in the demo: on its working day, after all that its scenario has done on it.
 * A day of the machine goes by in the evening of the demo's: within it what comes later is noted later.
 */
export const demoClock = (day: CalendarDate, instant: Date): Date =>
  new Date(
    Date.parse(`${day}T${SCENARIO_ENDS}:00:00Z`) +
      Math.floor(((instant.getTime() % DAY) * (24 - SCENARIO_ENDS)) / 24),
  );
