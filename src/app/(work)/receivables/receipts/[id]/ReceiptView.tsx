"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import { minor } from "@/core/shared";
import type { ReceiptView as View } from "@/server/banks";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { JournalsOf, SettledItems } from "@/app/papers/SettledItems";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";
import { undoReceiptAction } from "../actions";

/** A receipt: what it settles, and the line of the bank's statement that it comes of. */
export function ReceiptView({ receipt: r }: { receipt: View }) {
  const work = useWork();
  const [papers, setPapers] = useState(false);
  const [undoing, setUndoing] = useState(false);
  const mayUndo =
    r.underWay &&
    (r.status === "posted" || r.status === "sent") &&
    r.line === null &&
    work.may("reverse.receivables");
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
          {mayUndo && (
            <button
              type="button"
              className="button"
              aria-expanded={undoing}
              onClick={() => setUndoing(!undoing)}
            >
              Undo
            </button>
          )}
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
          {r.line ? (
            <Fact label="Statement">{r.line.statement}</Fact>
          ) : (
            r.underWay &&
            (r.status === "posted" || r.status === "sent") && (
              <Fact label="Statement">not on a statement yet</Fact>
            )
          )}
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
      {r.debit && (
        <p className="text-ink-2">
          Debited by mandate {r.debit.mandate},{" "}
          <Link className="link" href={work.link(`/receivables/debits/runs/${r.debit.run}`)}>
            with its run
          </Link>
          .{r.debit.reason && ` ${r.debit.reason}.`}
        </p>
      )}
      {undoing && (
        <ReasonForm
          place="payments"
          says={
            r.status === "sent"
              ? "It counts as refused by the bank: what it pays is open again."
              : "What it pays is open again, and its journal is reversed."
          }
          button="Undo the receipt"
          job={(reason) => undoReceiptAction(r.id, reason)}
          done={({ journal }) => `Undone by ${journal}`}
          close={() => setUndoing(false)}
        />
      )}
      <SettledItems items={r.items} currency={r.currency} moved="Received">
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
      </SettledItems>
      <JournalsOf journals={r.journals} />
    </Page>
  );
}
