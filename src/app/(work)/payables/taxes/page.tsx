import { Fragment } from "react";
import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { describeFound } from "@/core/shared";
import { TAX_DIRECTIONS, type TaxDirection } from "@/core/taxes";
import { taxSummary, type TaxLineTotal, type TaxSummaryRow } from "@/server/taxes";
import { ExportMenu } from "@/ui/table/ExportMenu";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";
import { pageCaller } from "@/app/lib/session";
import { Declaration } from "./Declaration";
import { shownAmount, shownFigures } from "@/ui/writing";

/** The figures of a row, in the order of the headings. */
function Amounts({
  of,
  currency,
  isPurchase,
}: {
  of: Record<"base" | "tax" | "recoverable" | "unrecoverable", bigint>;
  currency: string;
  /** What can be deducted is said of purchases only. */
  isPurchase: boolean;
}) {
  const amounts = isPurchase
    ? [of.base, of.tax, of.recoverable, of.unrecoverable]
    : [of.base, of.tax];
  return amounts.map((amount, i) => (
    <td key={i} className="num">
      {shownAmount(amount, currency)}
    </td>
  ));
}

export const metadata = { title: "Taxes" };

/** What is reported by tax code in the periods of the strip, and what of it was declared. */
export default async function TaxSummaryPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const frame = await frameData();
  const periods = frame.companies.find((c) => c.code === place.company)?.periods ?? [];
  const [from, to] = [
    periods.find((p) => p.key === place.from)?.start ?? "",
    periods.find((p) => p.key === place.period)?.end ?? "",
  ];
  const result = await taxSummary(await pageCaller(), { company: place.company, from, to });
  if (!result.ok)
    return (
      <Page strip={<PeriodStrip range />} title="Taxes">
        <Problems messages={result.problems.map(describeFound)} />
      </Page>
    );
  const { currency, rows, totals, accounts, declared } = result.value;
  const money = (amount: bigint) => ({ amount, currency });
  return (
    <Page
      strip={<PeriodStrip range />}
      title="Taxes"
      note={`by code, in ${currency}; each record keeps its base, its rate and the day by which that was chosen`}
      actions={
        <ExportMenu
          name="taxes"
          headers={[
            "On",
            "Return line",
            "Code",
            "Name",
            "Rate %",
            "Documents",
            "Base",
            "Tax",
            "Recoverable",
            "Not recoverable",
          ]}
          rows={rows.map((r) => [
            ON[r.direction],
            r.returnLine,
            r.code,
            r.name,
            r.percent,
            r.documents,
            money(r.base),
            money(r.tax),
            money(r.recoverable),
            money(r.unrecoverable),
          ])}
        />
      }
      footer={
        accounts.length > 0 && (
          <span className="ml-auto flex items-center gap-3 text-ink-2">
            <Status of={accounts.every((a) => a.agrees) ? "agrees" : "differs"} />
            {accounts.every((a) => a.agrees)
              ? "What journals of documents post on the accounts of the taxes is what the records say."
              : "An account differs from what the records say. Run verify before anything else."}
          </span>
        )
      }
    >
      <Declaration
        key={`${place.company} ${from} ${to}`}
        company={place.company}
        from={from}
        to={to}
        declared={declared}
        mayDeclare={frame.person.rights.includes("period.ledger")}
      />
      <div className="panel min-h-0 flex-1 overflow-auto">
        {rows.length === 0 ? (
          <Empty title="No tax was recorded">Invoices record theirs when they are posted.</Empty>
        ) : (
          TAX_DIRECTIONS.map((direction) => (
            <TaxTable
              key={direction}
              direction={direction}
              rows={rows.filter((r) => r.direction === direction)}
              totals={totals.filter((t) => t.direction === direction)}
              currency={currency}
            />
          ))
        )}
        {accounts.length > 0 && (
          <>
            <h2 className="px-3 pt-6 pb-2">Against the accounts</h2>
            <table className="sheet">
              <thead>
                <tr>
                  <th>Account</th>
                  <th className="num w-40">Reported</th>
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
                    <td className="num">{shownAmount(a.recorded, currency)}</td>
                    <td className="num">{shownAmount(a.otherDays, currency)}</td>
                    <td className="num">{shownAmount(a.unrecorded, currency)}</td>
                    <td className="num">
                      {shownAmount(a.movement - a.recorded - a.otherDays - a.unrecorded, currency)}
                    </td>
                    <td className="num font-semibold">{shownAmount(a.movement, currency)}</td>
                    <td>
                      <Status of={a.agrees ? "agrees" : "differs"} />
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

const ON: Record<TaxDirection, string> = { purchase: "Purchases", sale: "Sales" };

/** Taxes of one direction, by line of the return and code. */
function TaxTable({
  direction,
  rows,
  totals,
  currency,
}: {
  direction: TaxDirection;
  rows: readonly TaxSummaryRow[];
  totals: readonly TaxLineTotal[];
  currency: string;
}) {
  if (rows.length === 0) return null;
  const sum = (pick: (r: TaxLineTotal) => bigint) =>
    totals.reduce((total, t) => total + pick(t), 0n);
  const together = {
    base: sum((t) => t.base),
    tax: sum((t) => t.tax),
    recoverable: sum((t) => t.recoverable),
    unrecoverable: sum((t) => t.unrecoverable),
  };
  const isPurchase = direction === "purchase";
  return (
    <>
      <h2 className="px-3 pt-4 pb-2">{ON[direction]}</h2>
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-28">Return line</th>
            <th className="w-24">Code</th>
            <th>Name</th>
            <th className="num w-24">Rate %</th>
            <th className="num w-28">Documents</th>
            <th className="num w-36">Base</th>
            <th className="num w-36">Tax</th>
            {isPurchase && (
              <>
                <th className="num w-36">Recoverable</th>
                <th className="num w-36">Not recoverable</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {totals.map((t) => (
            <Fragment key={t.returnLine}>
              {rows
                .filter((r) => r.returnLine === t.returnLine)
                .map((r) => (
                  <tr key={`${r.code} ${r.percent}`}>
                    <td>{r.returnLine}</td>
                    <td className="font-semibold">{r.code}</td>
                    <td>{r.name}</td>
                    <td className="num">{shownFigures(r.percent)}</td>
                    <td className="num">{r.documents}</td>
                    <Amounts of={r} currency={currency} isPurchase={isPurchase} />
                  </tr>
                ))}
              <tr className="font-semibold">
                <td colSpan={5}>
                  {t.returnLine ? `Line ${t.returnLine}` : "Without a line of the return"}
                </td>
                <Amounts of={t} currency={currency} isPurchase={isPurchase} />
              </tr>
            </Fragment>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td colSpan={5}>Total</td>
            <Amounts of={together} currency={currency} isPurchase={isPurchase} />
          </tr>
        </tfoot>
      </table>
    </>
  );
}
