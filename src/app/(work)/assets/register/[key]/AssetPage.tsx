"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import { documentPage } from "@/core/documents";
import { runPages } from "@/core/runs";
import { exponentOf, type CalendarDate } from "@/core/shared";
import type { AssetInBook, AssetMovement, AssetView } from "@/server/assets";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { Bars } from "@/ui/charts/Bars";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";
import { EstimatePanel, FactsPanel, MovePanel, RetirePanel } from "./AssetForms";

type Panel = "papers" | "facts" | "move" | "estimate" | "retire";
const PANELS: Readonly<Record<Exclude<Panel, "papers">, string>> = {
  facts: "Change",
  move: "Move",
  estimate: "Estimate anew",
  retire: "Retire",
};

/** An asset: what it is in each book, what is planned, who uses it, and all that has moved it. */
export function AssetPage({ asset, on }: { asset: AssetView; on: CalendarDate }) {
  const work = useWork();
  const [panel, setPanel] = useState<Panel | null>(null);
  const close = useCallback(() => setPanel(null), []);
  const id = useCallback(() => Promise.resolve(asset.id), [asset.id]);
  const open = (next: Panel) => setPanel(panel === next ? null : next);
  const now = asset.places.findLast((p) => p.from <= on) ?? asset.places[0];
  return (
    <Page
      strip={<PeriodStrip />}
      title={`${asset.number} ${asset.description}`}
      status={<Status of={asset.status} />}
      note={`${asset.className}, in service from ${shownDate(asset.inService)}`}
      panel={
        panel === "papers" ? (
          <PapersPanel id={id} onClose={close} />
        ) : panel === "facts" ? (
          <FactsPanel asset={asset} close={close} />
        ) : panel === "move" ? (
          <MovePanel asset={asset} now={now} close={close} />
        ) : panel === "estimate" ? (
          <EstimatePanel asset={asset} close={close} />
        ) : panel === "retire" ? (
          <RetirePanel asset={asset} close={close} />
        ) : null
      }
      actions={
        <>
          {asset.mayChange &&
            (Object.keys(PANELS) as (keyof typeof PANELS)[])
              .filter((name) => name !== "retire" || work.may("post.assets"))
              .map((name) => (
                <button
                  key={name}
                  type="button"
                  className="button"
                  aria-pressed={panel === name}
                  onClick={() => open(name)}
                >
                  {PANELS[name]}
                </button>
              ))}
          <button
            type="button"
            className="button"
            aria-pressed={panel === "papers"}
            onClick={() => open("papers")}
          >
            Papers
          </button>
        </>
      }
    >
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
        <div className="panel flex flex-wrap gap-x-7 gap-y-1 px-4 py-2.5">
          <Fact label="Place">{now?.place || "not said"}</Fact>
          <Fact label="Person in charge">{now?.person || "not said"}</Fact>
          {work.dimensions.map((d) => (
            <Fact key={d.code} label={d.name}>
              {now?.dimensions[d.code] ?? "none"}
            </Fact>
          ))}
          <Fact label="Quantity">
            {asset.quantity} {asset.unit}
          </Fact>
          {asset.main && (
            <Fact label="Part of">
              <Link className="link" href={work.link(documentPage("asset", asset.main.id))}>
                {asset.main.number} {asset.main.description}
              </Link>
            </Fact>
          )}
          {asset.parts.length > 0 && (
            <Fact label="Parts">
              {asset.parts.map((p) => (
                <Link
                  key={p.id}
                  className="link mr-2"
                  href={work.link(documentPage("asset", p.id))}
                >
                  {p.description}
                </Link>
              ))}
            </Fact>
          )}
          {asset.serial && <Fact label="Serial number">{asset.serial}</Fact>}
          {asset.warrantyTo && <Fact label="Warranty to">{shownDate(asset.warrantyTo)}</Fact>}
          {asset.insurance && <Fact label="Insurance">{asset.insurance}</Fact>}
          {asset.note && <Fact label="Note">{asset.note}</Fact>}
        </div>
        <Books books={asset.books} currency={asset.currency} on={on} />
        <Plan book={asset.books[0]!} currency={asset.currency} />
        <Movements movements={asset.movements} currency={asset.currency} />
        {asset.places.length > 1 && <Places asset={asset} />}
      </div>
    </Page>
  );
}

