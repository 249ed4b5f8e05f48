"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { toast } from "sonner";
import type { DepositPartView, DepositView as Slip } from "@/server/banks";
import { DEPOSIT_KIND_NAMES, partName } from "@/core/banks";
import { FieldForm } from "@/app/lib/FieldForm";
import { PrintDraft } from "@/app/papers/PrintDraft";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate } from "@/ui/writing";
import { cancelDepositAction, returnChequeAction } from "../actions";
import { RequestOfSlip } from "./RequestOfSlip";

/** A slip: its cheques and cash, what they paid, what came back. */
export function DepositView({
  slip,
  kinds,
}: {
  slip: Slip;
  kinds: readonly { code: string; name: string }[];
}) {
  const work = useWork();
  const router = useRouter();
  const [returning, setReturning] = useState<DepositPartView | null>(null);
  const [isCancelling, setCancelling] = useState(false);
  const mayChange =
    slip.status === "posted" && (work.may("post.banks") || work.may("post.receivables"));
  const isCleared = slip.status === "posted" && slip.cleared;
  const isWhole = slip.underWay === slip.amount && slip.of.every((p) => p.state === "deposited");
  return (
    <Page
      title={slip.number}
      status={<Status of={isCleared ? "cleared" : slip.status} />}
      note={`to ${slip.bankName || slip.bank}, ${shownDate(slip.date)}${slip.reason ? ` · ${slip.reason}` : ""}`}
      actions={
        <>
          <a className="button" href={`/export/deposit?id=${slip.id}`} download>
            Print slip
          </a>
          <Link className="button" href={work.link(`/documents/${slip.id}`)}>
            Chain
          </Link>
          {mayChange && isWhole && !slip.request && (
            <button type="button" className="button" onClick={() => setCancelling(true)}>
              Cancel the slip
            </button>
          )}
        </>
      }
      panel={
        returning && (
          <SidePanel
            title={`${partName(returning)} returned`}
            width={340}
            onClose={() => setReturning(null)}
          >
            <FieldForm
              key={returning.no}
              name="return"
              says={`What it had paid of ${returning.payer} is open again from that day.`}
              fields={[
                { key: "date", label: "Date", kind: "date", required: true },
                { key: "reason", label: "Reason", kind: "text" },
                {
                  key: "fee",
                  label: `Fee charged to the customer, ${slip.currency}`,
                  kind: "figure",
                  hint: "Empty for none.",
                },
                {
                  key: "kind",
                  label: "Fee posted as",
                  kind: "select",
                  options: kinds.map((k) => ({ value: k.code, text: k.name })),
                },
              ]}
              shows={(v) => ["date", "reason", "fee", ...(v.fee === "" ? [] : ["kind"])]}
              start={{ date: work.today, reason: "", fee: "", kind: kinds[0]?.code ?? "" }}
              button="Note the return"
              main
              close={() => setReturning(null)}
              job={(v) =>
                returnChequeAction({
                  id: slip.id,
                  no: returning.no,
                  ...v,
                  kind: v.fee === "" ? "" : v.kind,
                })
              }
              then={({ asked }) => {
                toast.success(
                  asked ? "A second person is asked to note the return" : "The return is noted",
                );
                setReturning(null);
                router.refresh();
              }}
            />
          </SidePanel>
        )
      }
      footer={
        <>
          <Fact label={`Slip, ${slip.currency}`}>{shownAmount(slip.amount, slip.currency)}</Fact>
          <Fact label="On no statement">{shownAmount(slip.underWay, slip.currency)}</Fact>
        </>
      }
    >
      {slip.request && <RequestOfSlip slip={slip} request={slip.request} mayDecide={mayChange} />}
      {isCancelling && (
        <ReasonForm
          says="All that it had paid is open again."
          place="deposits"
          button="Cancel the slip"
          job={(reason) => cancelDepositAction(slip.id, reason)}
          done={({ asked }) =>
            asked ? "A second person is asked to cancel the slip" : "The slip is cancelled"
          }
          close={() => setCancelling(false)}
        />
      )}
      <div
        className="panel min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Parts of the slip"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-32">Kind</th>
              <th className="w-40">Number</th>
              <th>Customer</th>
              <th>Pays</th>
              <th className="w-32">Journal</th>
              <th className="w-48">Status</th>
              <th className="num w-36">Amount</th>
              <th className="w-36" aria-label="Return or print" />
            </tr>
          </thead>
          <tbody>
            {slip.of.map((p) => (
              <tr key={p.no}>
                <td className="truncate">{DEPOSIT_KIND_NAMES[p.kind]}</td>
                <td className="truncate">
                  {p.cheque}
                  {p.dueDate && `, due ${shownDate(p.dueDate)}`}
                </td>
                <td className="truncate">{p.payer}</td>
                <td className="truncate">{p.pays.join(", ") || "on account"}</td>
                <td>
                  <Link className="link" href={work.link(`/ledger/journals/${p.journal.id}`)}>
                    {p.journal.number}
                  </Link>
                </td>
                <td className="truncate" title={p.reason}>
                  <Status of={p.state} quiet />{" "}
                  {p.returnJournal && (
                    <Link
                      className="link"
                      href={work.link(`/ledger/journals/${p.returnJournal.id}`)}
                    >
                      {p.returnJournal.number}
                    </Link>
                  )}
                </td>
                <td className="num">
                  {shownAmount(p.amount, slip.currency)}
                  {p.kind === "card" && p.fee > 0n && (
                    <span className="block text-xs text-ink-2">
                      less {shownAmount(p.fee, slip.currency)}
                    </span>
                  )}
                </td>
                <td>
                  {mayChange && !slip.request && p.kind !== "cash" && p.state === "deposited" && (
                    <button type="button" className="link" onClick={() => setReturning(p)}>
                      Note return
                    </button>
                  )}
                  {mayChange && p.kind === "bill" && (
                    <PrintDraft id={slip.id} no={p.no} label="Print" className="link ml-2" />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
