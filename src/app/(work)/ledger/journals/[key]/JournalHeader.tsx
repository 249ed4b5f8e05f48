"use client";
import { useLayoutEffect, useRef, type KeyboardEvent } from "react";
import { addDays, CURRENCIES, dateText, readDate } from "@/core/shared";
import { RATE_KINDS } from "@/core/rates";
import type { DraftCheck } from "@/server/ledger";
import { Field } from "@/ui/Field";
import { useWork } from "@/ui/frame/work";
import type { Header } from "./useDraft";
import { DateField } from "@/ui/date/DateField";
import { FigureField } from "@/ui/FigureField";
import { shownFigures } from "@/ui/writing";

interface Props {
  header: Header;
  set: <K extends keyof Header>(key: K, value: Header[K]) => void;
  start: Header;
  types: { code: string; name: string; naming: string; reverses: boolean }[];
  functional: string;
  isNew: boolean;
  check: DraftCheck | null;
  problem: (field: string) => string | undefined;
  /** What keys do in the head. */
  onKeyDown: (e: KeyboardEvent) => void;
  /** The period of the batch that the journal belongs to. */
  period: string | null;
}

const TYPED = ["description", "date", "reference", "reverseOn"] as const;

/** What is said once for the whole journal. */
export function JournalHeader({
  header,
  set,
  start,
  types,
  functional,
  isNew,
  check,
  problem,
  period: wanted,
  onKeyDown,
}: Props) {
  const work = useWork();
  const panel = useRef<HTMLDivElement>(null);
  // What was typed into the page before its script ran stands in the fields and nowhere else.
  useLayoutEffect(() => {
    for (const key of TYPED) {
      const typed = panel.current?.querySelector<HTMLInputElement>(`[name=${key}]`)?.value;
      if (typed !== undefined && typed !== start[key]) set(key, typed);
    }
  }, [start, set]);
  const day = (text: string) => (text ? readDate(text, work.today) : null);
  const date = day(header.date);
  const adjustment = work.company?.periods.find((p) => p.adjustment && p.end === date);
  const period = work.company?.periods.find(
    (p) => !p.adjustment && date && p.start <= date && date <= p.end,
  );
  const state = period?.states[header.book ?? work.place.book];
  const early = !date
    ? undefined
    : !period
      ? "No period lies there"
      : state === "closed"
        ? `${period.name} is closed`
        : state === "not-yet"
          ? `${period.name} is not open yet`
          : wanted && period.key !== wanted
            ? `The batch is for ${wanted}`
            : undefined;
  const currency = header.currency || functional;
  const foreign = currency !== functional;
  const rate = check?.previews.find((p) => p.company === header.company)?.rate;
  // What the type proposes: a beginning for the description, and the day of the reversal.
  const named = (naming: string): string =>
    naming
      .replace("{month}", period?.name ?? "")
      .replace("{year}", period?.year ?? "")
      .replace("{company}", work.company?.name ?? "");
  const type = types.find((t) => t.code === header.type);
  const departs =
    type?.naming &&
    header.description.trim() &&
    !header.description.startsWith(named(type.naming).trim().split(/[:,]/)[0]!)
      ? `Usually “${named(type.naming)}…”`
      : undefined;
  const choose = (code: string) => {
    const chosen = types.find((t) => t.code === code);
    const before = type?.naming ? named(type.naming) : "";
    set("type", code);
    if (chosen?.naming && (header.description.trim() === "" || header.description === before))
      set("description", named(chosen.naming));
    if (chosen?.reverses && !header.reverseOn && period)
      set("reverseOn", dateText(addDays(period.end, 1)));
    else if (!chosen?.reverses && type?.reverses) set("reverseOn", "");
  };
  const tidy = (key: "date" | "reverseOn") => (e: { target: { value: string } }) => {
    const read = day(e.target.value);
    if (read) set(key, dateText(read));
  };
  return (
    <div
      ref={panel}
      onKeyDown={onKeyDown}
      className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5"
    >
      <Field id="head-type" label="Type" problem={problem("type")} width="w-[122px]">
        {(p) => (
          <select
            {...p}
            className="field"
            value={header.type}
            onChange={(e) => choose(e.target.value)}
          >
            {types.map((t) => (
              <option key={t.code} value={t.code}>
                {t.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      <Field
        id="head-description"
        label="Description"
        required
        problem={problem("description")}
        hint={departs}
        width="min-w-[160px] flex-1"
      >
        {(p) => (
          <input
            {...p}
            name="description"
            className="field"
            value={header.description}
            autoFocus={isNew}
            onChange={(e) => set("description", e.target.value)}
          />
        )}
      </Field>
      <Field
        id="head-journal-date"
        label="Journal date"
        required
        problem={problem("date") ?? early}
        width="w-[108px]"
      >
        {(p) => (
          <DateField
            {...p}
            name="date"
            value={header.date}
            placeholder="31 Oct 2026"
            onChange={(text) => set("date", text)}
            onBlur={tidy("date")}
          />
        )}
      </Field>
      <Field id="head-reference" label="Reference" problem={problem("reference")} width="w-[104px]">
        {(p) => (
          <input
            {...p}
            name="reference"
            className="field"
            value={header.reference}
            onChange={(e) => set("reference", e.target.value)}
          />
        )}
      </Field>
      <Field id="head-currency" label="Currency" problem={problem("currency")} width="w-[80px]">
        {(p) => (
          <select
            {...p}
            className="field"
            value={currency}
            onChange={(e) => set("currency", e.target.value === functional ? null : e.target.value)}
          >
            {CURRENCIES.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        )}
      </Field>
      {foreign && (
        <Field
          id="head-rate"
          label={rate ? `Rate, ${rate.how}` : "Rate"}
          problem={problem("rate")}
          width="w-[214px]"
        >
          {(p) => (
            <span className="flex gap-1">
              <select
                aria-label="Kind of rate"
                className="field w-[88px]"
                value={header.rate ? (header.inverse ? "inverse" : "typed") : header.rateKind}
                onChange={(e) => {
                  const kind = e.target.value;
                  if (kind === "typed" || kind === "inverse") {
                    set("inverse", kind === "inverse");
                    set("rate", header.rate || (rate?.rate ?? "1"));
                  } else {
                    set("rateKind", kind as Header["rateKind"]);
                    set("rate", "");
                  }
                }}
              >
                {RATE_KINDS.map((k) => (
                  <option key={k} value={k}>
                    {k}
                  </option>
                ))}
                <option value="typed">typed</option>
                <option value="inverse">inverse</option>
              </select>
              <FigureField
                {...p}
                name="rate"
                className="field flex-1 text-right"
                value={header.rate}
                placeholder={shownFigures(rate?.rate ?? "")}
                title={
                  header.inverse
                    ? `${currency} for one ${functional}`
                    : `${functional} for one ${currency}`
                }
                onChange={(rate) => set("rate", rate)}
              />
            </span>
          )}
        </Field>
      )}
      <Field
        id="head-reverses-on"
        label="Reverses on"
        problem={problem("reverseOn")}
        width="w-[104px]"
      >
        {(p) => (
          <DateField
            {...p}
            name="reverseOn"
            value={header.reverseOn}
            onChange={(text) => set("reverseOn", text)}
            onBlur={tidy("reverseOn")}
          />
        )}
      </Field>
      <Field
        id={adjustment ? "head-books-period" : "head-books"}
        label={adjustment ? "Books · period" : "Books"}
        problem={problem("book") ?? problem("period")}
        width={adjustment ? "w-[180px]" : "w-[96px]"}
      >
        {(p) => (
          <span className="flex gap-1">
            <select
              {...p}
              className="field"
              value={header.book ?? ""}
              onChange={(e) => set("book", e.target.value || null)}
            >
              <option value="">all</option>
              {work.books
                .filter((b) => !b.ended || b.code === header.book)
                .map((b) => (
                  <option key={b.code} value={b.code}>
                    {b.code} only
                  </option>
                ))}
            </select>
            {adjustment && (
              <select
                aria-label="Period"
                className="field"
                value={header.period ?? ""}
                onChange={(e) => set("period", e.target.value || null)}
              >
                <option value="">month</option>
                <option value={adjustment.key}>Adj.</option>
              </select>
            )}
          </span>
        )}
      </Field>
    </div>
  );
}
