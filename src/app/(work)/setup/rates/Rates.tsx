"use client";
import { useState } from "react";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { RATE_KINDS } from "@/core/rates";
import { CURRENCIES } from "@/core/shared";
import type { RateLimits, RateRow } from "@/server/rates";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { FileLoad } from "@/ui/FileLoad";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { sendTable } from "@/app/lib/sendFile";
import { askRateAction } from "./actions";
import { RateAge } from "./RateAge";
import { DateField } from "@/ui/date/DateField";
import { shownDate, shownFigures } from "@/ui/writing";

interface Props {
  rows: RateRow[];
  limits: RateLimits;
  mayChange: boolean;
}

/**
 * Rates by kind, pair and date: typed, from a file, or from the feed; and what one currency is
 * worth in another.
 */
export function Rates({ rows, limits, mayChange }: Props) {
  const work = useWork();
  const router = useRouter();
  const [busy, setBusy] = useState(false);
  const fetchMonth = async () => {
    setBusy(true);
    const to = work.today;
    const result = await saveRecordAction("feed", { from: `${to.slice(0, 8)}01`, to }).catch(
      () => null,
    );
    setBusy(false);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The feed did not answer. Try again.");
    const counts = result.value as { added: number; changed: number; same: number };
    toast.success(
      `${counts.added} rates added, ${counts.changed} changed, ${counts.same} as they were.`,
    );
    router.refresh();
  };
  return (
    <RecordPage<RateRow>
      title="Rates"
      note="one unit of the base in units of the quote"
      name="rates"
      rows={rows}
      of={rows[0]?.of}
      rowKey={(r) => `${r.kind} ${r.base} ${r.quote} ${r.date}`}
      mayChange={mayChange}
      add="Add a rate"
      notice={
        <>
          <AskRate />
          <RateAge limits={limits} mayChange={mayChange} />
        </>
      }
      empty={
        <Empty title="No rate yet">
          Load a file with the columns kind, base, quote, date and rate, or fetch this month from
          the feed.
        </Empty>
      }
      actions={
        mayChange && (
          <>
            <FileLoad label="Load" what="rates" load={sendTable("rates")} />
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() => void fetchMonth()}
            >
              {busy ? "Fetching" : "Fetch this month"}
            </button>
          </>
        )
      }
      columns={[
        {
          key: "date",
          header: "Date",
          width: 120,
          value: (r) => r.date,
          cell: (r) => shownDate(r.date),
        },
        { key: "kind", header: "Kind", width: 110, value: (r) => r.kind },
        { key: "base", header: "Base", width: 90, value: (r) => r.base },
        { key: "quote", header: "Quote", width: 90, value: (r) => r.quote },
        {
          key: "rate",
          header: "Rate",
          width: 140,
          align: "right",
          value: (r) => Number(r.rate),
          cell: (r) => shownFigures(r.rate),
        },
        { key: "source", header: "Source", value: (r) => r.source },
        { key: "by", header: "Entered by", value: (r) => r.by },
      ]}
      fields={[
        {
          key: "kind",
          label: "Kind",
          kind: "select",
          options: RATE_KINDS.map((k) => ({ value: k, text: k })),
        },
        {
          key: "base",
          label: "Base",
          kind: "select",
          options: CURRENCIES.map((c) => ({ value: c, text: c })),
        },
        {
          key: "quote",
          label: "Quote",
          kind: "select",
          options: CURRENCIES.map((c) => ({ value: c, text: c })),
        },
        { key: "date", label: "Date", kind: "date", required: true },
        { key: "rate", label: "Rate", kind: "figure", required: true },
      ]}
      toValues={(r) => ({
        kind: r?.kind ?? "spot",
        base: r?.base ?? "EUR",
        quote: r?.quote ?? "USD",
        date: r?.date ?? work.today,
        rate: r?.rate ?? "",
      })}
      save={(v) => saveRecordAction("rate", { rows: [v], source: "typed", take: true })}
    />
  );
}

function AskRate() {
  const work = useWork();
  const [from, setFrom] = useState("GBP");
  const [to, setTo] = useState("EUR");
  const [date, setDate] = useState(work.today);
  const [said, setSaid] = useState("");
  const choose = (label: string, value: string, set: (v: string) => void) => (
    <select
      aria-label={label}
      className="field w-24"
      value={value}
      onChange={(e) => set(e.target.value)}
    >
      {CURRENCIES.map((c) => (
        <option key={c}>{c}</option>
      ))}
    </select>
  );
  return (
    <form
      className="panel flex items-center gap-2 px-3 py-2"
      onSubmit={async (e) => {
        e.preventDefault();
        const r = await askRateAction({ from, to, date }).catch(() => null);
        setSaid(
          !r
            ? "The server did not answer. Try again."
            : r.ok
              ? `1 ${from} = ${shownFigures(r.value.rate)} ${to} (${r.value.how})`
              : r.message,
        );
      }}
    >
      <span>One</span>
      {choose("From", from, setFrom)}
      <span>in</span>
      {choose("To", to, setTo)}
      <span>on</span>
      <DateField
        as="day"
        aria-label="On"
        className="w-40"
        value={date}
        onChange={(text) => setDate(text)}
        required
      />
      <button type="submit" className="button">
        Ask
      </button>
      <span role="status" className="font-semibold">
        {said}
      </span>
    </form>
  );
}
