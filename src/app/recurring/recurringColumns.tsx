import type { CalendarDate } from "@/core/shared";
import { Status } from "@/ui/Status";
import type { TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";

/** What a list shows of anything that comes again. */
interface ComesAgain {
  name: string;
  status: string;
  rhythmText: string;
  last: CalendarDate | null;
  due: readonly CalendarDate[];
}

export const nameColumn = <R extends ComesAgain>(): TableColumn<R> => ({
  key: "name",
  header: "Name",
  value: (r) => r.name,
  cell: (r) => <b className="font-semibold">{r.name}</b>,
});

export const statusColumn = <R extends ComesAgain>(): TableColumn<R> => ({
  key: "status",
  header: "Status",
  width: 90,
  value: (r) => r.status,
  cell: (r) => <Status of={r.status} quiet />,
});

export const rhythmColumn = <R extends ComesAgain>(): TableColumn<R> => ({
  key: "rhythm",
  header: "Frequency",
  width: 130,
  value: (r) => r.rhythmText,
});

/** The last date of which something was made. */
export const lastColumn = <R extends ComesAgain>(header: string): TableColumn<R> => ({
  key: "last",
  header,
  width: 104,
  value: (r) => r.last ?? "",
  cell: (r) => (r.last ? shownDate(r.last) : ""),
});

/** The first date that is due, and how many more. */
export const dueColumn = <R extends ComesAgain>(): TableColumn<R> => ({
  key: "due",
  header: "Next date",
  width: 180,
  value: (r) => r.due.length,
  cell: ({ due }) =>
    due.length === 0
      ? ""
      : due.length === 1
        ? shownDate(due[0]!)
        : `${shownDate(due[0]!)} and ${due.length - 1} more`,
});
