"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, type ReactNode } from "react";
import { amountText, dateText, minor } from "@/core/shared";
import type { AccountLine, AccountView } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/trace/Figure";
import { moveBetweenFigures } from "../../../statements/[code]/StatementTable";
import { keepPreference } from "@/app/lib/preferences";

/** The year of an account: what each period opened with, moved by, and closed with. */
export function AccountMonths({ view }: { view: AccountView }) {
  const work = useWork();
  const rows = [["Opening", "opening"], ["Debits", "debit"], ["Credits", "credit"], ["Closing", "closing"]] as const;
  const used = view.periods.filter((p) => !p.period.endsWith("-13") || p.debit !== 0n || p.credit !== 0n);
  return (
    <div className="panel shrink-0 overflow-x-auto" onKeyDown={moveBetweenFigures} tabIndex={0} role="region" aria-label="Periods of the year">
      <table className="sheet">
        <thead>
          <tr>
            <th aria-label="Measure" />
            {used.map((p) => (
              <th key={p.period} className={`num ${p.period >= work.place.from && p.period <= work.place.period ? "border-b-[3px]! border-b-yellow! text-ink!" : ""}`}>{p.name}</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(([word, key]) => (
            <tr key={key} className={key === "closing" ? "font-semibold" : ""}>
              <td className="sticky left-0 z-10 bg-panel text-ink-2">{word}</td>
              {used.map((p) => <td key={p.period} className="num text-[12.5px]"><Figure amount={p[key]} currency={view.currency} of={{ kind: "month", account: view.account.number, period: p.period, measure: key }} style={{ scale: 1 }} /></td>)}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

export function AccountLines({ view, kept }: { view: AccountView; kept: string | undefined }) {
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<AccountLine>[] => [
      { key: "date", header: "Date", width: 96, value: (l) => l.date, cell: (l) => dateText(l.date) },
      { key: "number", header: "Journal", width: 118, value: (l) => l.number, cell: (l) => <span className={`font-semibold ${l.reversed ? "line-through decoration-ink-3" : ""}`}>{l.number}</span> },
      { key: "type", header: "Type", width: 110, value: (l) => l.type },
      { key: "description", header: "Description", value: (l) => l.description },
      ...work.dimensions.map((d): TableColumn<AccountLine> => ({ key: d.code, header: d.name, width: 104, value: (l) => l.dimensions[d.code] ?? "" })),
      ...(view.lines.some((l) => l.currency !== view.currency) ? [{ key: "foreign", header: "In currency", width: 150, align: "right" as const, value: (l: AccountLine) => (l.currency === view.currency ? "" : amountText(l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount), l.currency)), cell: (l: AccountLine) => (l.currency === view.currency ? "" : <>{amountText(l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount), l.currency)} <span className="text-xs text-ink-3">{l.currency}</span></>) }] : []),
      { key: "debit", header: "Debit", width: 122, align: "right", sum: true, value: (l) => (l.side === "debit" ? l.amount : 0n), cell: (l) => (l.side === "debit" ? amountText(l.amount, view.currency) : "") },
      { key: "credit", header: "Credit", width: 122, align: "right", sum: true, value: (l) => (l.side === "credit" ? l.amount : 0n), cell: (l) => (l.side === "credit" ? amountText(l.amount, view.currency) : "") },
      { key: "balance", header: "Balance", width: 130, align: "right", value: (l) => l.balance },
    ],
    [work.dimensions, view.currency, view.lines],
  );
  return (
    <DataTable
      name="account-lines" rows={view.lines} columns={columns} rowKey={(l) => `${l.journalId}-${l.lineNo}`} currency={view.currency} onOpen={(l) => router.push(work.link(`/ledger/journals/${l.journalId}`))} kept={kept} keep={(v) => void keepPreference("table.account-lines", v)}
      empty={<Empty title="No lines in these periods">Choose another period in the strip, or a range with Shift.</Empty>}
      extra={view.lineCount > view.lines.length ? <span className="text-coral">The first {view.lines.length.toLocaleString("en")} of {view.lineCount.toLocaleString("en")} lines; choose fewer periods.</span> : null}
    />
  );
}

export function AccountFooter({ view }: { view: AccountView }) {
  const sum = (side: string) => view.lines.reduce((t, l) => (l.side === side ? t + l.amount : t), 0n);
  return (
    <>
      <Fact label="Opening">{amountText(view.opening, view.currency)}</Fact>
      <Fact label="Debits">{amountText(sum("debit"), view.currency)}</Fact>
      <Fact label="Credits">{amountText(sum("credit"), view.currency)}</Fact>
      <Fact label="Closing">{amountText(view.closing, view.currency)}</Fact>
      <span className="ml-auto text-ink-3">{view.lineCount.toLocaleString("en")} {view.lineCount === 1 ? "line" : "lines"} · {view.account.heading} · {view.account.type}</span>
    </>
  );
}

/** The lines of the account as a T: debits at the left, credits at the right, what it opened and closed with. */
export function TAccount({ view }: { view: AccountView }) {
  const work = useWork();
  const sides = { debit: view.lines.filter((l) => l.side === "debit"), credit: view.lines.filter((l) => l.side === "credit") };
  const text = (n: bigint) => amountText(n, view.currency);
  const row = (left: ReactNode, amount: string, strong = false) => <div className={`flex gap-3 border-b border-line-2 px-3 leading-7 ${strong ? "font-semibold" : ""}`}><span className="min-w-0 flex-1 truncate">{left}</span><span>{amount}</span></div>;
  const sum = (side: "debit" | "credit") => sides[side].reduce((t, l) => t + l.amount, 0n);
  const half = (side: "debit" | "credit") => {
    const opening = side === "debit" ? view.opening > 0n : view.opening < 0n;
    return (
      <div className="min-w-0 flex-1">
        <div className="sticky top-0 border-b-2 border-ink bg-shade px-3 py-1 text-xs font-semibold text-ink-2">{side === "debit" ? "Debit" : "Credit"}</div>
        {opening && row("Opening", text(side === "debit" ? view.opening : minor(-view.opening)), true)}
        {sides[side].map((l) => <div key={`${l.journalId}-${l.lineNo}`}>{row(<><Link className="link mr-2 font-semibold" href={work.link(`/ledger/journals/${l.journalId}`)}>{l.number}</Link>{l.description}</>, text(l.amount))}</div>)}
        {row(side === "debit" ? "Debits" : "Credits", text(sum(side)), true)}
      </div>
    );
  };
  return (
    <div className="panel flex min-h-0 flex-1 flex-col overflow-hidden">
      <div className="flex min-h-0 flex-1 overflow-auto" tabIndex={0} role="region" aria-label="T-account">{half("debit")}<div className="w-0.5 shrink-0 bg-ink" />{half("credit")}</div>
      <div className="border-t border-line px-3 py-1.5 text-right font-semibold">Closing {text(view.closing < 0n ? minor(-view.closing) : view.closing)} {view.closing < 0n ? "credit" : view.closing > 0n ? "debit" : ""}</div>
    </div>
  );
}
