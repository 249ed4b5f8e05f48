"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { AREAS, type Area } from "@/core/access";
import { WEEK_DIVISIONS } from "@/core/organisation";
import type { PeriodMatrix } from "@/server/organisation";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { saveRecordAction } from "../actions";
import { DateField } from "@/ui/date/DateField";
import { shownDate } from "@/ui/writing";

const ALL_BOOKS = "all";
const WORD: Record<string, string> = {
  open: "Open",
  closing: "Begin closing",
  closed: "Close",
  "not-yet": "Back to not yet",
};

/** Years × periods × areas: one page, where several periods may be switched at once. */
export function PeriodMatrixPage({ matrix }: { matrix: PeriodMatrix }) {
  const work = useWork();
  const router = useRouter();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const [area, setArea] = useState<Area | "all">("all");
  const [reason, setReason] = useState("");
  const [messages, setMessages] = useState<string[]>([]);
  const [adding, setAdding] = useState(false);
  const [busy, setBusy] = useState(false);
  const [book, setBook] = useState(matrix.books.length > 1 ? ALL_BOOKS : matrix.book);
  const [last, setLast] = useState<string | null>(null);
  const order = matrix.years.flatMap((y) => y.periods.map((p) => p.key));
  /** With shift, all from the one that was chosen before to this one. */
  const choose = (key: string, through: boolean) => {
    const [a, b] = [last === null ? -1 : order.indexOf(last), order.indexOf(key)];
    const keys = through && a >= 0 ? order.slice(Math.min(a, b), Math.max(a, b) + 1) : [key];
    setChosen((s) => {
      const next = new Set(s);
      const take = !s.has(key);
      for (const k of keys)
        if (take) next.add(k);
        else next.delete(k);
      return next;
    });
    setLast(key);
  };
  const run = async (kind: "periods" | "year", input: unknown, done: string) => {
    setBusy(true);
    const result = await saveRecordAction(kind, input).catch(() => null);
    setBusy(false);
    if (!result)
      return setMessages(["The server did not answer. Look again before you repeat this."]);
    if (!result.ok) return setMessages(result.problems.map((p) => p.message));
    setMessages([]);
    setChosen(new Set());
    setReason("");
    setAdding(false);
    toast.success(done);
    router.refresh();
  };
  const areas = area === "all" ? AREAS : [area];
  const reopening = [...chosen].some((key) =>
    matrix.years.some((y) =>
      y.periods.some((p) => p.key === key && areas.some((a) => p.states[a] === "closed")),
    ),
  );
  return (
    <Page
      title="Years and periods"
      note={`${work.company?.name} · ${matrix.book}. A posting needs its area and the ledger open, in every book that it belongs to.`}
      actions={
        matrix.mayAddYear && (
          <button type="button" className="button button-main" onClick={() => setAdding(true)}>
            Add year {matrix.next.name}
          </button>
        )
      }
      footer={
        chosen.size > 0 && (
          <>
            <b>
              {chosen.size} {chosen.size === 1 ? "period" : "periods"}
            </b>
            <label className="flex items-center gap-2">
              in
              <select
                className="field w-40"
                aria-label="Area"
                value={area}
                onChange={(e) => setArea(e.target.value as Area | "all")}
              >
                <option value="all">all areas</option>
                {matrix.may.map((a) => (
                  <option key={a} value={a}>
                    {a}
                  </option>
                ))}
              </select>
            </label>
            {matrix.books.length > 1 && (
              <label className="flex items-center gap-2">
                of
                <select
                  className="field w-36"
                  aria-label="Book"
                  value={book}
                  onChange={(e) => setBook(e.target.value)}
                >
                  <option value={ALL_BOOKS}>all books</option>
                  {matrix.books.map((b) => (
                    <option key={b.code} value={b.code}>
                      {b.code} only
                    </option>
                  ))}
                </select>
              </label>
            )}
            {reopening && (
              <input
                className="field w-64"
                aria-label="Reason"
                placeholder="Reason, where closed ones reopen"
                value={reason}
                onChange={(e) => setReason(e.target.value)}
              />
            )}
            <span className="ml-auto flex gap-2">
              {(["open", "closing", "closed", "not-yet"] as const).map((to) => (
                <button
                  key={to}
                  type="button"
                  className="button"
                  disabled={busy}
                  onClick={() =>
                    void run(
                      "periods",
                      {
                        company: matrix.company,
                        book,
                        area,
                        periods: [...chosen],
                        to,
                        reason,
                      },
                      `${chosen.size} switched.`,
                    )
                  }
                >
                  {WORD[to]}
                </button>
              ))}
            </span>
          </>
        )
      }
    >
      <Problems messages={messages} />
      {adding && (
        <YearForm
          matrix={matrix}
          busy={busy}
          onSave={(input) =>
            void run("year", input, "The year is there. Open its periods when they are needed.")
          }
          onLeave={() => setAdding(false)}
        />
      )}
      {matrix.years.length === 0 ? (
        <div className="panel flex-1">
          <Empty title="No fiscal year yet">
            {matrix.mayAddYear
              ? "Add the first year; it proposes calendar months."
              : "An administrator adds years."}
          </Empty>
        </div>
      ) : (
        <div
          className="panel min-h-0 flex-1 overflow-auto"
          tabIndex={0}
          role="region"
          aria-label="Periods"
        >
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-9">
                  <span className="sr-only">Choose</span>
                </th>
                <th>Period</th>
                <th>From</th>
                <th>To</th>
                {AREAS.map((a) => (
                  <th key={a}>{a.replace(/^./, (c) => c.toUpperCase())}</th>
                ))}
              </tr>
            </thead>
            <tbody>
              {matrix.years.flatMap((y) => [
                <tr key={y.name} className="font-bold">
                  <td />
                  <td>
                    {y.name}
                    {y.description && ` · ${y.description}`}
                  </td>
                  <td>{shownDate(y.start)}</td>
                  <td>{shownDate(y.end)}</td>
                  <td colSpan={AREAS.length} />
                </tr>,
                ...y.periods.map((p) => (
                  <tr key={p.key} aria-selected={chosen.has(p.key)}>
                    <td>
                      {matrix.may.length > 0 && (
                        <input
                          type="checkbox"
                          aria-label={`Choose ${p.key}`}
                          checked={chosen.has(p.key)}
                          onClick={(e) => choose(p.key, e.shiftKey)}
                          onChange={() => {}}
                        />
                      )}
                    </td>
                    <td>
                      {p.adjustment ? "Adjustments" : p.name}{" "}
                      <span className="text-ink-3">{p.key}</span>
                    </td>
                    <td>{shownDate(p.start)}</td>
                    <td>{shownDate(p.end)}</td>
                    {AREAS.map((a) => (
                      <td key={a}>
                        <Status of={p.states[a]} quiet />
                      </td>
                    ))}
                  </tr>
                )),
              ])}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}

function YearForm({
  matrix,
  busy,
  onSave,
  onLeave,
}: {
  matrix: PeriodMatrix;
  busy: boolean;
  onSave: (input: unknown) => void;
  onLeave: () => void;
}) {
  const [name, setName] = useState(matrix.next.name);
  const [description, setDescription] = useState("");
  const [start, setStart] = useState(matrix.next.start);
  const [end, setEnd] = useState("");
  const [more, setMore] = useState("0");
  const [division, setDivision] = useState(matrix.next.division);
  const [count, setCount] = useState(String(matrix.next.count));
  const [adjustment, setAdjustment] = useState(true);
  const first = matrix.years.length === 0;
  return (
    <form
      className="panel flex flex-wrap items-end gap-3 px-3 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        onSave({
          company: matrix.company,
          name,
          description,
          start,
          end,
          division,
          count: Number(count),
          adjustment,
          more: Number(more),
        });
      }}
    >
      <div>
        <label className="label" htmlFor="y-name">
          Year
        </label>
        <input
          id="y-name"
          className="field w-24"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="y-desc">
          Description
        </label>
        <input
          id="y-desc"
          className="field w-52"
          value={description}
          onChange={(e) => setDescription(e.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="y-start">
          {first ? "Starts" : "Follows on, from"}
        </label>
        <DateField
          as="day"
          id="y-start"
          className="w-40"
          readOnly={!first}
          value={start}
          onChange={(text) => setStart(text)}
        />
      </div>
      <div>
        <label className="label" htmlFor="y-end">
          Last day
        </label>
        <DateField
          as="day"
          id="y-end"
          className="w-40"
          title="Where it is empty: twelve months, or 52 weeks"
          value={end}
          onChange={(text) => setEnd(text)}
        />
      </div>
      <div>
        <label className="label" htmlFor="y-div">
          Divided into
        </label>
        <select
          id="y-div"
          className="field w-44"
          value={division}
          onChange={(e) => setDivision(e.target.value)}
        >
          <option value="months">calendar months</option>
          {WEEK_DIVISIONS.map((w) => (
            <option key={w} value={w}>
              weeks, {w}
            </option>
          ))}
          <option value="count">equal parts</option>
        </select>
      </div>
      {division === "count" && (
        <div>
          <label className="label" htmlFor="y-count">
            Periods
          </label>
          <input
            id="y-count"
            type="number"
            min={1}
            max={52}
            className="field w-20"
            value={count}
            onChange={(e) => setCount(e.target.value)}
          />
        </div>
      )}
      <label className="flex h-[30px] items-center gap-2">
        <input
          type="checkbox"
          checked={adjustment}
          onChange={(e) => setAdjustment(e.target.checked)}
        />
        adjustment period on the last day
      </label>
      <label className="flex h-[30px] items-center gap-2">
        and
        <input
          type="number"
          min={0}
          max={9}
          className="field w-14"
          aria-label="How many more years after it"
          value={more}
          onChange={(e) => setMore(e.target.value)}
        />
        more after it
      </label>
      <button type="submit" className="button button-main" disabled={busy}>
        {Number(more) > 0 ? `Add ${Number(more) + 1} years` : "Add the year"}
      </button>
      <button type="button" className="button" onClick={onLeave}>
        Cancel
      </button>
    </form>
  );
}
