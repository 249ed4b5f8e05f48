import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { amountText, describeFound } from "@/core/shared";
import { pairBalances } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";

export const metadata = { title: "Between companies" };

/** Each pair with both balances and the difference. A balance opens the account, where its lines are. */
export default async function PairsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const result = await pairBalances(await pageCaller(), { company: place.company, book: place.book, period: place.period });
  if (!result.ok) return <Page strip={<PeriodStrip />} title="Between companies"><Problems messages={result.problems.map(describeFound)} /></Page>;
  const to = (account: string, company: string) => `/ledger/accounts/${account}?${placeQuery({ ...place, company })}`;
  return (
    <Page strip={<PeriodStrip />} title="Between companies" note="what each has standing with the other, in the currency of their transactions; debit positive">
      {result.value.length === 0 ? <div className="panel flex-1"><Empty title="Nothing between companies yet">Journals whose lines name two companies leave balances due from and due to each other here.</Empty></div> : (
        <div className="panel min-h-0 flex-1 overflow-auto">
          <table className="sheet">
            <thead><tr><th>Company</th><th>Partner</th><th>Currency</th><th className="num">Company</th><th className="num">Partner</th><th className="num">Difference</th><th>Agreed</th><th className="num">In the company&apos;s books</th><th className="num">In the partner&apos;s books</th></tr></thead>
            <tbody>
              {result.value.map((b) => (
                <tr key={`${b.pair.first} ${b.pair.second} ${b.currency}`}>
                  <td>{b.first.companyName}</td><td>{b.second.companyName}</td><td>{b.currency}</td>
                  <td className="num"><Link className="figure" href={to(b.first.foreign < 0n ? b.pair.firstDueTo : b.pair.firstDueFrom, b.first.company)}>{amountText(b.first.foreign, b.currency)}</Link></td>
                  <td className="num"><Link className="figure" href={to(b.second.foreign < 0n ? b.pair.secondDueTo : b.pair.secondDueFrom, b.second.company)}>{amountText(b.second.foreign, b.currency)}</Link></td>
                  <td className={`num font-semibold ${b.difference === 0n ? "" : "text-coral"}`}>{amountText(b.difference, b.currency)}</td>
                  <td><Status of={b.difference === 0n ? "holds" : "fails"} quiet /></td>
                  <td className="num text-ink-2">{amountText(b.first.functional, b.first.functionalCurrency)} {b.first.functionalCurrency}</td>
                  <td className="num text-ink-2">{amountText(b.second.functional, b.second.functionalCurrency)} {b.second.functionalCurrency}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}
