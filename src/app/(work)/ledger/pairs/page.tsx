import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound } from "@/core/shared";
import { pairBalances } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { Figure } from "@/ui/trace/Figure";
import { TracePanel } from "@/ui/trace/TracePanel";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { openTrace } from "@/app/lib/trace";
import { shownAmount } from "@/ui/writing";

export const metadata = { title: "Intercompany balances" };

/**
 * Each pair with both balances and the difference. A balance opens into the journals that made it.
 */
export default async function PairsPage({ searchParams }: { searchParams: SearchParams }) {
  const { address, place } = await readAddress(searchParams);
  const result = await pairBalances(await pageCaller(), {
    company: place.company,
    book: place.book,
    period: place.period,
  });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title="Intercompany balances">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const to = (accounts: string[], company: string) =>
    `/ledger/accounts/${encodeURIComponent(accounts.join(","))}?${placeQuery({ ...place, company })}`;
  const open = await openTrace(address, place);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Intercompany balances"
      note="what each has standing with the other, in the currency of their transactions; debit positive"
      panel={<TracePanel {...open} />}
    >
      {result.value.length === 0 ? (
        <div className="panel flex-1">
          <Empty title="Nothing between companies yet">
            Journals whose lines name two companies leave balances due from and due to each other
            here.
          </Empty>
        </div>
      ) : (
        <div className="panel min-h-0 flex-1 overflow-auto">
          <table className="sheet">
            <thead>
              <tr>
                <th>Company</th>
                <th>Partner</th>
                <th>Currency</th>
                <th className="num">Company</th>
                <th className="num">Partner</th>
                <th className="num">Difference</th>
                <th>Agreed</th>
                <th className="num">In the company&apos;s books</th>
                <th className="num">In the partner&apos;s books</th>
              </tr>
            </thead>
            <tbody>
              {result.value.map((b) => (
                <tr key={`${b.pair.first} ${b.pair.second} ${b.currency}`}>
                  <td>{b.first.companyName}</td>
                  <td>{b.second.companyName}</td>
                  <td>{b.currency}</td>
                  <td className="num">
                    <Figure
                      amount={b.first.foreign}
                      currency={b.currency}
                      of={{
                        kind: "between",
                        company: b.first.company,
                        other: b.second.company,
                        currency: b.currency,
                      }}
                    />
                  </td>
                  <td className="num">
                    <Figure
                      amount={b.second.foreign}
                      currency={b.currency}
                      of={{
                        kind: "between",
                        company: b.second.company,
                        other: b.first.company,
                        currency: b.currency,
                      }}
                    />
                  </td>
                  <td className={`num font-semibold ${b.difference === 0n ? "" : "text-coral"}`}>
                    {shownAmount(b.difference, b.currency)}
                  </td>
                  <td>
                    <Status of={b.difference === 0n ? "agrees" : "differs"} quiet />
                  </td>
                  <td className="num text-ink-2">
                    <Link
                      className="link"
                      href={to([b.pair.firstDueFrom, b.pair.firstDueTo], b.first.company)}
                    >
                      {shownAmount(b.first.functional, b.first.functionalCurrency)}
                    </Link>{" "}
                    {b.first.functionalCurrency}
                  </td>
                  <td className="num text-ink-2">
                    <Link
                      className="link"
                      href={to([b.pair.secondDueFrom, b.pair.secondDueTo], b.second.company)}
                    >
                      {shownAmount(b.second.functional, b.second.functionalCurrency)}
                    </Link>{" "}
                    {b.second.functionalCurrency}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}
