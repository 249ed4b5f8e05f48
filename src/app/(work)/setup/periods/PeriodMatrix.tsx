"use client";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import { AREAS, type Area } from "@/core/access";
import type { PeriodMatrix } from "@/server/organisation";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { saveRecordAction } from "../actions";
import { YearForm } from "./YearForm";
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
      {adding && <YearForm matrix={matrix} close={() => setAdding(false)} />}
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
                <th>First day</th>
                <th>Last day</th>
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
