"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { Popover, PopoverButton, PopoverPanel } from "@headlessui/react";
import { ListFilter } from "lucide-react";
import type { JournalRow } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { dateColumn, statusColumn } from "@/ui/table/documentColumns";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { ForEachButton, useForEachDraft } from "@/app/lib/useForEach";
import { postStoredAction } from "./actions";
import { FigureField } from "@/ui/FigureField";
import { shownAmount, shownDate } from "@/ui/writing";

export function JournalList({
  list,
  currency,
}: {
  list: StartOfList<JournalRow>;
  currency: string;
}) {
  const { rows: items, pages } = useListPages("journals", list);
  const work = useWork();
  const router = useRouter();
  const [selected, setSelected] = useState<string[]>([]);
  const posting = useForEachDraft(postStoredAction);
  const drafts = items
    .filter((i) => i.status === "draft" && selected.includes(String(i.id)))
    .map((i) => ({ id: i.id, name: i.description }));
  const columns = useMemo(
    (): TableColumn<JournalRow>[] => [
      {
        key: "number",
        header: "Number",
        width: 124,
        value: (r) => r.number ?? "",
        cell: (r) =>
          r.number ? (
            <b className="font-semibold">{r.number}</b>
          ) : (
            <span className="text-ink-3">when posted</span>
          ),
      },
      statusColumn(),
      dateColumn(),
      { key: "type", header: "Type", width: 120, value: (r) => r.type },
      { key: "description", header: "Description", value: (r) => r.description },
      { key: "preparedBy", header: "Prepared by", width: 140, value: (r) => r.preparedBy },
      { key: "period", header: "Period", width: 100, hidden: true, value: (r) => r.period },
      { key: "origin", header: "Source", width: 130, value: (r) => r.origin },
      {
        key: "postedAt",
        header: "Posted",
        width: 130,
        hidden: true,
        value: (r) => r.postedAt ?? "",
        cell: (r) =>
          r.postedAt ? `${shownDate(r.postedAt.slice(0, 10))} ${r.postedAt.slice(11, 16)}` : "",
      },
      {
        key: "amount",
        header: "Amount",
        width: 136,
        align: "right",
        sum: true,
        value: (r) => r.amount,
        cell: (r) =>
          r.currency === currency ? (
            shownAmount(r.amount, currency)
          ) : (
            <>
              {shownAmount(r.amount, r.currency)}{" "}
              <span className="text-xs text-ink-3">{r.currency}</span>
            </>
          ),
      },
    ],
    [currency],
  );
  return (
    <>
      <Problems messages={posting.problems} />
      <DataTable
        name="journals"
        rows={items}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={currency}
        currencyOf={(r) => r.currency}
        counts={(r) => r.status === "posted" || r.status === "reversed"}
        totalName="Total posted"
        selectable
        onSelect={setSelected}
        onOpen={(r) => router.push(work.link(`/ledger/journals/${r.id}`))}
        pages={pages}
        kept={list.kept.columns}
        keep={(v) => void keepPreference("table.journals", v)}
        empty={
          <Empty title="No journals here">
            Nothing was posted in these months.{" "}
            {work.may("prepare.ledger") && (
              <Link className="link" href={work.link("/ledger/journals/new")}>
                Enter a journal
              </Link>
            )}
          </Empty>
        }
        extra={
          work.may("post.ledger") && (
            <ForEachButton chosen={drafts} one="journal" several="journals" {...posting.button} />
          )
        }
      />
    </>
  );
}

export interface JournalFilter {
  type: string;
  preparer: string;
  account: string;
  amountFrom: string;
  amountTo: string;
}
const EMPTY: JournalFilter = { type: "", preparer: "", account: "", amountFrom: "", amountTo: "" };

