"use client";
import Link from "next/link";
import { useCallback, useState, type ReactNode } from "react";
import { minor } from "@/core/shared";
import type { ApprovalState } from "@/server/approvals";
import type { InvoiceView as View } from "@/server/payables";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { ApprovalHistory } from "../../../ledger/journals/[key]/ApprovalHistory";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { approveAction, returnAction, withdrawAction } from "../../../ledger/journals/actions";
import { cancelInvoiceAction } from "../actions";
import { OwedElsewhere } from "@/app/trade/OwedElsewhere";
import { PaperSums } from "@/app/trade/PaperFooter";
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * An invoice that is posted, waits, or was cancelled: its lines and taxes, what it made, what is
 * left of it, and what may be done.
 */
export function InvoiceView({
  view,
  approval,
  panel,
}: {
  view: View;
  approval: ApprovalState | null;
  panel: ReactNode;
}) {
  const work = useWork();
  const [papers, setPapers] = useState(false);
  const [asking, setAsking] = useState<"cancel" | "return" | null>(null);
  const { busy, messages, act } = useAct();
  const documentId = useCallback(() => Promise.resolve(view.id), [view.id]);
  const { content, figures } = view;
  const { currency } = figures;
  const dimensions = work.dimensions.filter((d) => content.lines.some((l) => l.dimensions[d.code]));
  const taxOf = new Map(figures.lines.map((l) => [l.line, l]));
  const left = view.items.reduce((t, i) => t + i.left, 0n);
  return (
    <Page
      strip={<PeriodStrip />}
      title={view.number ?? `${view.supplierName}, ${content.number}`}
      status={<Status of={view.status} />}
      note={`${content.kind} ${content.number} of ${view.supplierName}${content.description ? ` · ${content.description}` : ""}`}
      panel={papers ? <PapersPanel id={documentId} onClose={() => setPapers(false)} /> : panel}
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
          <Link className="button" href={work.link(`/documents/${view.id}`)}>
            Chain
          </Link>
          {view.mayCancel && (
            <button
              type="button"
              className="button"
              aria-expanded={asking === "cancel"}
              onClick={() => setAsking("cancel")}
            >
              Cancel the invoice
            </button>
          )}
          {approval?.mayWithdraw && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(() => withdrawAction(view.id), "Withdrawn: it is a draft again.")
              }
            >
              Withdraw
            </button>
          )}
          {approval?.mayDecide && (
            <button type="button" className="button" onClick={() => setAsking("return")}>
              Return
            </button>
          )}
          {approval?.mayDecide && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void act(() => approveAction(view.id), "Approved and posted.")}
            >
              Approve and post
            </button>
          )}
          {view.status !== "waiting" && work.may("prepare.payables") && (
            <Link className="button button-main" href={work.link("/payables/invoices/new")}>
              New invoice
            </Link>
          )}
        </>
      }
      footer={
        <>
          <PaperSums figures={figures} currency={currency} owed="owed by us" />
          {view.items.length > 0 && (
            <Fact label="Left to pay" tone={left === 0n ? "good" : "bad"}>
              {shownAmount(minor(left), currency)}
            </Fact>
          )}
          <OwedElsewhere owed={view.elsewhere} />
          <span className="ml-auto text-right text-ink-2">
            {view.journals.map((j) => (
              <button
                key={j.id}
                type="button"
                className="link ml-3 font-semibold"
                onClick={() => work.go({ beside: String(j.id) })}
              >
                {j.number}
              </button>
            ))}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      {asking === "cancel" && (
        <ReasonForm
          says="Its journals are reversed and its taxes taken back. The invoice keeps its number and stays to be seen."
          place="invoices"
          button="Cancel the invoice"
          job={(reason) => cancelInvoiceAction(view.id, reason)}
          done="Cancelled: its journals are reversed."
          close={() => setAsking(null)}
        />
      )}
      {asking === "return" && (
        <ReasonForm
          says="The preparer gets it back as a draft, with your reason."
          placeholder="What has to change?"
          button="Return to its preparer"
          job={(reason) => returnAction(view.id, reason)}
          done="Returned to its preparer."
          close={() => setAsking(null)}
        />
      )}
      {approval && approval.history.length > 0 && <ApprovalHistory approval={approval} />}
      <dl className="panel flex shrink-0 flex-wrap gap-x-8 gap-y-2 px-3.5 py-2.5">
        {[
          [
            "Supplier",
            <Link
              key="s"
              className="link font-semibold"
              href={work.link(`/payables/suppliers/${encodeURIComponent(content.supplier)}`)}
            >
              {content.supplier} {view.supplierName}
            </Link>,
          ],
          ["Invoice date", content.date],
          ["Journal date", content.postingDate || content.date],
          ["Tax period", content.taxPeriod],
          ["Number on the paper", content.number],
          ...[
            ["Corrects", view.corrects ? [view.corrects] : []] as const,
            ["Corrected by", view.correctedBy] as const,
          ]
            .filter(([, list]) => list.length > 0)
            .map(([label, list]) => [
              label,
              list.map((d) => (
                <Link
                  key={d.id}
                  className="link mr-2 font-semibold"
                  href={work.link(`/payables/invoices/${d.id}`)}
                >
                  {d.number}
                </Link>
              )),
            ]),
          [
            "Due",
            (view.items.length > 0 ? view.items : figures.instalments)
              .map((i) => shownDate(i.due))
              .join(", "),
          ],
          [
            "Tax is rounded",
            content.gross
              ? "out of each amount"
              : content.rounding === "line"
                ? "on each line"
                : "in total",
          ],
        ].map(([label, value], i) => (
          <div key={i}>
            <dt className="text-xs text-ink-2">{label}</dt>
            <dd className="font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      <div
        className="panel print-flow min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Lines"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="num w-10">#</th>
              <th>Account</th>
              {dimensions.map((d) => (
                <th key={d.code}>{d.name}</th>
              ))}
              <th>Description</th>
              <th className="w-24">Tax</th>
              <th className="num w-32">Net {currency}</th>
              <th className="num w-32">Tax</th>
            </tr>
          </thead>
          <tbody>
            {content.lines.map((l, i) => (
              <tr key={i}>
                <td className="num text-ink-3">{i + 1}</td>
                <td className="font-semibold">
                  {[
                    l.company,
                    l.account,
                    l.order && `${l.quantity} of ${l.order}`,
                    l.shares && `by ${l.shares}`,
                  ]
                    .filter(Boolean)
                    .join(" ")}
                </td>
                {dimensions.map((d) => (
                  <td key={d.code}>{l.dimensions[d.code] ?? ""}</td>
                ))}
                <td>{l.description || content.description}</td>
                <td>{l.taxCode}</td>
                <td className="num">{shownAmount(taxOf.get(i + 1)?.net ?? 0n, currency)}</td>
                <td className="num">{shownAmount(taxOf.get(i + 1)?.tax ?? 0n, currency)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
