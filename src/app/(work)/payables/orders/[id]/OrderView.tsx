"use client";
import Link from "next/link";
import { useCallback, useMemo, useState } from "react";
import { dateText, decimalText, minor, readDate } from "@/core/shared";
import { priceText } from "@/core/trade";
import type { ApprovalState } from "@/server/approvals";
import type { OrderView as View } from "@/server/purchasing";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { useFormName } from "@/app/lib/useFormName";
import { useWork } from "@/ui/frame/work";
import { EntryGrid } from "@/ui/grid/EntryGrid";
import { startHistory } from "@/ui/grid/gridModel";
import { Fact, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { ApprovalHistory } from "../../../ledger/journals/[key]/ApprovalHistory";
import { approveAction, returnAction, withdrawAction } from "../../../ledger/journals/actions";
import {
  changeOrderAction,
  closeOrderAction,
  receiveOrderAction,
  sendOrderAction,
} from "../actions";
import { orderContent, orderRows, useOrderGrid, type OrderLookups } from "./orderGrid";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownDate, shownQuantity, shownFigures } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

type Side = "papers" | "receive" | "changes" | null;

/**
 * An order in force, or a request: what was ordered, received and invoiced, and what can be done
 * with it.
 */
export function OrderView({
  view,
  approval,
  lookups,
  currency: functional,
}: {
  view: View;
  approval: ApprovalState | null;
  lookups: OrderLookups | null;
  currency: string;
}) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const [side, setSide] = useState<Side>(null);
  const [changing, setChanging] = useState(false);
  const [returning, setReturning] = useState(false);
  const documentId = useCallback(() => Promise.resolve(view.id), [view.id]);
  const currency = view.content.currency || functional;
  const open = view.kind === "order" && view.status === "open";
  const left = (quantity: bigint, of: bigint, net: bigint): bigint =>
    quantity > of ? (net * (quantity - of)) / quantity : 0n;
  const outstanding = minor(
    view.lines.reduce((t, l) => t + left(l.quantity, l.received, l.net), 0n),
  );
  const toInvoice = minor(view.lines.reduce((t, l) => t + left(l.quantity, l.invoiced, l.net), 0n));
  return (
    <Page
      title={view.number ?? (view.kind === "request" ? "Request" : `Order to ${view.supplierName}`)}
      status={
        <Status
          of={
            open
              ? "in-force"
              : view.kind === "request" && view.status === "posted"
                ? "approved"
                : view.status
          }
        />
      }
      note={`${view.supplierName ? `to ${view.supplierName} · ` : ""}${shownDate(view.content.date)}${view.content.description ? ` · ${view.content.description}` : ""}${view.sentAt ? ` · sent ${shownDate(view.sentAt.slice(0, 10))}` : ""}`}
      panel={
        side === "papers" ? (
          <PapersPanel id={documentId} onClose={() => setSide(null)} />
        ) : side === "receive" ? (
          <Receive
            view={view}
            busy={busy}
            onClose={() => setSide(null)}
            onReceive={(form, input) =>
              act(
                () => receiveOrderAction(form, input),
                "Received.",
                () => setSide(null),
              )
            }
          />
        ) : side === "changes" ? (
          <Changes view={view} currency={currency} onClose={() => setSide(null)} />
        ) : undefined
      }
      actions={
        <>
          <button
            type="button"
            className="button"
            aria-expanded={side === "papers"}
            onClick={() => setSide(side === "papers" ? null : "papers")}
          >
            Papers
          </button>
          {view.number && (
            <Link className="button" href={work.link(`/documents/${view.id}`)}>
              Chain
            </Link>
          )}
          {view.versions.length > 0 && (
            <button
              type="button"
              className="button"
              aria-expanded={side === "changes"}
              onClick={() => setSide(side === "changes" ? null : "changes")}
            >
              Changes {view.versions.length}
            </button>
          )}
          {view.kind === "order" && view.number && (
            <a className="button" href={`/export/order?id=${view.id}`}>
              PDF
            </a>
          )}
          {open && work.may("prepare.payables") && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(() => sendOrderAction(view.id), "Sent: it is in the mailbox.")
              }
            >
              Send
            </button>
          )}
          {open && view.mayPlace && lookups && (
            <button
              type="button"
              className="button"
              aria-pressed={changing}
              onClick={() => setChanging(!changing)}
            >
              Change
            </button>
          )}
          {view.kind === "order" && view.mayPlace && (open || view.status === "closed") && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(
                  () => closeOrderAction(view.id, open ? "closed" : "open"),
                  open ? "Closed: nothing more is expected." : "In force again.",
                )
              }
            >
              {open ? "Close" : "Open again"}
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
            <button type="button" className="button" onClick={() => setReturning(true)}>
              Return
            </button>
          )}
          {approval?.mayDecide && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void act(() => approveAction(view.id), "Approved.")}
            >
              Approve
            </button>
          )}
          {open && work.may("prepare.payables") && (
            <button
              type="button"
              className="button button-main"
              aria-expanded={side === "receive"}
              onClick={() => setSide(side === "receive" ? null : "receive")}
            >
              Receive
            </button>
          )}
        </>
      }
      footer={
        <>
          <Fact label={`Net ${currency}`}>{shownAmount(view.check.net, currency)}</Fact>
          {view.kind === "order" && (
            <Fact label="To come">{shownAmount(open ? outstanding : 0n, currency)}</Fact>
          )}
          {view.kind === "order" && (
            <Fact label="To be invoiced">{shownAmount(open ? toInvoice : 0n, currency)}</Fact>
          )}
          <span className="ml-auto flex flex-wrap justify-end gap-x-4">
            {view.receipts.map((r) => (
              <Link
                key={r.id}
                className="link font-semibold"
                href={work.link(`/payables/goods-receipts/${r.id}`)}
              >
                {r.number}
                {r.status === "cancelled" ? " (cancelled)" : ""}
              </Link>
            ))}
            {view.invoices.map((i) => (
              <Link
                key={i.id}
                className="link font-semibold"
                href={work.link(`/payables/invoices/${i.id}`)}
              >
                {i.number}
              </Link>
            ))}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      {returning && (
        <ReasonForm
          placeholder="What has to change?"
          button="Return to its preparer"
          job={(reason) => returnAction(view.id, reason)}
          done="Returned to its preparer."
          close={() => setReturning(false)}
        />
      )}
      {approval && approval.history.length > 0 && <ApprovalHistory approval={approval} />}
      {changing && lookups ? (
        <Change
          view={view}
          lookups={lookups}
          currency={currency}
          onDone={() => setChanging(false)}
        />
      ) : (
        <div
          className="panel min-h-0 flex-1 overflow-auto"
          tabIndex={0}
          role="region"
          aria-label="Lines"
        >
          <table className="sheet">
            <thead>
              <tr>
                <th className="num w-10">#</th>
                <th className="w-24">Item</th>
                <th>Description</th>
                <th className="w-24">Account</th>
                <th className="w-40">Coding</th>
                <th className="w-44">Delivery date</th>
                <th className="num w-24">Ordered</th>
                <th className="num w-24">Received</th>
                <th className="num w-24">Invoiced</th>
                <th className="num w-24">Price</th>
                <th className="num w-32">Net {currency}</th>
              </tr>
            </thead>
            <tbody>
              {(view.lines.length > 0 ? view.lines : []).map((l) => (
                <tr key={l.no}>
                  <td className="num text-ink-3">{l.no}</td>
                  <td className="font-semibold">{l.item}</td>
                  <td>{l.description}</td>
                  <td>{l.account}</td>
                  <td>{Object.values(l.dimensions).filter(Boolean).join(" · ")}</td>
                  <td
                    className={
                      l.received < l.quantity && (l.deliveries[0]?.date ?? "9") < work.today && open
                        ? "text-coral"
                        : ""
                    }
                  >
                    {l.deliveries
                      .map((d) =>
                        l.deliveries.length > 1
                          ? `${shownQuantity(BigInt(d.quantity))} on ${shownDate(d.date)}`
                          : shownDate(d.date),
                      )
                      .join(", ")}
                  </td>
                  <td className="num">
                    {shownQuantity(l.quantity)} {l.unit}
                  </td>
                  <td className="num">{l.received === 0n ? "" : shownQuantity(l.received)}</td>
                  <td className="num">{l.invoiced === 0n ? "" : shownQuantity(l.invoiced)}</td>
                  <td className="num">{shownFigures(priceText(l.price, currency))}</td>
                  <td className="num">{shownAmount(l.net, currency)}</td>
                </tr>
              ))}
              {view.lines.length === 0 &&
                view.content.lines
                  .filter((l) => l.item || l.description || l.quantity)
                  .map((l, i) => (
                    <tr key={i}>
                      <td className="num text-ink-3">{i + 1}</td>
                      <td className="font-semibold">{l.item}</td>
                      <td>{l.description}</td>
                      <td>{l.account}</td>
                      <td>{Object.values(l.dimensions).filter(Boolean).join(" · ")}</td>
                      <td>{l.wanted || view.content.wanted}</td>
                      <td className="num">
                        {l.quantity} {l.unit}
                      </td>
                      <td />
                      <td />
                      <td className="num">{shownFigures(priceText(l.price, currency))}</td>
                      <td className="num">
                        {shownAmount(
                          view.check.lines.find((x) => x.line === i + 1)?.net ?? 0n,
                          currency,
                        )}
                      </td>
                    </tr>
                  ))}
            </tbody>
          </table>
        </div>
      )}
    </Page>
  );
}

