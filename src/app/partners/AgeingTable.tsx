"use client";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { AgedFrom } from "@/core/openItems";
import { dateText, decimalText, readDate } from "@/core/shared";
import type { Ageing, AgeingRow, ItemArea } from "@/server/openItems";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { Bars } from "@/ui/charts/Bars";
import { Nought } from "@/ui/Amount";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { DateField } from "@/ui/date/DateField";
import { shownAmount } from "@/ui/writing";

export const partnerPage = (area: ItemArea, code: string): string =>
  area === "payables"
    ? `/payables/suppliers/${encodeURIComponent(code)}`
    : `/receivables/customers/${encodeURIComponent(code)}`;

export function AgeingTable({
  ageing,
  area,
  opened,
}: {
  ageing: Ageing;
  area: ItemArea;
  /** The amount whose items are shown: column and partner. */
  opened: string;
}) {
  const work = useWork();
  const router = useRouter();
  const columns = useMemo(
    (): TableColumn<AgeingRow>[] => [
      { key: "partner", header: "Number", width: 96, value: (r) => r.partner },
      {
        key: "name",
        header: "Name",
        value: (r) => r.name,
        cell: (r) => <b className="font-semibold">{r.name || "without a partner"}</b>,
      },
      { key: "items", header: "Items", width: 60, align: "right", value: (r) => r.items },
      ...ageing.columns.map((name, i): TableColumn<AgeingRow> => ({
        key: `b${i}`,
        header: name,
        width: area === "receivables" ? 104 : 124,
        align: "right",
        sum: true,
        value: (r) => r.buckets[i]!,
        cell: (r) =>
          r.buckets[i] === 0n ? (
            <Nought />
          ) : (
            <button
              type="button"
              className={`figure ${i > 0 && ageing.by === "due" ? "text-coral" : ""}`}
              aria-expanded={opened === `${i} ${r.partner}`}
              onClick={() => work.go({ bucket: String(i), of: r.partner })}
            >
              {shownAmount(r.buckets[i]!, ageing.currency)}
            </button>
          ),
      })),
      ...(area === "receivables"
        ? (
            [
              ["disputed", "In dispute"],
              ["promised", "Promised"],
            ] as const
          ).map(([key, header]): TableColumn<AgeingRow> => ({
            key,
            header,
            width: 96,
            align: "right",
            sum: true,
            value: (r) => r[key],
            cell: (r) => (r[key] === 0n ? <Nought /> : shownAmount(r[key], ageing.currency)),
          }))
        : []),
      {
        key: "total",
        header: "Total",
        width: 122,
        align: "right",
        sum: true,
        value: (r) => r.total,
        cell: (r) => <b className="font-semibold">{shownAmount(r.total, ageing.currency)}</b>,
      },
    ],
    [ageing, area, opened, work],
  );
  const bars = ageing.columns.map((name, i) => ({
    name: i === 0 ? name[0]!.toUpperCase() + name.slice(1) : name,
    value: Number(decimalText(ageing.totals[i]!, ageing.currency)),
    text: `${shownAmount(ageing.totals[i]!, ageing.currency)} ${ageing.currency}`,
    late: i > 0 && ageing.by === "due",
  }));
  return (
    <>
      <div className="panel no-print flex h-[132px] shrink-0 px-2 py-1">
        <Bars
          label={`Open by days ${ageing.by === "due" ? "overdue" : "since the document"}, ${ageing.currency}`}
          head={ageing.by === "due" ? "Days overdue" : "Days old"}
          bars={bars}
          onChoose={(i) => work.go({ bucket: String(i), of: null })}
        />
      </div>
      <DataTable
        name={`ageing-${area}`}
        rows={ageing.rows}
        columns={columns}
        rowKey={(r) => r.partner}
        currency={ageing.currency}
        onOpen={(r) => r.partner && router.push(work.link(partnerPage(area, r.partner)))}
        empty={<Empty title="Nothing is open">Every item is settled on this day.</Empty>}
      />
    </>
  );
}

/** The day of the report, and after how many days its columns end. */
export function AgeingActions({
  area,
  on,
  buckets,
  currency,
  currencies,
  by,
}: {
  area: ItemArea;
  currencies: readonly string[];
  by: AgedFrom;
  on: string;
  buckets: string;
  currency: string;
}) {
  const work = useWork();
  const [day, setDay] = useState(dateText(on));
  const [days, setDays] = useState(buckets.replaceAll(",", ", "));
  return (
    <form
      className="flex items-center gap-2"
      aria-label={`Ageing of ${area}`}
      onSubmit={(e) => {
        e.preventDefault();
        const read = readDate(day, work.today);
        work.go({
          on: read ?? day,
          buckets:
            days
              .split(/[ ,;]+/)
              .filter((d) => /^\d+$/.test(d))
              .join(",") || null,
        });
      }}
    >
      <label className="text-ink-2" htmlFor="age-on">
        On
      </label>
      <DateField id="age-on" className="w-32" value={day} onChange={setDay} />
      <label className="text-ink-2" htmlFor="age-days">
        days
      </label>
      <input
        id="age-days"
        className="field w-28"
        title="After how many days overdue the columns end"
        value={days}
        onChange={(e) => setDays(e.target.value)}
      />
      <select
        aria-label="Age counted from"
        className="field w-auto"
        value={by}
        onChange={(e) => work.go({ by: e.target.value === "due" ? null : e.target.value })}
      >
        <option value="due">by due date</option>
        <option value="document">by document date</option>
      </select>
      <select
        aria-label="Currency"
        className="field w-auto"
        title="Items of one currency, in that currency"
        value={currency}
        onChange={(e) => work.go({ currency: e.target.value || null })}
      >
        <option value="">{work.company?.currency}, all</option>
        {[...new Set([...currencies, ...(currency ? [currency] : [])])].map((c) => (
          <option key={c} value={c}>
            in {c} only
          </option>
        ))}
      </select>
      <button type="submit" className="button">
        Show
      </button>
    </form>
  );
}
