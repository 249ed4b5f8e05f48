"use client";
import Link from "next/link";
import type { TrialBalance } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { shownAmount } from "@/ui/writing";

/**
 * The closing balances of every company beside each other. They are in different currencies, so
 * there is no total across.
 */
export function CompaniesBeside({
  companies,
  missing,
}: {
  companies: TrialBalance[];
  missing: string[];
}) {
  const work = useWork();
  const accounts =
    companies[0]?.rows.filter((r) =>
      companies.some((c) => c.rows.find((x) => x.account === r.account)?.closing !== 0n),
    ) ?? [];
  return (
    <div className="panel min-h-0 flex-1 overflow-auto">
      {missing.length > 0 && (
        <p className="border-b border-line px-3 py-2 text-ink-2">
          Without this period: {missing.join(", ")}.
        </p>
      )}
      <table className="sheet">
        <thead>
          <tr>
            <th>Account</th>
            <th>Name</th>
            {companies.map((c) => (
              <th key={c.company} className="num">
                {c.companyName}, {c.currency}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {accounts.map((a) => (
            <tr key={a.account}>
              <td className="font-semibold">{a.account}</td>
              <td>{a.name}</td>
              {companies.map((c) => {
                const row = c.rows.find((r) => r.account === a.account)!;
                return (
                  <td key={c.company} className="num">
                    <Link
                      className="figure"
                      href={work.link(`/ledger/accounts/${a.account}`, { company: c.company })}
                    >
                      {shownAmount(row.closing, c.currency)}
                    </Link>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td colSpan={2}>All accounts</td>
            {companies.map((c) => (
              <td key={c.company} className="num">
                {shownAmount(c.totals.closing, c.currency)}
              </td>
            ))}
          </tr>
        </tfoot>
      </table>
    </div>
  );
}
