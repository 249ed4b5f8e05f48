"use client";
import type { LoadBalance } from "@/core/ledger";
import { shownAmount } from "@/ui/writing";

/**
 * Where the load balances as a whole and not in its parts: by company, and by the values of
 * dimensions that have to balance. Nothing is shown where every part balances.
 */
export function Balances({ balances }: { balances: readonly LoadBalance[] }) {
  const open = balances.filter((b) => b.debits !== b.credits);
  if (open.length === 0) return null;
  return (
    <div
      className="panel max-h-36 shrink-0 overflow-auto"
      tabIndex={0}
      role="region"
      aria-label="What does not balance"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th>Does not balance by itself</th>
            <th className="num w-36">Debits</th>
            <th className="num w-36">Credits</th>
            <th className="num w-44">Difference</th>
          </tr>
        </thead>
        <tbody>
          {open.map((b) => (
            <tr key={`${b.company} ${b.currency} ${b.value}`}>
              <td>
                {b.company}
                {b.value && `, ${b.value}`}
              </td>
              <td className="num">{shownAmount(b.debits, b.currency)}</td>
              <td className="num">{shownAmount(b.credits, b.currency)}</td>
              <td className="num text-coral">
                {shownAmount(
                  b.debits > b.credits ? b.debits - b.credits : b.credits - b.debits,
                  b.currency,
                )}{" "}
                {b.currency} more on {b.debits > b.credits ? "debit" : "credit"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
