import type { Right } from "@/core/access";
import type { CalendarDate, Rhythm } from "@/core/shared";
import type { KeptVersion } from "../documents";

/** A kind of document that comes again: a journal, a supplier's invoice, an agreement with a customer. */
export interface RecurringKind<C> {
  /** Its kind in the register, and the kind of run that makes its documents. */
  id: "recurring" | "recurring-invoice" | "agreement";
  noun: string;
  plural: string;
  prepare: Right;
  /** What a date comes to: a name for each document that it makes, "" where there is only one. */
  partsOf(content: C): readonly string[];
}

/** A document that comes again, as it is kept. */
export interface Recurring<C> extends KeptVersion {
  id: number;
  name: string;
  status: "active" | "ended";
  currency: string;
  content: C;
  rhythm: Rhythm;
  /** Dates that are passed over, with the reason. */
  skipped: Readonly<Record<string, string>>;
  /** Who set it up. */
  by: string;
  /** Keys that runs have taken, posted or in a preview. */
  taken: ReadonlySet<string>;
  /** The last date of which something was posted. */
  last: CalendarDate | null;
}

/** The item of a run that a date of it becomes. */
export const recurringKey = (
  kind: Pick<RecurringKind<never>, "id">,
  id: number,
  date: CalendarDate,
  part = "",
): string => [kind.id, id, date, ...(part === "" ? [] : [part])].join("|");
