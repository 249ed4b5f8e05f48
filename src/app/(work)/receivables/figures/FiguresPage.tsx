"use client";
import Link from "next/link";
import { daysLateText, tenthsText } from "@/core/receivables";
import type { CollectingFigures } from "@/server/receivables";
import { Bars } from "@/ui/charts/Bars";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { shownAmount, shownDate, shownFigures } from "@/ui/writing";

/** How long customers take, who collects with what result, and on whom it all rests. */
export function FiguresPage({ figures }: { figures: CollectingFigures }) {
  const work = useWork();
  const { currency, on, open, months } = figures;
  const last = months.at(-1)!;
  const days = (tenths: bigint | null) =>
    tenths === null ? "–" : shownFigures(tenthsText(tenths));
  const share = (part: bigint) => (open <= 0n ? 0 : Number((part * 1000n) / open) / 10);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Figures of collecting"
      note={`on ${shownDate(on)}`}
      footer={
        <>
          <Fact label={`Receivables ${currency}`}>
            <Link className="figure" href={work.link("/receivables", { on })}>
              {shownAmount(open, currency)}
            </Link>
          </Fact>
          <Fact label="Days sales outstanding">{days(last.dso)}</Fact>
          <Fact label="Counted back">{days(last.countBack)}</Fact>
          <Fact label="Paid this month">
            {last.daysLate === null ? "nothing" : daysLateText(last.daysLate)}
          </Fact>
        </>
      }
    >
      <div className="panel no-print flex h-[132px] shrink-0 px-2 py-1">
        <Bars
          label="Days sales outstanding, counted back, by month"
          head="Month"
          bars={months.map((m) => ({
            name: m.month,
            value: m.countBack === null ? 0 : Number(m.countBack) / 10,
            text: `${days(m.countBack)} days`,
          }))}
        />
      </div>
      <div
        className="grid min-h-0 flex-1 grid-cols-[1.3fr_1fr] gap-2.5 overflow-auto"
        tabIndex={0}
        aria-label="Months, collectors and largest customers"
      >
        <div className="panel self-start">
          <table className="sheet">
            <thead>
              <tr>
                <th>Month</th>
                <th className="num">Sales</th>
                <th className="num">Open</th>
                <th className="num" title="Open, of the sales of three months, times their days">
                  Days outstanding
                </th>
                <th className="num" title="Months taken off what is open, the newest first">
                  Counted back
                </th>
                <th>Paid</th>
              </tr>
            </thead>
            <tbody>
              {months.toReversed().map((m) => (
                <tr key={m.month}>
                  <td>{m.month}</td>
                  <td className="num">{shownAmount(m.sales, currency)}</td>
                  <td className="num">{shownAmount(m.open, currency)}</td>
                  <td className="num">{days(m.dso)}</td>
                  <td className="num">{days(m.countBack)}</td>
                  <td>{m.daysLate === null ? "–" : daysLateText(m.daysLate)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <div className="flex flex-col gap-2.5">
          <div className="panel">
            <table className="sheet">
              <thead>
                <tr>
                  <th>Collector</th>
                  <th className="num">Overdue</th>
                  <th className="num">Settled in 30 days</th>
                  <th>Promises kept</th>
                </tr>
              </thead>
              <tbody>
                {figures.collectors.map((c) => (
                  <tr key={c.collector}>
                    <td>{c.collector || "nobody"}</td>
                    <td className="num">{shownAmount(c.overdue, currency)}</td>
                    <td className="num">{shownAmount(c.collected, currency)}</td>
                    <td>{c.promises === 0 ? "none due" : `${c.kept} of ${c.promises}`}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          <div className="panel">
            <table className="sheet">
              <thead>
                <tr>
                  <th>Largest customers</th>
                  <th className="num">Open</th>
                  <th className="num">Share, %</th>
                </tr>
              </thead>
              <tbody>
                {figures.largest.map((l) => (
                  <tr key={l.code}>
                    <td>
                      <Link
                        className="link"
                        href={work.link(`/receivables/customers/${encodeURIComponent(l.code)}`)}
                      >
                        {l.code} {l.name}
                      </Link>
                    </td>
                    <td className="num">{shownAmount(l.open, currency)}</td>
                    <td className="num">{shownFigures(share(l.open).toFixed(1))}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </div>
      </div>
    </Page>
  );
}
