"use client";
import Link from "next/link";
import { useCallback, useState, type ReactNode } from "react";
import type { PartnerAddress } from "@/core/partners";
import { minor, readDate, type CalendarDate } from "@/core/shared";
import { priceText } from "@/core/trade";
import type { ApprovalState } from "@/server/approvals";
import type { SaleView as View, SentSale } from "@/server/receivables";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { OwedElsewhere } from "@/app/trade/OwedElsewhere";
import { PaperSums } from "@/app/trade/PaperFooter";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate, shownFigures } from "@/ui/writing";
import { ApprovalHistory } from "../../../ledger/journals/[key]/ApprovalHistory";
import { approveAction, returnAction, withdrawAction } from "../../../ledger/journals/actions";
import { cancelSaleAction, sendSaleAction } from "../actions";

/** Where an invoice went that was sent, and what went. */
function whatBecame({ to, isNewThere, noEInvoice }: SentSale): string {
  if (isNewThere !== null)
    return isNewThere
      ? `${to} has it now as a draft among its suppliers' invoices.`
      : `${to} has it among its suppliers' invoices already.`;
  return noEInvoice === ""
    ? `Sent to ${to}, on paper and as an e-invoice.`
    : `Sent to ${to} on paper only. As an e-invoice: ${noEInvoice}`;
}

