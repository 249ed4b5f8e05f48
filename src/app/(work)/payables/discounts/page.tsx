import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { decimalText, describeFound, minor, monthName } from "@/core/shared";
import { discountsLost } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Bars } from "@/ui/charts/Bars";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Amount } from "@/ui/Amount";
import { shownAmount, shownDate } from "@/ui/writing";

export const metadata = { title: "Discounts" };

/** Discounts taken and lost, by the payments of the months of the strip. */
export default async function DiscountsPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const company = (await frameData()).companies.find((c) => c.code === place.company);
  const [from, to] = [
    company?.periods.find((p) => p.key === place.from)?.start ?? "",
    company?.periods.find((p) => p.key === place.period)?.end ?? "",
  ];
  const result = await discountsLost(await pageCaller(), { company: place.company, from, to });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Discounts">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const own = result.value.filter((r) => r.currency === company?.currency);
  const currency = company?.currency ?? "EUR";
  const months = [...new Set(own.map((r) => r.date.slice(0, 7)))].sort();
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Discounts"
      note="taken and lost, by payment"
      actions={
        <ExportMenu
          name="discounts"
          headers={[
            "Paid",
            "Payment",
            "Supplier",
            "Name",
            "Invoice",
            "Currency",
            "Settled",
            "Discount taken",
            "Discount lost",
          ]}
          rows={result.value.map((r) => [
            r.date,
            r.payment,
            r.supplier,
            r.supplierName,
            r.reference,
            r.currency,
            ...[r.taken, r.had, r.lost].map((amount) => ({ amount, currency: r.currency })),
          ])}
        />
      }
      footer={
        <>
          <Fact label={`Discount taken, ${currency}`} tone="good">
            {shownAmount(minor(own.reduce((t, r) => t + r.had, 0n)), currency)}
          </Fact>
          <Fact label="Discount lost" tone={own.some((r) => r.lost > 0n) ? "bad" : "good"}>
            {shownAmount(minor(own.reduce((t, r) => t + r.lost, 0n)), currency)}
          </Fact>
        </>
      }
    >
      {months.length > 1 && (
        <div className="no-print grid h-[140px] shrink-0 grid-cols-2 gap-2.5">
          {(["had", "lost"] as const).map((kind) => (
            <section key={kind} className="panel flex min-h-0 flex-col px-3 py-1.5">
              <h2 className="text-[12.5px] font-semibold text-ink-2">
                {kind === "had" ? "Taken" : "Lost"} by month, {currency}
              </h2>
              <Bars
                label={`Discounts ${kind === "had" ? "taken" : "lost"} by month, ${currency}`}
                head="Month"
                bars={months.map((month) => {
                  const sum = own
                    .filter((r) => r.date.startsWith(month))
                    .reduce((t, r) => t + r[kind], 0n);
                  return {
                    name: `${monthName(`${month}-01`)} ${month.slice(2, 4)}`,
                    value: Number(decimalText(sum, currency)),
                    text: `${shownAmount(sum, currency)} ${currency}`,
                    late: kind === "lost",
                  };
                })}
              />
            </section>
          ))}
        </div>
      )}
      <div className="panel min-h-0 flex-1 overflow-auto">
        {result.value.length === 0 ? (
          <Empty title="No discount was taken or lost">
            Terms of payment say what can be deducted for paying early; payments of these months had
            none.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-28">Paid</th>
                <th className="w-36">Payment</th>
                <th>Supplier</th>
                <th className="w-40">Invoice</th>
                <th className="w-20">Currency</th>
                <th className="num w-36">Settled</th>
                <th className="num w-32">Discount taken</th>
                <th className="num w-32">Discount lost</th>
              </tr>
            </thead>
            <tbody>
              {result.value.map((r) => (
                <tr key={`${r.paymentId} ${r.reference}`}>
                  <td>{shownDate(r.date)}</td>
                  <td>
                    <Link
                      className="link font-semibold"
                      href={`/payables/payments/${r.paymentId}?${placeQuery(place)}`}
                    >
                      {r.payment}
                    </Link>
                  </td>
                  <td>
                    {r.supplier} {r.supplierName}
                  </td>
                  <td>{r.reference}</td>
                  <td>{r.currency}</td>
                  <td className="num">{shownAmount(r.taken, r.currency)}</td>
                  <td className="num">
                    <Amount of={r.had} in={r.currency} />
                  </td>
                  <td className={`num ${r.lost > 0n ? "text-coral" : ""}`}>
                    <Amount of={r.lost} in={r.currency} />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}