/** What has come, line by line; what is still to come stands there already. */
function Receive({
  view,
  busy,
  onReceive,
  onClose,
}: {
  view: View;
  busy: boolean;
  onReceive: (form: string, input: unknown) => Promise<boolean>;
  onClose: () => void;
}) {
  const work = useWork();
  const form = useFormName();
  const [date, setDate] = useState(dateText(work.today));
  const [note, setNote] = useState("");
  const [quantities, setQuantities] = useState<Record<number, string>>(() =>
    Object.fromEntries(
      view.lines.map((l) => [
        l.no,
        l.quantity > l.received
          ? decimalText(minor(l.quantity - l.received), "KWD").replace(/\.?0+$/, "")
          : "",
      ]),
    ),
  );
  return (
    <SidePanel title="Receive" onClose={onClose} width={400}>
      <form
        className="grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void onReceive(form, {
            order: view.id,
            date: readDate(date, work.today) ?? date,
            note,
            lines: view.lines.map((l) => ({ no: l.no, quantity: quantities[l.no] ?? "" })),
          });
        }}
      >
        <div className="flex gap-2">
          <div className="flex-1">
            <label className="label" htmlFor="r-date">
              Day
            </label>
            <DateField id="r-date" value={date} onChange={(text) => setDate(text)} />
          </div>
          <div className="flex-1">
            <label className="label" htmlFor="r-note">
              Delivery note
            </label>
            <input
              id="r-note"
              className="field"
              value={note}
              onChange={(e) => setNote(e.target.value)}
            />
          </div>
        </div>
        {view.lines.map((l, i) => (
          <div key={l.no} className="flex items-end gap-2 border-t border-line-2 pt-2">
            <div className="min-w-0 flex-1">
              <p className="truncate font-semibold">
                {l.no} {l.description}
              </p>
              <p className="text-xs text-ink-2">
                {shownQuantity(l.received)} of {shownQuantity(l.quantity)} {l.unit} received
              </p>
            </div>
            <FigureField
              aria-label={`Quantity of line ${l.no}`}
              autoFocus={i === 0}
              className="field w-28 text-right"
              value={quantities[l.no] ?? ""}
              onChange={(quantity) => setQuantities((q) => ({ ...q, [l.no]: quantity }))}
            />
          </div>
        ))}
        <p className="text-xs text-ink-2">
          What goes back is written with a minus.{" "}
          {view.content.accrual === "receipt"
            ? "Each line is accrued at order price."
            : "Nothing is posted now; the run at the period’s end accrues what is not invoiced."}
        </p>
        <button type="submit" className="button button-main justify-self-start" disabled={busy}>
          Record goods receipt
        </button>
      </form>
    </SidePanel>
  );
}

