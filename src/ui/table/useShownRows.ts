import { useMemo } from "react";
import {
  columnFilteringFeature,
  createFilteredRowModel,
  createSortedRowModel,
  rowSortingFeature,
  tableFeatures,
  useTable,
  type ColumnDef,
} from "@tanstack/react-table";
import type { Sorting } from "./pages";
import { cellText, compareValues, type TableColumn, type Units } from "./tableColumn";
import type { Filters } from "./useAsked";

const features = tableFeatures({
  rowSortingFeature,
  columnFilteringFeature,
  sortedRowModel: createSortedRowModel(),
  filteredRowModel: createFilteredRowModel(),
});
/** The rows that meet the filters, in the order asked for. */
export function useShownRows<T>(
  rows: readonly T[],
  columns: readonly TableColumn<T>[],
  units: Units<T>,
  sorting: Sorting | null,
  filters: Filters,
): T[] {
  const definitions = useMemo(
    () =>
      columns.map((c): ColumnDef<typeof features, { row: T }> => ({
        id: c.key,
        accessorFn: (r) => c.value(r.row),
        header: c.header,
        sortFn: (a, b, id) => compareValues(a.getValue(id), b.getValue(id)),
        filterFn: (r, _id, wanted) =>
          cellText(units, c, r.original.row).toLowerCase().includes(String(wanted).toLowerCase()),
      })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the units only format
    [columns, units.currency],
  );
  const data = useMemo(() => rows.map((row) => ({ row })), [rows]);
  const table = useTable({
    features,
    columns: definitions,
    data,
    state: {
      sorting: sorting ? [{ id: sorting.key, desc: sorting.down }] : [],
      columnFilters: Object.entries(filters).map(([id, value]) => ({ id, value })),
    },
  });
  return table.getRowModel().rows.map((r) => r.original.row);
}
