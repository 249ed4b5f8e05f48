"use client";
import Link from "next/link";
import { useState } from "react";
import { type Minor } from "@/core/shared";
import { PURPOSE_CODES, purposeKey } from "@/core/banks";
import type { RunOverrides } from "@/core/runs";
import { type RunPapers } from "@/server/banks";
import { changeRunAction } from "@/app/runs/actions";
import { useAct } from "@/app/lib/useAct";
import { Choice } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { advicesSaid } from "./advicesSaid";
import {
  makePaymentFileAction,
  printChequesAction,
  sendAdvicesAction,
  voidChequeAction,
} from "./actions";
import { shownAmount } from "@/ui/writing";

const PURPOSES = [
  { value: "", text: "as the supplier’s" },
  ...Object.entries(PURPOSE_CODES).map(([value, name]) => ({ value, text: `${value} ${name}` })),
];

interface Planned {
  key: string;
  payee: string;
  method: string;
  currency: string;
  amount: Minor;
  discount: Minor;
  to: string;
  items: number;
  firstItem: number | null;
  /** What it is for, where somebody has said it of this payment. */
  purpose?: string | undefined;
}

/** Cheques as a PDF: the originals that are not printed yet, or copies of those that are. */
function PrintCheques({
  run,
  what,
  count,
  fresh = false,
}: {
  run: number;
  what: string;
  count: number;
  fresh?: boolean;
}) {
  return (
    <form action="/export/cheques" method="post">
      <input type="hidden" name="run" value={run} />
      <input type="hidden" name="fresh" value={fresh ? "1" : "0"} />
      <button type="submit" className="button">
        {what} {count} {count === 1 ? "cheque" : "cheques"} (PDF)
      </button>
    </form>
  );
}

/**
 * What a payment run brings about: payments by payee, cheques with their numbers, the file for the
 * bank, advices. `outside`: neither cheques nor a file come of it.
 */