/** Changing an order in force: lines in the grid, with a reason; what it said before is kept. */
function Change({
  view,
  lookups,
  currency,
  onDone,
}: {
  view: View;
  lookups: OrderLookups;
  currency: string;
  onDone: () => void;
}) {
  const { busy, messages, act } = useAct();
  const { columns, commit } = useOrderGrid(lookups, {
    currency: view.content.currency || currency,
    functional: currency,
  });
  const [history, setHistory] = useState(() => startHistory(orderRows(view.content)));
  const [reason, setReason] = useState("");
  const { lines: _lines, ...head } = view.content;
  const none = useMemo(() => new Map<string, string>(), []);
  return (
    <>
      <Problems messages={messages} />
      <form
        className="panel flex items-end gap-3 px-3 py-2.5"
        onSubmit={(e) => {
          e.preventDefault();
          void act(
            () =>
              changeOrderAction({
                id: view.id,
                version: view.version,
                content: orderContent(head, history.rows),
                reason,
              }),
            "Changed; what it said before is kept.",
            onDone,
          );
        }}
      >
        <div className="flex-1">
          <label className="label" htmlFor="change-reason">
            Why is it changed?
          </label>
          <input
            id="change-reason"
            className="field"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
        </div>
        <button type="submit" className="button button-main" disabled={busy}>
          Change the order
        </button>
        <button type="button" className="button" onClick={onDone}>
          Cancel
        </button>
      </form>
      <EntryGrid
        label="Order lines"
        columns={columns}
        history={history}
        onHistory={setHistory}
        problems={none}
        currency={currency}
        commit={commit}
      />
    </>
  );
}

function Changes({
  view,
  currency,
  onClose,
}: {
  view: View;
  currency: string;
  onClose: () => void;
}) {
  return (
    <SidePanel title="What it said before" onClose={onClose} width={420}>
      {view.versions.map((v) => (
        <div key={v.version} className="rounded-lg border border-line-2 px-3 py-2">
          <p>
            <b className="font-semibold">
              {shownDate(v.at.slice(0, 10))}, {v.by}
            </b>
            : {v.reason}
          </p>
          <p className="text-xs text-ink-2">
            before: {shownAmount(v.net, currency)} {currency}
          </p>
          <ul className="mt-1 text-xs">
            {v.content.lines
              .filter((l) => l.quantity)
              .map((l) => (
                <li key={l.no}>
                  {l.no} {l.description || l.item}: {shownFigures(l.quantity)} at{" "}
                  {shownFigures(priceText(l.price, currency))}
                </li>
              ))}
          </ul>
        </div>
      ))}
    </SidePanel>
  );
}
