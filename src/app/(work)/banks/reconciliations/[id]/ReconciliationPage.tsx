"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import type { ReconciliationView } from "@/server/banks";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { PdfPages } from "@/app/papers/PdfPages";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownDate } from "@/ui/writing";

/** A reconciliation with what was made of it when it was closed, and the papers that hang on it. */
export function ReconciliationPage({ of }: { of: ReconciliationView }) {
  const work = useWork();
  const id = useCallback(() => Promise.resolve(of.id), [of.id]);
  const [papers, setPapers] = useState(true);
  const { closed } = of;
  const note = closed
    ? `${shownDate(of.date)}, by ${closed.by}${closed.reopened ? ` · reopened by ${closed.reopened.by}: ${closed.reopened.reason}` : ""}`
    : shownDate(of.date);
  const url = closed ? `/export/reconciliation?id=${closed.id}` : "";
  return (
    <Page
      title={`Bank reconciliation ${of.bank}`}
      status={<Status of={closed ? (closed.reopened ? "cancelled" : "closed") : "draft"} />}
      note={note}
      actions={
        <>
          <button
            type="button"
            className="button"
            aria-expanded={papers}
            onClick={() => setPapers(!papers)}
          >
            Papers
          </button>
          <Link className="button" href={work.link("/banks", { account: of.bank })}>
            Position of {of.bank}
          </Link>
          {closed && (
            <a className="button" href={url} download>
              PDF
            </a>
          )}
        </>
      }
      panel={papers && <PapersPanel id={id} onClose={() => setPapers(false)} />}
    >
      {closed ? (
        <>
          <p className="break-all text-ink-2">
            Last journal of the chain {closed.head}; SHA-256 of this paper {closed.digest}
          </p>
          <div
            className="min-h-0 flex-1 overflow-y-auto rounded-lg border border-line bg-shade p-3"
            tabIndex={0}
            role="region"
            aria-label="What was closed"
          >
            <PdfPages url={url} name={`Bank reconciliation ${of.bank}`} />
          </div>
        </>
      ) : (
        <Empty title="Not closed yet">
          What you attach at the right is closed with it: its names and digests stand on the paper
          of the reconciliation, and from then on no paper of it can be added or removed.
        </Empty>
      )}
    </Page>
  );
}
