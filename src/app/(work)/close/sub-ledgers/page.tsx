import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound } from "@/core/shared";
import { reconcileSubLedgers } from "@/server/subLedgers";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { AsKnown } from "@/ui/AsKnown";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { asKnownNote, frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { shownAmount, shownDate } from "@/ui/writing";

export const metadata = { title: "Sub-ledgers" };

const TITLE = "Sub-ledgers and control accounts";

/** Each list beside its control accounts at the end of the period; debit positive throughout. */
export default async function SubLedgersPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const company = (await frameData()).companies.find((c) => c.code === place.company);
  const on = company?.periods.find((p) => p.key === place.period)?.end ?? "";
  const result = await reconcileSubLedgers(await pageCaller(), {
    company: place.company,
    on,
    ...(place.asKnown ? { asKnown: place.asKnown } : {}),
  });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip />} title={TITLE}>
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { currency, rows, differences } = result.value;
  const apart = rows.filter((r) => r.held !== r.listed).length;
  const money = (amount: bigint) => shownAmount(amount, currency);
  return (
    <Page
      strip={<PeriodStrip />}
      title={TITLE}
      status={<Status of={apart === 0 ? "agrees" : "differs"} />}
      note={`on ${shownDate(on)}, in ${currency}; debit balances are positive${place.asKnown ? asKnownNote(place.asKnown) : ""}`}
      actions={
        <>
          <AsKnown />
          <ExportMenu
            name="sub-ledgers"
            headers={["Sub-ledger", "Control accounts", "List", "Accounts", "Difference"]}
            rows={rows.map((r) => [
              r.book ? `${r.list}, ${r.book}` : r.list,
              r.accounts.join(" "),
              { amount: r.listed, currency },
              { amount: r.held, currency },
              { amount: r.held - r.listed, currency },
            ])}
          />
        </>
      }
    >
      <div className="panel overflow-auto" tabIndex={0} role="region" aria-label="Sub-ledgers">
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-28">Status</th>
              <th>Sub-ledger</th>
              <th className="w-32">Control account</th>
              <th className="num w-44">List</th>
              <th className="num w-44">Account</th>
              <th className="num w-40">Difference</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((r) => (
              <tr key={r.control + r.accounts.join() + (r.book ?? "")}>
                <td>
                  <Status of={r.held === r.listed ? "agrees" : "differs"} />
                </td>
                <td>
                  <Link href={`${r.page}?${placeQuery(place)}`}>{r.list}</Link>{" "}
                  <span className="text-ink-2">{r.lists}</span>
                  {r.book && <span className="text-ink-2">, {r.book}</span>}
                </td>
                <td>
                  {r.accounts.map((a) => (
                    <Link
                      key={a}
                      className="mr-2"
                      href={`/ledger/accounts/${a}?${placeQuery(place)}`}
                    >
                      {a}
                    </Link>
                  ))}
                </td>
                <td className="num">{money(r.listed)}</td>
                <td className="num">{money(r.held)}</td>
                <td className="num">{r.held === r.listed ? "–" : money(r.held - r.listed)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {differences.length > 0 && (
        <div className="panel overflow-auto" tabIndex={0} role="region" aria-label="Differences">
          <table className="sheet">
            <thead>
              <tr>
                <th>Account</th>
                <th>Partner</th>
                <th>Currency</th>
                <th className="num">List</th>
                <th className="num">Account</th>
              </tr>
            </thead>
            <tbody>
              {differences.map((d) => (
                <tr key={[d.account, d.partner, d.currency, d.book].join()}>
                  <td>
                    {d.account ?? "all"}
                    {d.book && `, ${d.book}`}
                  </td>
                  <td>{d.partner || "none"}</td>
                  <td>{d.currency ?? currency}</td>
                  <td className="num">{money(d.listed)}</td>
                  <td className="num">{money(d.held)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}
