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
  return (
    <tfoot>
      {totals.map((line) => (
        <tr key={line.currency}>
          {choosing && <td />}
          {columns.map((c, i) => {
            const sum = c.sum ? line.sums[c.key] : undefined;
            return (
              <td key={c.key} {...cellPlace(c, fitted[i]!)}>
                {sum !== undefined
                  ? (sum === 0n && <Nought />) ||
                    shownAmount(sum, c.functional ? currency : line.currency)
                  : i === 0 && `${name}${totals.length > 1 ? `, ${line.currency}` : ""}`}
              </td>
            );
          })}
        </tr>
      ))}
    </tfoot>
  );
}
