"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import { documentPage } from "@/core/documents";
import { minor } from "@/core/shared";
import type { ReceiptView as View } from "@/server/banks";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";

/** A receipt: what it settles, and the line of the bank's statement that it comes of. */
export function ReceiptView({ receipt: r }: { receipt: View }) {
  const work = useWork();
  const [papers, setPapers] = useState(false);
  const documentId = useCallback(() => Promise.resolve(r.id), [r.id]);
  const settled = r.items.reduce((t, i) => t + i.taken - i.discount, 0n);
  return (
    <Page
      title={r.number}
      status={<Status of={r.status} />}
      note={`from ${r.payer}, ${shownDate(r.date)}`}
      panel={papers && <PapersPanel id={documentId} onClose={() => setPapers(false)} />}
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
          <Link className="button" href={work.link(`/documents/${r.id}`)}>
            Chain
          </Link>
          {r.line && work.may("read.banks") && (
            <Link
              className="button"
              href={work.link("/banks/lines", { status: "all", line: String(r.line.id) })}
            >
              Statement line
            </Link>
          )}
        </>
      }
      footer={
        <>
          <Fact label={`Received ${r.currency}`}>{shownAmount(r.amount, r.currency)}</Fact>
          {r.discount !== 0n && (
            <Fact label="Discount allowed">{shownAmount(r.discount, r.currency)}</Fact>
          )}
          <Fact label="Account">{r.bank}</Fact>
          {r.line && <Fact label="Statement">{r.line.statement}</Fact>}
          <span className="ml-auto">
            <Link
              className="link"
              href={work.link(
                `/${r.customer ? "receivables/customers" : "payables/suppliers"}/${r.partner}`,
              )}
            >
              {r.partner} {r.payer}
            </Link>
          </span>
        </>
      }
    >
      <div className="panel overflow-auto">
        <table className="sheet">
          <thead>
            <tr>
              <th>Settled item</th>
              <th className="num w-40">Settled</th>
              <th className="num w-40">Discount</th>
              <th className="num w-40">Received</th>
            </tr>
          </thead>
          <tbody>
            {r.items.map((i) => (
              <tr key={i.id}>
                <td>
                  <Link
                    className="link font-semibold"
                    href={work.link(documentPage(i.document.kind, i.document.id))}
                  >
                    {i.reference}
                  </Link>
                </td>
                <td className="num">{shownAmount(i.taken, r.currency)}</td>
                <td className="num">
                  {i.discount === 0n ? "" : shownAmount(i.discount, r.currency)}
                </td>
                <td className="num">{shownAmount(minor(i.taken - i.discount), r.currency)}</td>
              </tr>
            ))}
            {settled !== r.amount && (
              <tr>
                <td className="text-ink-2">
                  {settled < r.amount
                    ? "On the customer’s account, or as the journal says"
                    : "Short: charges or what was written off, as the journal says"}
                </td>
                <td />
                <td />
                <td className="num">{shownAmount(minor(r.amount - settled), r.currency)}</td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
      <div className="panel px-3 py-2">
        <b className="font-semibold">Journals</b>{" "}
        {r.journals.map((j) => (
          <Link key={j.id} className="link ml-3" href={work.link(`/ledger/journals/${j.id}`)}>
            {j.number}
            {j.reverses ? " (reversal)" : ""}
          </Link>
        ))}
      </div>
    </Page>
  );
}
