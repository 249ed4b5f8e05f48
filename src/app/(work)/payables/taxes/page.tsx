import { amountText, describeFound } from "@/core/shared";
import { taxSummary } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";

export const metadata = { title: "Taxes on purchases" };

/** What was recorded by tax code in the periods of the strip, by the day of the invoice. */
export default async function TaxSummaryPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const periods = (await frameData()).companies.find((c) => c.code === place.company)?.periods ?? [];
  const [from, to] = [periods.find((p) => p.key === place.from)?.start ?? "", periods.find((p) => p.key === place.period)?.end ?? ""];
  const result = await taxSummary(await pageCaller(), { company: place.company, from, to });
  if (!result.ok) return <Page strip={<PeriodStrip range />} title="Taxes on purchases"><Problems messages={result.problems.map(describeFound)} /></Page>;
  const { currency, rows } = result.value;
  const sum = (pick: (r: (typeof rows)[number]) => bigint) => amountText(rows.reduce((t, r) => t + pick(r), 0n), currency);
  return (
    <Page strip={<PeriodStrip range />} title="Taxes on purchases" note={`by code, in ${currency}; each record keeps its base, its rate and the day by which that was chosen`}>
      <div className="panel min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? <Empty title="No tax was recorded">Invoices of suppliers record theirs when they are posted.</Empty> : (
          <table className="sheet">
            <thead><tr><th className="w-28">Return line</th><th className="w-24">Code</th><th>Name</th><th className="num w-24">Rate %</th><th className="num w-28">Documents</th><th className="num w-40">Base</th><th className="num w-40">Tax</th></tr></thead>
            <tbody>{rows.map((r) => <tr key={`${r.code} ${r.percent} ${r.returnLine}`}><td>{r.returnLine}</td><td className="font-semibold">{r.code}</td><td>{r.name}</td><td className="num">{r.percent}</td><td className="num">{r.documents}</td><td className="num">{amountText(r.base, currency)}</td><td className="num">{amountText(r.tax, currency)}</td></tr>)}</tbody>
            <tfoot><tr><td colSpan={5}>Together</td><td className="num">{sum((r) => r.base)}</td><td className="num">{sum((r) => r.tax)}</td></tr></tfoot>
          </table>
        )}
      </div>
    </Page>
  );
}