export function PaymentPapers({
  run,
  status,
  mayPost,
  planned,
  outside,
  approval,
  papers,
  overrides,
}: {
  run: number;
  status: string;
  mayPost: boolean;
  planned: Planned[];
  outside: boolean;
  /** Why a second person has to post the run, which gives cheques their numbers only then. */
  approval: string | null;
  papers: RunPapers;
  /** What has been changed in the preview; purposes are said there. */
  overrides: RunOverrides;
}) {
  const work = useWork();
  // What goes to an account of our own, or by no item, has nobody to advise.
  const toAdvise = planned.filter((p) => p.items > 0).length;
  const { busy, messages, act } = useAct();
  const [voiding, setVoiding] = useState<number | null>(null);
  const live = new Map(
    papers.cheques
      .filter((c) => c.state !== "voided" && c.state !== "missing")
      .map((c) => [c.key, c]),
  );
  const toPrint = outside
    ? 0
    : planned.filter(
        (p) =>
          p.method === "cheque" &&
          !live.has(p.key) &&
          (status !== "posted" ||
            papers.payments.some((x) => x.firstItem === p.firstItem && x.status === "posted")),
      ).length;
  const [first, setFirst] = useState(String(papers.bank.lastCheque + 1));
  const [missing, setMissing] = useState("");
  const { lastCheque } = papers.bank;
  const inSeries = papers.bank.numbers === "series";
  const gap =
    !inSeries && lastCheque > 0 && Number(first) > lastCheque + 1
      ? `passes over ${Number(first) === lastCheque + 2 ? lastCheque + 1 : `${lastCheque + 1} to ${Number(first) - 1}`}`
      : "";
  const preview = status === "preview" && mayPost;
  const printable = (preview && approval === null) || (status === "posted" && mayPost);
  const say = (payment: string, purpose: string) =>
    void act(
      () =>
        changeRunAction(String(run), {
          ...overrides,
          amounts: { ...overrides.amounts, [purposeKey(payment)]: purpose },
        }),
      "The preview is computed again.",
    );
  const printed = papers.cheques.filter((c) => c.state === "printed");
  /** Those of which no paper is there yet: each original comes out once. */
  const fresh = printed.filter((c) => c.prints === 0);
  const waiting = outside
    ? 0
    : papers.payments.filter((p) => p.method === "transfer" && p.status === "posted").length;
  const spoilt = papers.cheques.find((c) => c.id === voiding);
  return (
    <>
      <Problems messages={messages} />
      <div className="panel flex flex-wrap items-center gap-x-5 gap-y-2 px-3 py-2">
        {printable && toPrint > 0 && (
          <form
            className="flex items-center gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              void act(
                () => printChequesAction(run, inSeries ? null : Number(first), missing),
                toPrint === 1
                  ? "The cheque has its number. Print it now."
                  : `${toPrint} cheques have their numbers. Print them now.`,
              );
            }}
          >
            {!inSeries && (
              <>
                <label htmlFor="first-cheque">First number on the paper in hand</label>
                <input
                  id="first-cheque"
                  inputMode="numeric"
                  className="field w-28 text-right"
                  value={first}
                  onChange={(e) => setFirst(e.target.value)}
                />
              </>
            )}
            {gap !== "" && (
              <label className="flex items-center gap-2">
                {gap}
                <input
                  className="field w-56"
                  aria-label="What became of the numbers passed over"
                  placeholder="What became of that paper?"
                  value={missing}
                  onChange={(e) => setMissing(e.target.value)}
                />
              </label>
            )}
            <button type="submit" className="button" disabled={busy}>
              Give numbers to {toPrint} {toPrint === 1 ? "cheque" : "cheques"}
            </button>
            <span className="text-ink-3">
              last used on {papers.bank.code}: {papers.bank.lastCheque}
            </span>
          </form>
        )}
        {fresh.length > 0 && <PrintCheques run={run} what="Print" count={fresh.length} fresh />}
        {fresh.length < printed.length && (
          <PrintCheques run={run} what="Print copies of" count={printed.length - fresh.length} />
        )}
        {status === "posted" && waiting > 0 && mayPost && (
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() =>
              void act(
                () => makePaymentFileAction(run),
                "The file is made, and its payments count as sent.",
              )
            }
          >
            Make the file for the bank, {waiting} {waiting === 1 ? "transfer" : "transfers"}
          </button>
        )}
        {papers.files.map((f) => (
          <a key={f.id} className="link" href={`/export/payment-file?id=${f.id}`}>
            {f.name}
          </a>
        ))}
        {status === "posted" && mayPost && papers.advices < toAdvise && (
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() => void act(() => sendAdvicesAction({ run }), advicesSaid)}
          >
            Send remittance advices
          </button>
        )}
        {papers.advices > 0 && (
          <Link className="link" href={work.link("/payables/outbox")}>
            {papers.advices} {papers.advices === 1 ? "advice" : "advices"} sent
          </Link>
        )}
        {preview && toPrint > 0 && approval !== null && (
          <span className="text-ink-2">
            {toPrint === 1 ? "The cheque gets its number" : `${toPrint} cheques get their numbers`}{" "}
            once a second person has posted the run.
          </span>
        )}
        {status === "preview" && (outside || !planned.some((p) => p.method === "cheque")) && (
          <span className="text-ink-2">
            {outside
              ? "It is made outside: neither a file nor a cheque comes of it."
              : "Posting makes the payments; the file for the bank comes after it."}
          </span>
        )}
      </div>
      {spoilt && (
        <VoidForm
          key={spoilt.id}
          cheque={spoilt}
          next={inSeries ? null : papers.bank.lastCheque + 1}
          busy={busy}
          onLeave={() => setVoiding(null)}
          onVoid={(input) =>
            void act(
              () => voidChequeAction({ id: spoilt.id, ...input }),
              input.then === "print anew"
                ? "Void; the new number is given."
                : "Void; its items are unpaid again.",
              () => setVoiding(null),
            )
          }
        />
      )}
      <div className="panel overflow-auto">
        <table className="sheet">
          <thead>
            <tr>
              <th>Payee</th>
              <th className="w-32">Payment method</th>
              <th className="w-56">Account of the payee</th>
              <th className="w-44">Purpose</th>
              <th className="num w-20">Items</th>
              <th className="num w-32">Discount</th>
              <th className="num w-36">Amount</th>
              <th className="w-36">Cheque</th>
              <th className="w-44">{status === "preview" ? "" : "Payment"}</th>
            </tr>
          </thead>
          <tbody>
            {planned.map((p) => {
              const cheque = live.get(p.key);
              const made = papers.payments.find((x) => x.firstItem === p.firstItem);
              return (
                <tr key={p.key}>
                  <td>
                    <b className="font-semibold">{p.payee}</b>
                  </td>
                  <td>{p.method}</td>
                  <td>{p.to}</td>
                  <td>
                    {p.method !== "transfer" ? (
                      ""
                    ) : preview ? (
                      <Choice
                        id={`purpose-${p.key}`}
                        aria-label={`Purpose of the payment to ${p.payee}`}
                        disabled={busy}
                        value={p.purpose ?? ""}
                        options={PURPOSES}
                        onChange={(code) => say(p.key, code)}
                      />
                    ) : (
                      p.purpose
                    )}
                  </td>
                  <td className="num">{p.items}</td>
                  <td className="num">
                    {p.discount === 0n ? "" : shownAmount(p.discount, p.currency)}
                  </td>
                  <td className="num">
                    {shownAmount(p.amount, p.currency)} {p.currency}
                  </td>
                  <td>
                    {cheque ? (
                      <>
                        {cheque.number}
                        {cheque.state !== "printed" && ` ${cheque.state}`}
                        {preview && cheque.state === "printed" && (
                          <button
                            type="button"
                            className="link ml-2"
                            onClick={() => setVoiding(cheque.id)}
                          >
                            Void
                          </button>
                        )}
                      </>
                    ) : p.method === "cheque" && !outside ? (
                      <span className="text-ink-3">no number yet</span>
                    ) : (
                      ""
                    )}
                  </td>
                  <td>
                    {made && (
                      <Link className="link" href={work.link(`/payables/payments/${made.id}`)}>
                        {made.number}
                      </Link>
                    )}{" "}
                    {made && <Status of={made.status} quiet />}
                  </td>
                </tr>
              );
            })}
            {planned.length === 0 && (
              <tr>
                <td colSpan={9} className="p-6 text-center text-ink-2">
                  Nothing is paid: every item is left out.
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
      {(["voided", "missing"] as const).map((state) => {
        const list = papers.cheques.filter((c) => c.state === state);
        return (
          list.length > 0 && (
            <p key={state} className="text-ink-2">
              {state === "voided" ? "Void" : "Missing"}:{" "}
              {list.map((c) => `${c.number} (${c.reason})`).join(", ")}
            </p>
          )
        );
      })}
    </>
  );
}