/** What else the list can be narrowed by. The address keeps it. */
function MoreFilters({
  filter,
  types,
  people,
}: {
  filter: JournalFilter;
  types: { code: string; name: string }[];
  people: { login: string; name: string }[];
}) {
  const work = useWork();
  const [wanted, setWanted] = useState(filter);
  const count = Object.values(filter).filter(Boolean).length;
  const set = (key: keyof JournalFilter) => (e: { target: { value: string } }) =>
    setWanted((w) => ({ ...w, [key]: e.target.value }));
  const apply = (next: JournalFilter) =>
    work.go(Object.fromEntries(Object.entries(next).map(([k, v]) => [k, v.trim() || null])));
  return (
    <Popover>
      <PopoverButton className="button">
        <ListFilter size={15} aria-hidden />
        Filter{count > 0 ? ` ${count}` : ""}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 w-72 rounded-lg border border-line bg-panel p-3 shadow-[0_10px_30px_#0b2f3a2b]"
      >
        {({ close }) => (
          <form
            className="grid gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              apply(wanted);
              close();
            }}
          >
            <label className="label" htmlFor="f-type">
              Type
            </label>
            <select id="f-type" className="field" value={wanted.type} onChange={set("type")}>
              <option value="">any</option>
              {types.map((t) => (
                <option key={t.code} value={t.code}>
                  {t.name}
                </option>
              ))}
            </select>
            <label className="label" htmlFor="f-preparer">
              Prepared by
            </label>
            <select
              id="f-preparer"
              className="field"
              value={wanted.preparer}
              onChange={set("preparer")}
            >
              <option value="">anybody</option>
              {people.map((p) => (
                <option key={p.login} value={p.login}>
                  {p.name}
                </option>
              ))}
            </select>
            <label className="label" htmlFor="f-account">
              With a line on
            </label>
            <input
              id="f-account"
              className="field"
              placeholder="4010, 4010..4090, or a heading"
              value={wanted.account}
              onChange={set("account")}
            />
            <label className="label" htmlFor="f-from">
              Amount from, to
            </label>
            <span className="flex gap-2">
              <FigureField
                id="f-from"
                className="field text-right"
                value={wanted.amountFrom}
                onChange={(amountFrom) => setWanted((w) => ({ ...w, amountFrom }))}
              />
              <FigureField
                aria-label="Amount to"
                className="field text-right"
                value={wanted.amountTo}
                onChange={(amountTo) => setWanted((w) => ({ ...w, amountTo }))}
              />
            </span>
            <span className="mt-1 flex gap-2">
              <button type="submit" className="button button-main">
                Filter
              </button>
              {count > 0 && (
                <button
                  type="button"
                  className="button"
                  onClick={() => {
                    setWanted(EMPTY);
                    apply(EMPTY);
                    close();
                  }}
                >
                  Clear
                </button>
              )}
            </span>
          </form>
        )}
      </PopoverPanel>
    </Popover>
  );
}

export function JournalActions({
  status,
  text,
  filter,
  types,
  people,
}: {
  status: string;
  text: string;
  filter: JournalFilter;
  types: { code: string; name: string }[];
  people: { login: string; name: string }[];
}) {
  const work = useWork();
  const [wanted, setWanted] = useState(text);
  const target = work.link("/ledger/journals/new");
  const may = work.may("prepare.ledger");
  return (
    <>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          work.go({ text: wanted || null });
        }}
      >
        <input
          className="field w-44"
          aria-label="Search in journals"
          placeholder="Text, number or amount"
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
        />
      </form>
      <select
        aria-label="Status"
        className="field w-auto"
        value={status}
        onChange={(e) => work.go({ status: e.target.value === "all" ? null : e.target.value })}
      >
        <option value="all">All</option>
        <option value="draft">Drafts</option>
        <option value="waiting">Waiting</option>
        <option value="posted">Posted</option>
        <option value="reversed">Reversed</option>
      </select>
      <MoreFilters filter={filter} types={types} people={people} />
      {may && (
        <Link className="button" href={work.link("/ledger/batches")}>
          Batches
        </Link>
      )}
      {may && (
        <Link className="button" href={work.link("/ledger/load")}>
          Load
        </Link>
      )}
      {may && (
        <Link className="button button-main" href={target} data-keys="n=New journal">
          New journal <kbd>n</kbd>
        </Link>
      )}
    </>
  );
}
