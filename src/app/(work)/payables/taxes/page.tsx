import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { amountText, describeFound } from "@/core/shared";
import { taxSummary } from "@/server/payables";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";

export const metadata = { title: "Taxes on purchases" };

/** What was recorded by tax code in the periods of the strip, by the day of the invoice. */
export default async function TaxSummaryPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const periods =
    (await frameData()).companies.find((c) => c.code === place.company)?.periods ?? [];
  const [from, to] = [
    periods.find((p) => p.key === place.from)?.start ?? "",
    periods.find((p) => p.key === place.period)?.end ?? "",
  ];
  const result = await taxSummary(await pageCaller(), { company: place.company, from, to });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Taxes on purchases">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { currency, rows, accounts } = result.value;
  const money = (amount: bigint) => ({ amount, currency });
  const sum = (pick: (r: (typeof rows)[number]) => bigint) =>
    amountText(
      rows.reduce((t, r) => t + pick(r), 0n),
      currency,
    );
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Taxes on purchases"
      note={`by code, in ${currency}; each record keeps its base, its rate and the day by which that was chosen`}
      actions={
        <ExportMenu
          name="taxes"
          headers={["Return line", "Code", "Name", "Rate %", "Documents", "Base", "Tax"]}
          rows={rows.map((r) => [
            r.returnLine,
            r.code,
            r.name,
            r.percent,
            r.documents,
            money(r.base),
            money(r.tax),
          ])}
        />
      }
      footer={
        accounts.length > 0 && (
          <span className="ml-auto flex items-center gap-3 text-ink-2">
            <Status of={accounts.every((a) => a.agrees) ? "holds" : "fails"} />
            {accounts.every((a) => a.agrees)
              ? "What journals of documents post on the accounts of the taxes is what the records say."
              : "An account differs from what the records say. Run verify before anything else."}
          </span>
        )
      }
    >
      <div className="panel min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? (
          <Empty title="No tax was recorded">
            Invoices of suppliers record theirs when they are posted.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-28">Return line</th>
                <th className="w-24">Code</th>
                <th>Name</th>
                <th className="num w-24">Rate %</th>
                <th className="num w-28">Documents</th>
                <th className="num w-40">Base</th>
                <th className="num w-40">Tax</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((r) => (
                <tr key={`${r.code} ${r.percent} ${r.returnLine}`}>
                  <td>{r.returnLine}</td>
                  <td className="font-semibold">{r.code}</td>
                  <td>{r.name}</td>
                  <td className="num">{r.percent}</td>
                  <td className="num">{r.documents}</td>
                  <td className="num">{amountText(r.base, currency)}</td>
                  <td className="num">{amountText(r.tax, currency)}</td>
                </tr>
              ))}
            </tbody>
            <tfoot>
              <tr>
                <td colSpan={5}>Together</td>
                <td className="num">{sum((r) => r.base)}</td>
                <td className="num">{sum((r) => r.tax)}</td>
              </tr>
            </tfoot>
          </table>
        )}
        {accounts.length > 0 && (
          <>
            <h2 className="px-3 pt-6 pb-2">Against the accounts</h2>
            <table className="sheet">
              <thead>
                <tr>
                  <th>Account</th>
                  <th className="num w-40">Recorded, by tax day</th>
                  <th className="num w-44">Booked in other periods</th>
                  <th className="num w-44">Posted without a record</th>
                  <th className="num w-32">Rounding</th>
                  <th className="num w-40">Movement</th>
                  <th className="w-28">Records</th>
                </tr>
              </thead>
              <tbody>
                {accounts.map((a) => (
                  <tr key={a.account}>
                    <td>
                      <Link
                        className="link mr-2 font-semibold"
                        href={`/ledger/accounts/${a.account}?${placeQuery(place)}`}
                      >
                        {a.account}
                      </Link>
                      {a.name}
                    </td>
                    <td className="num">{amountText(a.recorded, currency)}</td>
                    <td className="num">{amountText(a.otherDays, currency)}</td>
                    <td className="num">{amountText(a.unrecorded, currency)}</td>
                    <td className="num">
                      {amountText(a.movement - a.recorded - a.otherDays - a.unrecorded, currency)}
                    </td>
                    <td className="num font-semibold">{amountText(a.movement, currency)}</td>
                    <td>
                      <Status of={a.agrees ? "holds" : "fails"} />
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </>
        )}
      </div>
    </Page>
  );
}