/** An invoice to a customer that is posted, waits, or was cancelled. */
export function SaleView({
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
  const left = view.items.reduce((t, i) => t + i.left, 0n);
  const kind = content.kind === "invoice" ? "invoice" : "credit note";
  return (
    <Page
      strip={<PeriodStrip />}
      title={view.number ?? view.customerName}
      status={<Status of={view.status} />}
      note={[
        `${kind} to ${view.customerName}`,
        content.description,
        view.sentAt ? `sent ${shownDate(view.sentAt.slice(0, 10))}` : "",
      ]
        .filter(Boolean)
        .join(" · ")}
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
          {view.status === "posted" && (
            <>
              <a className="button" href={`/export/sale?id=${view.id}`}>
                PDF
              </a>
              <a className="button" href={`/export/sale?id=${view.id}&format=ubl`}>
                E-invoice
              </a>
            </>
          )}
          {view.mayCancel && (
            <button
              type="button"
              className="button"
              aria-expanded={asking === "cancel"}
              onClick={() => setAsking("cancel")}
            >
              Cancel the {kind}
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
            <>
              <button type="button" className="button" onClick={() => setAsking("return")}>
                Return
              </button>
              <button
                type="button"
                className="button button-main"
                disabled={busy}
                onClick={() => void act(() => approveAction(view.id), "Approved and posted.")}
              >
                Approve and post
              </button>
            </>
          )}
          {view.status === "posted" && work.may("prepare.receivables") && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void act(() => sendSaleAction(view.id), whatBecame)}
            >
              {view.sentAt ? "Send again" : "Send"}
            </button>
          )}
        </>
      }
      footer={
        <>
          <PaperSums figures={figures} currency={currency} owed="owed by the customer" />
          {view.items.length > 0 && (
            <Fact label="Open amount" tone={left === 0n ? "good" : "bad"}>
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
          says="Its journals are reversed and its taxes taken back. It keeps its number and stays to be seen."
          place="invoices"
          button={`Cancel the ${kind}`}
          job={(reason) => cancelSaleAction(view.id, reason)}
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
      <Facts view={view} />
      <Lines view={view} />
    </Page>
  );
}

/** A day as it was written on the invoice, by people or by a program, as the person reads days. */
function dayAsShown(text: string, today: CalendarDate): string {
  const day = readDate(text, today);
  return day === null ? text : shownDate(day);
}

const placeOf = (to: PartnerAddress | null | undefined): string =>
  to ? [to.name, to.street, `${to.postcode} ${to.city}`.trim()].filter(Boolean).join(", ") : "";

function Facts({ view }: { view: View }) {
  const work = useWork();
  const { content, figures } = view;
  const documents = (list: readonly { id: number; number: string }[]) =>
    list.map((d) => (
      <Link
        key={d.id}
        className="link mr-2 font-semibold"
        href={work.link(`/receivables/invoices/${d.id}`)}
      >
        {d.number}
      </Link>
    ));
  const due = view.items.length > 0 ? view.items : figures.instalments;
  const facts: [string, ReactNode][] = [
    [
      "Customer",
      <Link
        key="c"
        className="link font-semibold"
        href={work.link(`/receivables/customers/${encodeURIComponent(content.customer)}`)}
      >
        {content.customer} {view.customerName}
      </Link>,
    ],
    ["Kind", content.prepayment ? "Prepayment, earned by what sets it off" : ""],
    ["Invoice date", dayAsShown(content.date, work.today)],
    ["Journal date", dayAsShown(content.postingDate || content.date, work.today)],
    ["Supplied on", figures.suppliedOn ? shownDate(figures.suppliedOn) : ""],
    ["Delivered to", placeOf(figures.buyer?.delivery)],
    ["Customer's reference", content.reference],
    ["Terms", figures.terms],
    ["Due", due.map((i) => shownDate(i.due)).join(", ")],
    ["Corrects", view.corrects ? documents([view.corrects]) : ""],
    ["Corrected by", view.correctedBy.length > 0 ? documents(view.correctedBy) : ""],
  ];
  return (
    <dl className="panel flex shrink-0 flex-wrap gap-x-8 gap-y-2 px-3.5 py-2.5">
      {facts
        .filter(([, value]) => value !== "")
        .map(([label, value]) => (
          <div key={label}>
            <dt className="text-xs text-ink-2">{label}</dt>
            <dd className="font-semibold">{value}</dd>
          </div>
        ))}
    </dl>
  );
}

function Lines({ view }: { view: View }) {
  const work = useWork();
  const { content, figures } = view;
  const { currency } = figures;
  const taxOf = new Map(figures.lines.map((l) => [l.line, l]));
  const dimensions = work.dimensions.filter((d) => content.lines.some((l) => l.dimensions[d.code]));
  const discounts = figures.values.some((v) => v.discount !== "0");
  return (
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
            <th className="num w-28">Quantity</th>
            <th className="num w-28">Price</th>
            {discounts && <th className="num w-20">Less %</th>}
            <th className="w-24">Tax</th>
            <th className="num w-32">Net {currency}</th>
            <th className="num w-28">Tax</th>
          </tr>
        </thead>
        <tbody>
          {figures.values.map((v) => {
            const l = content.lines[v.line - 1]!;
            const sums = taxOf.get(v.line);
            return (
              <tr key={v.line}>
                <td className="num text-ink-3">{v.line}</td>
                <td className="font-semibold">
                  {content.prepayment || l.setsOff
                    ? ""
                    : [l.company, l.account, l.shares && `by ${l.shares}`]
                        .filter(Boolean)
                        .join(" ")}
                </td>
                {dimensions.map((d) => (
                  <td key={d.code}>{l.dimensions[d.code] ?? ""}</td>
                ))}
                <td>
                  {l.item && <span className="pr-1.5 text-ink-2">{l.item}</span>}
                  {l.description || content.description}
                  {l.setsOff && <span className="text-ink-2">, sets off {l.setsOff}</span>}
                  {l.earnedFrom && (
                    <span className="text-ink-2">
                      , earned from {dayAsShown(l.earnedFrom, work.today)} to{" "}
                      {dayAsShown(l.earnedTo, work.today)}
                    </span>
                  )}
                </td>
                <td className="num">
                  {v.price === "" ? "" : `${shownFigures(v.quantity)} ${l.unit}`.trim()}
                </td>
                <td className="num">
                  {v.price === "" ? "" : shownFigures(priceText(v.price, currency))}
                </td>
                {discounts && (
                  <td className="num">{v.discount === "0" ? "" : shownFigures(v.discount)}</td>
                )}
                <td>{l.taxCode}</td>
                <td className="num">{shownAmount(sums?.net ?? 0n, currency)}</td>
                <td className="num">{shownAmount(sums?.tax ?? 0n, currency)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
