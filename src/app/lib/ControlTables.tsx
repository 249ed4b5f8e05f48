"use client";
import Link from "next/link";
import { amountText, dateText } from "@/core/shared";
import type { Measure } from "@/core/trace";
import type { ControlAccounts } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Figure } from "@/ui/trace/Figure";

const MEASURES: readonly (Measure & "opening" | "debit" | "credit" | "closing")[] = ["opening", "debit", "credit", "closing"];

export function ControlTables({ data, area }: { data: ControlAccounts; area: string }) {
  const work = useWork();
  const total = (key: (typeof MEASURES)[number]) => data.accounts.reduce((t, a) => t + a[key], 0n);
  const named = data.partners.reduce((t, p) => t + p.balance, 0n);
  const partnered = area === "payables" || area === "receivables";
  if (data.accounts.length === 0) return <Empty title="Nothing has reached these accounts">The control accounts of this area fill as its journals are posted. <Link className="link" href={work.link("/ledger/trial-balance")}>Trial balance</Link></Empty>;
  return (
    <div className="grid min-h-0 flex-1 grid-rows-[auto_minmax(0,1fr)] gap-2.5">
      <div className="panel overflow-auto">
        <table className="sheet">
          <thead><tr><th>Account</th><th>Name</th><th className="num">Opening</th><th className="num">Debits</th><th className="num">Credits</th><th className="num">Closing</th></tr></thead>
          <tbody>
            {data.accounts.map((a) => (
              <tr key={a.account}>
                <td><Link className="link font-semibold" href={work.link(`/ledger/accounts/${a.account}`)}>{a.account}</Link></td>
                <td>{a.name}</td>
                {MEASURES.map((m) => <td key={m} className="num"><Figure amount={a[m]} currency={data.currency} of={{ kind: "balance", of: "account", code: a.account, measure: m }} /></td>)}
              </tr>
            ))}
          </tbody>
          <tfoot><tr><td colSpan={2}>Together</td>{MEASURES.map((m) => <td key={m} className="num">{amountText(total(m), data.currency)}</td>)}</tr></tfoot>
        </table>
      </div>
      {partnered && (
        <div className="panel min-h-0 overflow-auto" tabIndex={0} role="region" aria-label="By partner">
          <table className="sheet">
            <thead><tr><th>{area === "payables" ? "Supplier" : "Customer"}</th><th className="num">Lines</th><th>Last moved</th><th className="num">Balance</th></tr></thead>
            <tbody>
              {data.partners.map((p) => (
                <tr key={p.partner}><td>{p.partner}</td><td className="num">{p.lines}</td><td>{dateText(p.last)}</td><td className="num">{amountText(p.balance, data.currency)}</td></tr>
              ))}
            </tbody>
            <tfoot>
              <tr>
                <td colSpan={3}>{named === total("closing") ? "Equal to the control accounts" : `Control accounts hold ${amountText(total("closing"), data.currency)}; lines without a partner make the difference`}</td>
                <td className="num">{amountText(named, data.currency)}</td>
              </tr>
            </tfoot>
          </table>
        </div>
      )}
    </div>
  );
}
