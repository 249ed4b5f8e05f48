import { shownDate } from "../writing";
import { Status } from "../Status";
import type { TableColumn } from "./tableColumn";

interface Numbered {
  number: string | null;
}
interface Standing {
  status: string;
}
interface Dated {
  date: string | null;
}

/** The number of a document; what has none yet gets it when it is posted. */
export const numberColumn = <T extends Numbered>(): TableColumn<T> => ({
  key: "number",
  header: "Number",
  width: 130,
  value: (d) => d.number ?? "",
  cell: (d) =>
    d.number ? (
      <b className="font-semibold">{d.number}</b>
    ) : (
      <span className="text-ink-3">when posted</span>
    ),
});

export const statusColumn = <T extends Standing>(width = 104): TableColumn<T> => ({
  key: "status",
  header: "Status",
  width,
  value: (d) => d.status,
  cell: (d) => <Status of={d.status} quiet />,
});

export const dateColumn = <T extends Dated>(): TableColumn<T> => ({
  key: "date",
  header: "Date",
  width: 100,
  value: (d) => d.date ?? "",
  cell: (d) => (d.date ? shownDate(d.date) : ""),
});
