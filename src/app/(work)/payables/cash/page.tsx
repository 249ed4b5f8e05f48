import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound, minor, decimalText } from "@/core/shared";
import { cashNeeded } from "@/server/payables";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { Amount } from "@/ui/Amount";
import { Bars } from "@/ui/charts/Bars";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { shownAmount, shownDate, shownDay } from "@/ui/writing";

export const metadata = { title: "Cash needed" };

/**
 * What falls due in each of the coming weeks, as figures and as bars; together it is the control
 * account.
 */
export default async function CashPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const { today } = await frameData();
  const result = await cashNeeded(await pageCaller(), { company: place.company, on: today });
  if (!result.ok)
    return (
      <Page title="Cash needed">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { weeks, currency, total, later, control, agrees, afterwards } = result.value;
  const upTo = weeks.map((_, i) => minor(weeks.slice(0, i + 1).reduce((t, w) => t + w.due, 0n)));
  return (
    <Page
      title="Cash needed"
      note={`by week, for suppliers, from ${shownDate(today)}`}
      actions={
        <>
          <ExportMenu
            name="cash-needed"
            headers={[
              "From",
              "To",
              "Items",
              "Amount",
              "Of which on hold",
              "Discount if paid by then",
              "Cumulative",
            ]}
            rows={weeks.map((w, i) => [
              w.from || "overdue",
              w.to,
              w.items,
              { amount: w.due, currency },
              { amount: w.held, currency },
              { amount: w.discount, currency },
              { amount: upTo[i]!, currency },
            ])}
          />
          <Link className="button" href={`/payables?${placeQuery(place)}`}>
            Ageing
          </Link>
        </>
      }
      footer={
        <>
          <Fact label={`Owed ${currency}`}>{shownAmount(total, currency)}</Fact>
          <Fact label="Due later than these weeks">{shownAmount(later, currency)}</Fact>
          <Fact label="Control account">{shownAmount(control, currency)}</Fact>
          <span className="ml-auto flex items-center gap-3 text-ink-2">
            <Status of={agrees ? "agrees" : "differs"} />
            {agrees
              ? `Their total equals the control account.${
                  afterwards === 0n
                    ? ""
                    : ` The ageing on ${shownDate(today)} is ${shownAmount(minor(total - afterwards), currency)}: ${shownAmount(afterwards, currency)} is posted for later days.`
                }`
              : "They differ from the control account. Run verify before anything else."}
          </span>
        </>
      }
    >
      <div className="panel no-print flex h-[170px] shrink-0 px-2 py-1">
        <Bars
          label={`Due by week, ${currency}`}
          head="Due"
          bars={weeks.map((w) => ({
            name: w.from === "" ? "Overdue" : shownDay(w.from),
            value: Number(decimalText(w.due, currency)),
            text: `${shownAmount(w.due, currency)} ${currency}`,
            late: w.from === "",
          }))}
        />
      </div>
      <div
        className="panel min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Cash needed by week"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-48">Due</th>
              <th className="num w-20">Items</th>
              <th className="num w-40">Amount</th>
              <th className="num w-36">Of which on hold</th>
              <th className="num w-40">Discount if paid by then</th>
              <th className="num w-40">Cumulative</th>
            </tr>
          </thead>
          <tbody>
            {weeks.map((w, i) => (
              <tr key={w.from || "overdue"}>
                <td
                  className={
                    w.from === "" && w.due !== 0n ? "font-semibold text-coral" : "font-semibold"
                  }
                >
                  {w.from === "" ? "overdue" : `${shownDay(w.from)} to ${shownDay(w.to)}`}
                </td>
                <td className="num">{w.items || ""}</td>
                <td className="num">
                  <Amount of={w.due} in={currency} />
                </td>
                <td className="num">
                  <Amount of={w.held} in={currency} />
                </td>
                <td className="num">
                  <Amount of={w.discount} in={currency} />
                </td>
                <td className="num">{shownAmount(upTo[i]!, currency)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
