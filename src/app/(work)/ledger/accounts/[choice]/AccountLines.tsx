"use client";
import Link from "next/link";
import { useEffect, useMemo, useRef, type ReactNode } from "react";
import { minor, type Scale } from "@/core/shared";
import { NO_CURRENCY } from "@/core/ledger";
import type { AccountFigures, AccountLine, AccountView } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { Figure } from "@/ui/trace/Figure";
import { moveBetweenFigures } from "../../../statements/[code]/StatementTable";
import { keepPreference } from "@/app/lib/preferences";
import { shownAmount, shownDate, shownQuantity } from "@/ui/writing";

const text = (amount: bigint, currency: string): string =>
  currency === NO_CURRENCY ? shownQuantity(amount) : shownAmount(amount, currency);
const unitOf = (currency: string): string => (currency === NO_CURRENCY ? "units" : currency);

const MEASURES = [
  ["Opening", "opening"],
  ["Debits", "debit"],
  ["Credits", "credit"],
  ["Closing", "closing"],
  ["Year to date", "yearToDate"],
] as const;

/**
 * The year of the accounts: what each period opened with, moved by, and closed with. Several
 * companies or currencies stand below each other.
 */
export function AccountMonths({
  view,
  accounts,
  traceable,
  scale,
}: {
  view: AccountView;
  accounts: string;
  traceable: boolean;
  scale: Scale;
}) {
  const work = useWork();
  const box = useRef<HTMLDivElement>(null);
  const several = view.figures.length > 1;
  // The working period is in sight, however narrow the page.
  useEffect(() => {
    const heading = box.current?.querySelector<HTMLElement>("[data-now]");
    if (box.current && heading)
      box.current.scrollLeft = Math.max(
        0,
        heading.offsetLeft + heading.offsetWidth + 24 - box.current.clientWidth,
      );
  }, [work.place.period, view]);
  const names = view.figures[0]!.periods;
  const order = names.map((p) => p.period);
  const yearOf = (period: string) => period.slice(0, period.lastIndexOf("-"));
  const firstOfYear = (period: string) => order.find((p) => yearOf(p) === yearOf(period))!;
  const within = (period: string) =>
    order.indexOf(period) >= order.indexOf(work.place.from) &&
    order.indexOf(period) <= order.indexOf(work.place.period);
  const used = names.filter(
    (p) =>
      !p.name.startsWith("Adj.") ||
      view.figures.some((f) => {
        const own = f.periods.find((x) => x.period === p.period);
        return own && (own.debit !== 0n || own.credit !== 0n);
      }),
  );
  const cell = (f: AccountFigures, period: string, key: (typeof MEASURES)[number][1]) => {
    const p = f.periods.find((x) => x.period === period);
    if (!p) return null;
    if (!traceable || key === "yearToDate")
      return (
        <button
          type="button"
          className="figure"
          title="Show the lines of this period"
          onClick={() =>
            work.go({ period, from: key === "yearToDate" ? firstOfYear(period) : null })
          }
        >
          {scale === 1 ? text(p[key], f.currency) : shownAmount(p[key], f.currency, { scale })}
        </button>
      );
    return (
      <Figure
        amount={p[key]}
        currency={f.currency}
        of={{
          kind: "month",
          account: accounts,
          period,
          measure: key,
          ...(f.company === work.place.company ? {} : { company: f.company }),
        }}
        style={{ scale }}
      />
    );
  };
  return (
    <div
      ref={box}
      className={`panel shrink-0 overflow-auto ${several ? "max-h-[40%]" : ""}`}
      onKeyDown={moveBetweenFigures}
      tabIndex={0}
      role="region"
      aria-label="Periods of the year"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th className="sticky left-0 z-20">
              {scale === 1 ? (
                <span className="sr-only">Measure</span>
              ) : scale === 1000 ? (
                "in thousands"
              ) : (
                "in millions"
              )}
            </th>
            {used.map((p) => (
              <th
                key={p.period}
                data-now={p.period === work.place.period || undefined}
                className={`num ${within(p.period) ? "border-b-[3px]! border-b-yellow! text-ink!" : ""}`}
              >
                {p.name}
              </th>
            ))}
          </tr>
        </thead>
        {view.figures.map((f) => (
          <tbody key={`${f.company} ${f.currency}`}>
            {MEASURES.filter(
              ([, key]) => !several || key === "closing" || key === "debit" || key === "credit",
            ).map(([word, key], i) => (
              <tr key={key} className={key === "closing" ? "font-semibold" : ""}>
                <td className="sticky left-0 z-10 whitespace-nowrap bg-panel text-ink-2">
                  {several && (
                    <b
                      className={`mr-2 inline-block min-w-[68px] font-semibold ${i > 0 ? "invisible" : "text-ink"}`}
                    >
                      {f.company} {unitOf(f.currency)}
                    </b>
                  )}
                  {word}
                </td>
                {used.map((p) => (
                  <td key={p.period} className="num text-[12.5px]">
                    {cell(f, p.period, key)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        ))}
      </table>
    </div>
  );
}

export function AccountLines({
  view,
  kept,
  open,
}: {
  view: AccountView;
  kept: string | undefined;
  open: string | undefined;
}) {
  const work = useWork();
  const currency = view.figures[0]!.currency;
  const several = {
    companies: new Set(view.figures.map((f) => f.company)).size > 1,
    accounts: view.accounts.length > 1,
    currencies: new Set(view.figures.map((f) => f.currency)).size > 1,
    unitsTold: new Set(view.figures.map((f) => f.company)).size === view.figures.length,
  };
  const columns = useMemo(
    (): TableColumn<AccountLine>[] => [
      {
        key: "date",
        header: "Date",
        width: 96,
        value: (l) => l.date,
        cell: (l) => shownDate(l.date),
      },
      ...(several.companies
        ? [{ key: "company", header: "Company", width: 80, value: (l: AccountLine) => l.company }]
        : []),
      {
        key: "number",
        header: "Journal",
        width: 118,
        value: (l) => l.number,
        cell: (l) => (
          <span
            className={`font-semibold ${l.reversed ? "line-through decoration-ink-3" : ""} ${open === String(l.journalId) ? "text-sea" : ""}`}
          >
            {l.number}
          </span>
        ),
      },
      ...(several.accounts
        ? [{ key: "account", header: "Account", width: 84, value: (l: AccountLine) => l.account }]
        : []),
      { key: "type", header: "Type", width: 110, value: (l) => l.type },
      { key: "description", header: "Description", value: (l) => l.description },
      ...work.dimensions
        .filter((d) => view.lines.some((l) => l.dimensions[d.code]))
        .map((d): TableColumn<AccountLine> => ({
          key: d.code,
          header: d.name,
          width: 104,
          value: (l) => l.dimensions[d.code] ?? "",
        })),
      ...(view.lines.some((l) => l.foreignCurrency !== l.currency)
        ? [
            {
              key: "foreign",
              header: "Foreign amount",
              width: 150,
              align: "right" as const,
              value: (l: AccountLine) =>
                l.foreignCurrency === l.currency
                  ? ""
                  : shownAmount(
                      l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount),
                      l.foreignCurrency,
                    ),
              cell: (l: AccountLine) =>
                l.foreignCurrency === l.currency ? (
                  ""
                ) : (
                  <>
                    {shownAmount(
                      l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount),
                      l.foreignCurrency,
                    )}{" "}
                    <span className="text-xs text-ink-3">{l.foreignCurrency}</span>
                  </>
                ),
            },
          ]
        : []),
      ...(several.currencies && !several.unitsTold
        ? [
            {
              key: "unit",
              header: "Currency",
              width: 80,
              value: (l: AccountLine) => unitOf(l.currency),
            },
          ]
        : []),
      ...(["debit", "credit"] as const).map((side): TableColumn<AccountLine> => ({
        key: side,
        header: side === "debit" ? "Debit" : "Credit",
        width: 122,
        align: "right",
        sum: true,
        value: (l) => (l.side === side ? l.amount : 0n),
        cell: (l) => (l.side === side ? text(l.amount, l.currency) : ""),
      })),
      {
        key: "balance",
        header: "Balance",
        width: 130,
        align: "right",
        value: (l) => l.balance,
        cell: (l) => text(l.balance, l.currency),
      },
    ],
    [
      work.dimensions,
      view.lines,
      open,
      several.companies,
      several.accounts,
      several.currencies,
      several.unitsTold,
    ],
  );
  return (
    <DataTable
      name="account-lines"
      rows={view.lines}
      columns={columns}
      rowKey={(l) => `${l.journalId}-${l.lineNo}`}
      currency={currency}
      currencyOf={(l) => l.currency}
      onOpen={(l) =>
        work.go({ beside: open === String(l.journalId) ? null : String(l.journalId), trace: null })
      }
      kept={kept}
      keep={(v) => void keepPreference("table.account-lines", v)}
      empty={
        <Empty title="No lines in these periods">
          Choose another period in the strip, or a range with Shift.
        </Empty>
      }
      extra={
        view.lineCount > view.lines.length ? (
          <span className="text-coral">
            The first {view.lines.length.toLocaleString("en")} of{" "}
            {view.lineCount.toLocaleString("en")} lines; choose fewer periods.
          </span>
        ) : null
      }
    />
  );
}

export function AccountFooter({ view }: { view: AccountView }) {
  const one = view.figures.length === 1 ? view.figures[0]! : null;
  return (
    <>
      {one && (
        <>
          <Fact label="Opening">{text(one.opening, one.currency)}</Fact>
          <Fact label="Debits">{text(one.debit, one.currency)}</Fact>
          <Fact label="Credits">{text(one.credit, one.currency)}</Fact>
          <Fact label="Closing">{text(one.closing, one.currency)}</Fact>
        </>
      )}
      {!one &&
        view.figures.slice(0, 6).map((f) => (
          <Fact
            key={`${f.company} ${f.currency}`}
            label={`${f.company} ${unitOf(f.currency)}, opening and closing`}
          >
            {text(f.opening, f.currency)} · {text(f.closing, f.currency)}
          </Fact>
        ))}
      <span className="ml-auto text-right text-ink-3">
        {view.lineCount.toLocaleString("en")} {view.lineCount === 1 ? "line" : "lines"}
        {view.accounts.length === 1
          ? ` · ${view.accounts[0]!.heading} · ${view.accounts[0]!.type}`
          : ` · ${view.accounts.length} accounts`}
      </span>
    </>
  );
}

/**
 * The lines as a T for each company and currency: debits at the left, credits at the right, what it
 * opened and closed with.
 */
export function TAccounts({ view }: { view: AccountView }) {
  return (
    <div className="flex min-h-0 flex-1 flex-col gap-2.5 overflow-auto">
      {view.figures.map((f) => (
        <TAccount
          key={`${f.company} ${f.currency}`}
          figures={f}
          lines={view.lines.filter((l) => l.company === f.company && l.currency === f.currency)}
          named={view.figures.length > 1}
        />
      ))}
    </div>
  );
}

function TAccount({
  figures,
  lines,
  named,
}: {
  figures: AccountFigures;
  lines: AccountLine[];
  named: boolean;
}) {
  const work = useWork();
  const { opening, closing, currency } = figures;
  const sides = {
    debit: lines.filter((l) => l.side === "debit"),
    credit: lines.filter((l) => l.side === "credit"),
  };
  const row = (left: ReactNode, amount: string, strong = false) => (
    <div
      className={`flex gap-3 border-b border-line-2 px-3 leading-7 ${strong ? "font-semibold" : ""}`}
    >
      <span className="min-w-0 flex-1 truncate">{left}</span>
      <span>{amount}</span>
    </div>
  );
  const sum = (side: "debit" | "credit") => sides[side].reduce((t, l) => t + l.amount, 0n);
  const half = (side: "debit" | "credit") => (
    <div className="min-w-0 flex-1">
      <div className="sticky top-0 border-b-2 border-ink bg-shade px-3 py-1 text-xs font-semibold text-ink-2">
        {side === "debit" ? "Debit" : "Credit"}
      </div>
      {(side === "debit" ? opening > 0n : opening < 0n) &&
        row("Opening", text(opening < 0n ? -opening : opening, currency), true)}
      {sides[side].map((l) => (
        <div key={`${l.journalId}-${l.lineNo}`}>
          {row(
            <>
              <Link
                className="link mr-2 font-semibold"
                href={work.link(`/ledger/journals/${l.journalId}`)}
              >
                {l.number}
              </Link>
              {l.description}
            </>,
            text(l.amount, currency),
          )}
        </div>
      ))}
      {row(side === "debit" ? "Debits" : "Credits", text(sum(side), currency), true)}
    </div>
  );
  return (
    <section
      className={`panel flex flex-col overflow-hidden ${named ? "max-h-96 shrink-0" : "min-h-0 flex-1"}`}
      aria-label={`T-account ${figures.company} ${unitOf(currency)}`}
    >
      {named && (
        <h2 className="border-b border-line px-3 py-1.5">
          {figures.companyName}, {unitOf(currency)}
        </h2>
      )}
      <div
        className="flex min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="T-account"
      >
        {half("debit")}
        <div className="w-0.5 shrink-0 bg-ink" />
        {half("credit")}
      </div>
      <div className="border-t border-line px-3 py-1.5 text-right font-semibold">
        Closing {text(closing < 0n ? -closing : closing, currency)}{" "}
        {closing < 0n ? "credit" : closing > 0n ? "debit" : ""}
      </div>
    </section>
  );
}
