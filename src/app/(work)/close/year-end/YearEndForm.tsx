"use client";
import { useState } from "react";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";

export function YearEndForm() {
  const work = useWork();
  const years = [...new Set(work.company?.periods.map((p) => p.year) ?? [])];
  const [year, setYear] = useState(years.at(-2) ?? years.at(-1) ?? "");
  const [account, setAccount] = useState("3210");
  const [byDimension, setByDimension] = useState(false);
  const { busy, messages, propose } = useProposeRun("year-end");
  return (
    <form
      className="panel grid max-w-2xl gap-3 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        void propose({ year, book: work.place.book, retainedEarnings: account, byDimension });
      }}
    >
      <Problems messages={messages} />
      <p className="text-ink-2">
        For {work.company?.name}, book {work.place.book}. You see every account and the exact
        journal before anything is posted. Results that arrive in the year later are carried by
        themselves.
      </p>
      <div className="grid grid-cols-2 gap-3">
        <div>
          <label className="label" htmlFor="year">
            Year
          </label>
          <select
            id="year"
            className="field"
            value={year}
            onChange={(e) => setYear(e.target.value)}
          >
            {years.map((y) => (
              <option key={y}>{y}</option>
            ))}
          </select>
        </div>
        <div>
          <label className="label" htmlFor="retained">
            Retained earnings account
          </label>
          <input
            id="retained"
            className="field"
            value={account}
            onChange={(e) => setAccount(e.target.value)}
          />
        </div>
      </div>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={byDimension}
          onChange={(e) => setByDimension(e.target.checked)}
        />
        Keep cost centres and projects apart in retained earnings
      </label>
      <div>
        <button type="submit" className="button button-main" disabled={busy || !year}>
          Propose
        </button>
      </div>
    </form>
  );
}