function Books({
  books,
  currency,
  on,
}: {
  books: readonly AssetInBook[];
  currency: string;
  on: CalendarDate;
}) {
  return (
    <div className="panel shrink-0 overflow-x-auto" tabIndex={0} role="region" aria-label="Books">
      <table className="sheet">
        <caption className="sr-only">What it is in each book on {shownDate(on)}</caption>
        <thead>
          <tr>
            <th className="w-28">Book</th>
            <th>How it is depreciated</th>
            <th className="w-28">Depreciated by</th>
            <th className="num w-32">Cost</th>
            <th className="num w-32">Accumulated</th>
            <th className="num w-32">Carrying amount</th>
          </tr>
        </thead>
        <tbody>
          {books.map((b) => (
            <tr key={b.book ?? "all"}>
              <td>{b.book ?? (books.length > 1 ? "all others" : "all books")}</td>
              <td>
                {b.rule}
                {b.residual !== 0n && `; ${shownAmount(b.residual, currency)} is left at the end`}
              </td>
              <td>{b.until ? shownDate(b.until) : "–"}</td>
              <td className="num">{shownAmount(b.cost, currency)}</td>
              <td className="num">{shownAmount(b.accumulated, currency)}</td>
              <td className="num">{shownAmount(b.carried, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What will be charged in each year, and what it is carried at then. */
function Plan({ book, currency }: { book: AssetInBook; currency: string }) {
  const years = [...new Set(book.plan.map((p) => p.month.slice(0, 4)))].map((year) => {
    const months = book.plan.filter((p) => p.month.startsWith(year));
    return {
      year,
      charge: months.reduce((t, m) => t + m.charge, 0n),
      carried: months.at(-1)!.carried,
    };
  });
  if (years.length === 0 || years.every((y) => y.charge === 0n)) return null;
  const shown = years.slice(0, 20);
  return (
    <div className="panel grid shrink-0 grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-4 p-3">
      <div>
        <h2 className="mb-1">Planned</h2>
        <div className="max-h-44 overflow-y-auto" tabIndex={0} role="region" aria-label="Planned">
          <table className="sheet">
            <thead>
              <tr>
                <th>Year</th>
                <th className="num">Depreciation</th>
                <th className="num">Carrying amount at its end</th>
              </tr>
            </thead>
            <tbody>
              {years.map((y) => (
                <tr key={y.year}>
                  <td>{y.year}</td>
                  <td className="num">{shownAmount(y.charge, currency)}</td>
                  <td className="num">{shownAmount(y.carried, currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      </div>
      <div className="flex h-48 flex-col">
        <h2 className="mb-1">Carrying amount at each year’s end</h2>
        <Bars
          label="Carrying amount at each year’s end"
          head="Year"
          bars={shown.map((y) => ({
            name: y.year,
            value: Number(y.carried) / 10 ** exponentOf(currency),
            text: shownAmount(y.carried, currency),
          }))}
        />
      </div>
    </div>
  );
}

const MOVED: Readonly<Record<AssetMovement["movement"], string>> = {
  booked: "booked",
  "taken over": "taken over",
  addition: "added",
  correction: "cost corrected",
  charge: "depreciation",
  retirement: "retired",
};

function Movements({
  movements,
  currency,
}: {
  movements: readonly AssetMovement[];
  currency: string;
}) {
  const work = useWork();
  return (
    <div
      className="panel shrink-0 overflow-x-auto"
      tabIndex={0}
      role="region"
      aria-label="Movements"
    >
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-28">Date</th>
            <th className="w-32">What</th>
            <th className="w-20">Book</th>
            <th>From</th>
            <th className="w-20">Account</th>
            <th className="w-32">Journal</th>
            <th className="w-32">Run</th>
            <th className="num w-32">Amount</th>
          </tr>
        </thead>
        <tbody>
          {movements.map((m) => (
            <tr key={m.id}>
              <td>{shownDate(m.date)}</td>
              <td>
                {MOVED[m.movement]}
                {m.movement === "taken over" && m.part === "accumulated" && ", accumulated"}
              </td>
              <td>{m.book ?? "all"}</td>
              <td>
                {m.source && (
                  <>
                    <Link
                      className="link"
                      href={work.link(documentPage(m.source.kind, m.source.id))}
                    >
                      {m.source.number}
                    </Link>{" "}
                    {[m.source.partner, m.source.text].filter(Boolean).join(", ")}
                  </>
                )}
              </td>
              <td>
                <Link className="link" href={work.link(`/ledger/accounts/${m.account}`)}>
                  {m.account}
                </Link>
              </td>
              <td>
                {m.journal && (
                  <Link className="link" href={work.link(documentPage("journal", m.journal.id))}>
                    {m.journal.number}
                  </Link>
                )}
              </td>
              <td>
                {m.run && (
                  <Link className="link" href={work.link(`${runPages(m.run.kind)}/${m.run.id}`)}>
                    {m.run.number}
                  </Link>
                )}
              </td>
              <td className="num">{shownAmount(m.amount, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Places({ asset }: { asset: AssetView }) {
  const work = useWork();
  return (
    <div className="panel shrink-0 overflow-x-auto" tabIndex={0} role="region" aria-label="Places">
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-28">From</th>
            <th>Place</th>
            <th>Person in charge</th>
            {work.dimensions.map((d) => (
              <th key={d.code} className="w-32">
                {d.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {asset.places.map((p) => (
            <tr key={p.from}>
              <td>{shownDate(p.from)}</td>
              <td>{p.place}</td>
              <td>{p.person}</td>
              {work.dimensions.map((d) => (
                <td key={d.code}>{p.dimensions[d.code] ?? ""}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
