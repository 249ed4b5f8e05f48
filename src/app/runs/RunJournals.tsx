"use client";
import { useState } from "react";
import Link from "next/link";
import type { JournalDraft } from "@/core/ledger";
import type { RunView } from "@/server/runs";
import { useWork } from "@/ui/frame/work";
import { readRunDrafts } from "./actions";
import { shownAmount, shownDate } from "@/ui/writing";

/** The journals of a run: those that it has posted, or line by line those that it would post. */
export function RunJournals({ run, first }: { run: RunView; first: readonly JournalDraft[] }) {
  const work = useWork();
  if (run.journals.length === 0) return <Drafts run={run} first={first} />;
  return (
    <table className="sheet">
      <thead>
        <tr>
          <th className="w-36">Number</th>
          <th>Description</th>
          <th className="num w-40">Total</th>
        </tr>
      </thead>
      <tbody>
        {run.journals.map((j) => (
          <tr key={j.id}>
            <td>
              <Link className="link font-semibold" href={work.link(`/ledger/journals/${j.id}`)}>
                {j.number}
              </Link>
            </td>
            <td>{j.description}</td>
            <td className="num">{shownAmount(j.total, run.currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Drafts({ run, first }: { run: RunView; first: readonly JournalDraft[] }) {
  const work = useWork();
  const [more, setMore] = useState<{ of: typeof first; drafts: JournalDraft[] }>({
    of: first,
    drafts: [],
  });
  const [reading, setReading] = useState<boolean | "failed">(false);
  const drafts = [...first, ...(more.of === first ? more.drafts : [])];
  const readMore = async () => {
    setReading(true);
    const read = await readRunDrafts(String(run.id), drafts.length).catch(() => null);
    setReading(read?.ok ? false : "failed");
    if (read?.ok)
      setMore({ of: first, drafts: [...drafts.slice(first.length), ...read.value.drafts] });
  };
  const currencyOf = (company: string): string =>
    work.companies.find((c) => c.code === company)?.currency ?? run.currency;
  return (
    <>
      {drafts.map((d, i) => (
        <table key={i} className="sheet">
          <thead>
            <tr>
              <th>
                {d.company !== run.company && `${d.company} · `}
                {shownDate(d.date)} · {d.description}
              </th>
              <th>Coding</th>
              <th className="num w-36">Debit</th>
              <th className="num w-36">Credit</th>
            </tr>
          </thead>
          <tbody>
            {d.lines.map((l, k) => (
              <tr key={k}>
                <td>{l.account}</td>
                <td>{Object.values(l.dimensions).join(" · ")}</td>
                <td className="num">
                  {l.side === "debit" ? shownAmount(l.amount, currencyOf(d.company)) : ""}
                </td>
                <td className="num">
                  {l.side === "credit" ? shownAmount(l.amount, currencyOf(d.company)) : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
      {drafts.length < run.drafts && (
        <p className="flex items-center gap-3 p-3">
          <button
            type="button"
            className="button"
            disabled={reading === true}
            onClick={() => void readMore()}
          >
            Show more journals
          </button>
          <span className="text-ink-2">
            {drafts.length.toLocaleString("en")} of {run.drafts.toLocaleString("en")}
          </span>
          {reading === "failed" && (
            <span role="alert" className="text-coral">
              The server did not answer. Try again.
            </span>
          )}
        </p>
      )}
    </>
  );
}
