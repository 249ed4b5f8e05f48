"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import { amountText, dateText } from "@/core/shared";
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
      { key: "debit", header: "Debit", width: 122, align: "right", sum: true, value: (l) => (l.side === "debit" ? l.amount : 0n), cell: (l) => (l.side === "debit" ? amountText(l.amount, view.currency) : "") },
      { key: "credit", header: "Credit", width: 122, align: "right", sum: true, value: (l) => (l.side === "credit" ? l.amount : 0n), cell: (l) => (l.side === "credit" ? amountText(l.amount, view.currency) : "") },
      { key: "balance", header: "Balance", width: 130, align: "right", value: (l) => l.balance },
    ],
    [work.dimensions, view.currency],
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
