"use client";
import Link from "next/link";
import type { Measure } from "@/core/trace";
import type { ControlAccounts } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Figure } from "@/ui/trace/Figure";
import { shownAmount } from "@/ui/writing";

const MEASURES: readonly ((Measure & "opening") | "debit" | "credit" | "closing")[] = [
  "opening",
  "debit",
  "credit",
  "closing",
];

export function ControlTables({ data }: { data: ControlAccounts }) {
  const work = useWork();
  const total = (key: (typeof MEASURES)[number]) => data.accounts.reduce((t, a) => t + a[key], 0n);
  if (data.accounts.length === 0)
    return (
      <Empty title="Nothing has reached these accounts">
        The control accounts of this area fill as its journals are posted.{" "}
        <Link className="link" href={work.link("/ledger/trial-balance")}>
          Trial balance
        </Link>
      </Empty>
    );
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[auto_minmax(0,1fr)] gap-2.5">
      <div className="panel overflow-auto">
        <table className="sheet">
          <thead>
            <tr>
              <th>Account</th>
              <th>Name</th>
              <th className="num">Opening</th>
              <th className="num">Debits</th>
              <th className="num">Credits</th>
              <th className="num">Closing</th>
            </tr>
          </thead>
          <tbody>
            {data.accounts.map((a) => (
              <tr key={a.account}>
                <td>
                  <Link
                    className="link font-semibold"
                    href={work.link(`/ledger/accounts/${a.account}`)}
                  >
                    {a.account}
                  </Link>
                </td>
                <td>{a.name}</td>
                {MEASURES.map((m) => (
                  <td key={m} className="num">
                    <Figure
                      amount={a[m]}
                      currency={data.currency}
                      of={{ kind: "balance", of: "account", code: a.account, measure: m }}
                    />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr>
              <td colSpan={2}>Total</td>
              {MEASURES.map((m) => (
                <td key={m} className="num">
                  {shownAmount(total(m), data.currency)}
                </td>
              ))}
            </tr>
          </tfoot>
        </table>
      </div>
    </div>
  );
}
