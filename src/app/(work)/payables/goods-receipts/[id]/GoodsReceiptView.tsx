"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import type { GoodsReceiptView as View } from "@/server/purchasing";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { cancelGoodsReceiptAction } from "../../orders/actions";
import { shownAmount, shownDate, shownQuantity } from "@/ui/writing";

/** A receipt: what came, what of it is not invoiced, and its journal. */
export function GoodsReceiptView({ receipt: r }: { receipt: View }) {
  const work = useWork();
  const [cancelling, setCancelling] = useState(false);
  const [papers, setPapers] = useState(false);
  const documentId = useCallback(() => Promise.resolve(r.id), [r.id]);
  const functional = work.companies.find((c) => c.code === r.company)?.currency ?? "EUR";
  return (
    <Page
      title={r.number}
      status={<Status of={r.status} />}
      note={`${r.title} · ${shownDate(r.date)}`}
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
          <Link className="button" href={work.link(`/payables/orders/${r.order.id}`)}>
            {r.order.number}
          </Link>
          {r.mayCancel && (
            <button type="button" className="button" onClick={() => setCancelling(true)}>
              Cancel the receipt
            </button>
          )}
        </>
      }
      footer={
        <>
          <Fact label={`At order price ${r.currency}`}>{shownAmount(r.amount, r.currency)}</Fact>
          <Fact label={`Not invoiced ${functional}`}>
            {shownAmount(
              r.lines.reduce((t, l) => t + l.leftover, 0n),
              functional,
            )}
          </Fact>
          <span className="ml-auto text-ink-2">
            {r.journals.length === 0
              ? "Nothing was accrued at receipt."
              : r.journals.map((j) => (
                  <Link
                    key={j.id}
                    className="link ml-3 font-semibold"
                    href={work.link(`/ledger/journals/${j.id}`)}
                  >
                    {j.number}
                  </Link>
                ))}
          </span>
        </>
      }
    >
      {cancelling && (
        <ReasonForm
          placeholder="Why is it cancelled?"
          button="Cancel the receipt"
          job={(reason) => cancelGoodsReceiptAction(r.id, reason)}
          done="Cancelled: what it accrued is taken back."
          close={() => setCancelling(false)}
        />
      )}
      <div className="panel overflow-auto">
        <table className="sheet">
          <thead>
            <tr>
              <th className="num w-10">#</th>
              <th>Description</th>
              <th className="num w-32">Quantity</th>
              <th className="num w-32">Not invoiced</th>
              <th className="num w-40">Accrued {functional}</th>
              <th className="num w-40">Leftover {functional}</th>
            </tr>
          </thead>
          <tbody>
            {r.lines.map((l) => (
              <tr key={l.no}>
                <td className="num text-ink-3">{l.no}</td>
                <td>{l.description}</td>
                <td className="num">
                  {shownQuantity(l.quantity)} {l.unit}
                </td>
                <td className="num">{l.left === 0n ? "" : shownQuantity(l.left)}</td>
                <td className="num">{shownAmount(l.value, functional)}</td>
                <td className="num">{shownAmount(l.leftover, functional)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
