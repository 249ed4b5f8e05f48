"use client";
import Link from "next/link";
import { useCallback, useState } from "react";
import { bankAddressText, MADE_BY_NAMES } from "@/core/banks";
import { dateText, minor, readDate } from "@/core/shared";
import type { PaymentView as View } from "@/server/banks";
import { PrintDraft } from "@/app/papers/PrintDraft";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { JournalsOf, SettledItems } from "@/app/papers/SettledItems";
import { OfferedReasons } from "@/app/lib/OfferedReasons";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { SecondLook } from "@/app/lib/SecondLook";
import { advicesSaid } from "../advicesSaid";
import {
  cancelChequeAction,
  decidePaymentRequestAction,
  sendAdvicesAction,
  undoPaymentAction,
} from "../actions";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownDate } from "@/ui/writing";

type Undo = "reversed" | "rejected" | "recalled" | "cheque";
const UNDO_WORDS: Record<Undo, { button: string; ask: string; done: string }> = {
  reversed: {
    button: "Reverse",
    ask: "Why is it reversed?",
    done: "Reversed: its items are open again.",
  },
  rejected: {
    button: "The bank rejected it",
    ask: "What does the bank say?",
    done: "Rejected: its items are open again.",
  },
  recalled: {
    button: "It was recalled",
    ask: "Why was it recalled?",
    done: "Recalled: its items are open again.",
  },
  cheque: { button: "Cancel the cheque", ask: "Why is the cheque cancelled?", done: "Noted." },
};

const ASKED_WORDS = {
  reversed: "to reverse it",
  rejected: "to note that the bank rejected it",
  recalled: "to note that it was recalled",
};

