import { Nought } from "../Amount";
import { cellPlace, type Fitted } from "./fitColumns";
import type { TableColumn } from "./tableColumn";
import type { Totals } from "./totals";
import { shownAmount } from "../writing";

/** The totals of a table, a line for each currency. */
export function FootRows<T>({
  columns,
  fitted,
  totals,
  name,
  currency,
  choosing,
}: {
  columns: readonly TableColumn<T>[];
  fitted: readonly Fitted[];
  totals: readonly Totals[];
  name: string;
  /** Of the table: of its functional columns. */
  currency: string;
  choosing: boolean;
}) {
  // Its name lies over the columns before the first sum: they are empty, and often narrow.
  const first = columns.findIndex((c, i) => c.sum || fitted[i]!.pinned !== undefined);
  const before = first < 0 ? columns.length : first;
  return (
    <tfoot>
      {totals.map((line) => (
        <tr key={line.currency}>
          {choosing && <td />}
          {before > 0 && (
            <td colSpan={before}>
              {name}
              {totals.length > 1 && `, ${line.currency}`}
            </td>
          )}
          {columns.slice(before).map((c, i) => {
            const sum = c.sum ? line.sums[c.key] : undefined;
            return (
              <td key={c.key} {...cellPlace(c, fitted[before + i]!)}>
                {sum !== undefined &&
                  ((sum === 0n && <Nought />) ||
                    shownAmount(sum, c.functional ? currency : line.currency))}
              </td>
            );
          })}
        </tr>
      ))}
    </tfoot>
  );
}