function VoidForm({
  cheque,
  next,
  busy,
  onVoid,
  onLeave,
}: {
  cheque: RunPapers["cheques"][number];
  /** The number on the next form; null where numbers go on by themselves. */
  next: number | null;
  busy: boolean;
  onVoid: (input: { reason: string; then: string; next?: number }) => void;
  onLeave: () => void;
}) {
  const [reason, setReason] = useState("");
  const [then, setThen] = useState("print anew");
  const [number, setNumber] = useState(String(next ?? ""));
  const asksNumber = then === "print anew" && next !== null;
  return (
    <form
      className="panel flex flex-wrap items-end gap-3 px-3 py-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        onVoid({ reason, then, ...(asksNumber ? { next: Number(number) } : {}) });
      }}
    >
      <div className="flex-1">
        <label className="label" htmlFor="void-reason">
          Cheque {cheque.number} to {cheque.payee} is void, because
        </label>
        <input
          id="void-reason"
          className="field"
          autoFocus
          placeholder="Jammed in the printer"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </div>
      <div>
        <label className="label" htmlFor="void-then">
          The payment
        </label>
        <select
          id="void-then"
          className="field w-auto"
          value={then}
          onChange={(e) => setThen(e.target.value)}
        >
          <option value="print anew">is printed anew</option>
          <option value="leave unpaid">goes back to unpaid</option>
        </select>
      </div>
      {asksNumber && (
        <div>
          <label className="label" htmlFor="void-next">
            Next number on the paper
          </label>
          <input
            id="void-next"
            inputMode="numeric"
            className="field w-28 text-right"
            value={number}
            onChange={(e) => setNumber(e.target.value)}
          />
        </div>
      )}
      <button type="submit" className="button button-main" disabled={busy}>
        Void the cheque
      </button>
      <button type="button" className="button" onClick={onLeave}>
        Close
      </button>
    </form>
  );
}