/** A payment: what it settled, what it made, what has become of it, and how it can be undone. */
export function PaymentView({ payment: p }: { payment: View }) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const [undo, setUndo] = useState<Undo | null>(null);
  const [papers, setPapers] = useState(false);
  const [reason, setReason] = useState("");
  const [date, setDate] = useState(dateText(work.today));
  const documentId = useCallback(() => Promise.resolve(p.id), [p.id]);
  const ways: Undo[] =
    !p.mayUndo || p.request
      ? []
      : p.status === "sent"
        ? ["rejected", "recalled"]
        : p.status === "posted"
          ? p.chequeState === null
            ? ["reversed"]
            : ["cheque"]
          : [];
  const confirm = () => {
    const done = () => {
      setUndo(null);
      setReason("");
    };
    if (undo === "cheque")
      return void act(
        () => cancelChequeAction(p.id, reason, false),
        "The cheque is cancelled, or waits for a second person where the bank account says so.",
        done,
      );
    if (undo)
      void act(
        () =>
          undoPaymentAction(undo, {
            id: p.id,
            reason,
            date: undo === "reversed" ? null : (readDate(date, work.today) ?? date),
          }),
        (v) =>
          v.asked
            ? "A second person is asked to look at it."
            : p.toBank
              ? "Undone."
              : UNDO_WORDS[undo].done,
        done,
      );
  };
  return (
    <Page
      title={p.number}
      status={<Status of={p.chequeState === "cancelling" ? "cancelling" : p.status} />}
      note={`to ${p.toBank ?? p.payee} by ${MADE_BY_NAMES[p.method]}, ${shownDate(p.date)}${p.dueDate ? `, due ${shownDate(p.dueDate)}` : ""}${p.reason ? ` · ${p.reason}` : ""}`}
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
          <Link className="button" href={work.link(`/documents/${p.id}`)}>
            Chain
          </Link>
          {!p.advice &&
            p.partner &&
            ["posted", "sent"].includes(p.status) &&
            work.may("post.payables") && (
              <button
                type="button"
                className="button"
                disabled={busy}
                onClick={() => void act(() => sendAdvicesAction({ payment: p.id }), advicesSaid)}
              >
                Send advice
              </button>
            )}
          {p.method === "note" && work.may("post.payables") && (
            <PrintDraft id={p.id} label="Print the note" />
          )}
          {p.chequeState === "cancelling" && p.mayUndo && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(() => cancelChequeAction(p.id, "", true), "The cheque stays good.")
              }
            >
              Keep the cheque
            </button>
          )}
          {p.chequeState === "cancelling" && p.mayUndo ? (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() =>
                void act(
                  () => cancelChequeAction(p.id, "", false),
                  "Cancelled: its items are open again.",
                )
              }
            >
              Cancel it for good
            </button>
          ) : (
            ways.map((w) => (
              <button
                key={w}
                type="button"
                className="button"
                aria-expanded={undo === w}
                onClick={() => setUndo(w)}
              >
                {UNDO_WORDS[w].button}
              </button>
            ))
          )}
        </>
      }
      footer={
        <>
          <Fact label={`Paid ${p.currency}`}>{shownAmount(p.amount, p.currency)}</Fact>
          {p.discount !== 0n && <Fact label="Discount">{shownAmount(p.discount, p.currency)}</Fact>}
          <Fact label="From">{p.bank}</Fact>
          {bankAddressText(p.to) && <Fact label="To">{bankAddressText(p.to)}</Fact>}
          {p.cheque !== null && <Fact label="Cheque">{p.cheque}</Fact>}
          <span className="ml-auto flex flex-wrap justify-end gap-x-4 text-ink-2">
            {p.run && (
              <Link className="link" href={work.link(`/payables/payments/runs/${p.run.id}`)}>
                {p.run.number}
              </Link>
            )}
            {p.file && (
              <a className="link" href={`/export/payment-file?id=${p.file.id}`}>
                {p.file.name}
              </a>
            )}
            {p.advice && (
              <a className="link" href={`/export/message?id=${p.advice.id}`}>
                advice to {p.advice.to}
              </a>
            )}
          </span>
        </>
      }
    >
      <Problems messages={messages} />
      {p.request && (
        <SecondLook
          by={p.request.by}
          isMine={p.request.login === work.person.login}
          what={`${ASKED_WORDS[p.request.how]}: ${p.request.reason || "no reason given"}`}
          mayDecide={p.mayUndo}
          decide={(keep) => decidePaymentRequestAction(p.id, keep)}
          left="The payment stays as it is"
        />
      )}
      {undo && (
        <form
          className="panel flex items-end gap-3 px-3 py-2.5"
          onSubmit={(e) => {
            e.preventDefault();
            confirm();
          }}
        >
          <div className="flex-1">
            <label className="label" htmlFor="undo-reason">
              {UNDO_WORDS[undo].ask}
            </label>
            <input
              id="undo-reason"
              className="field"
              autoFocus
              list="undo-reasons"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
            <OfferedReasons id="undo-reasons" place={p.cheque === null ? "payments" : "cheques"} />
          </div>
          {(undo === "rejected" || undo === "recalled") && (
            <div>
              <label className="label" htmlFor="undo-date">
                On
              </label>
              <DateField
                id="undo-date"
                className="w-32"
                value={date}
                onChange={(text) => setDate(text)}
              />
            </div>
          )}
          <button type="submit" className="button button-main" disabled={busy}>
            {UNDO_WORDS[undo].button}
          </button>
          <button type="button" className="button" onClick={() => setUndo(null)}>
            Close
          </button>
        </form>
      )}
      <SettledItems
        items={p.items.map((i) => ({
          id: i.id,
          reference: i.reference,
          document: { id: i.documentId, kind: i.documentKind },
          taken: minor(-i.taken),
          discount: i.discount,
        }))}
        currency={p.currency}
        moved="Paid"
      >
        {p.items.length === 0 && (
          <tr>
            <td colSpan={4} className="text-ink-2">
              It settles no item; its journal says what it was for.
            </td>
          </tr>
        )}
      </SettledItems>
      <JournalsOf journals={p.journals} />
    </Page>
  );
}
