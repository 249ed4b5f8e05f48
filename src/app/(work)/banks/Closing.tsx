"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { notYetReconciled } from "@/core/banks";
import type { BankPosition, Reconciliation } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { shownDate } from "@/ui/writing";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import {
  closeReconciliationAction,
  prepareReconciliationAction,
  reopenReconciliationAction,
} from "./actions";

/** Closes the reconciliation of an account, and what was closed before, with its papers. */
export function Closing({
  account,
  date,
  closed,
}: {
  account: BankPosition;
  date: string;
  closed: readonly Reconciliation[];
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const [reopening, setReopening] = useState<number | null>(null);
  const mayClose = work.may("period.banks");
  const isClosed = account.reconciled !== null && account.reconciled >= date;
  const against = notYetReconciled(account);
  const last = closed.find((r) => r.reopened === null);
  const company = work.company?.code ?? "";
  return (
    <section className="flex flex-col gap-2">
      {messages.length > 0 && <Problems messages={messages} />}
      {mayClose && !isClosed && (
        <>
          <button
            type="button"
            className="button button-main self-start"
            disabled={busy || against !== null}
            onClick={() =>
              void act(
                () => closeReconciliationAction({ company, bank: account.code, date }),
                `${account.code} is reconciled up to ${shownDate(date)}`,
              )
            }
          >
            Close reconciliation on {shownDate(date)}
          </button>
          {against !== null && <p className="text-ink-2">{against}.</p>}
        </>
      )}
      {(mayClose || work.may("prepare.banks")) && !isClosed && (
        <button
          type="button"
          className="link self-start"
          disabled={busy}
          onClick={() =>
            void act(async () => {
              const result = await prepareReconciliationAction({
                company,
                bank: account.code,
                date,
              });
              if (result.ok) router.push(work.link(`/banks/reconciliations/${result.value.id}`));
              return result;
            }, "What is attached is closed with it.")
          }
        >
          Papers for {shownDate(date)}
        </button>
      )}
      {closed.length > 0 && (
        <>
          <h3 className="font-semibold">Closed</h3>
          <ul className="flex flex-col gap-1">
            {closed.slice(0, 12).map((r) => (
              <li key={r.id} className="flex flex-wrap gap-x-3">
                <Link className="link" href={work.link(`/banks/reconciliations/${r.documentId}`)}>
                  {shownDate(r.date)}
                </Link>
                <span className="text-ink-2">
                  {r.reopened
                    ? `reopened by ${r.reopened.by}: ${r.reopened.reason}`
                    : `by ${r.closedBy}`}
                </span>
                {mayClose && r === last && reopening === null && (
                  <button type="button" className="link" onClick={() => setReopening(r.id)}>
                    Reopen
                  </button>
                )}
              </li>
            ))}
          </ul>
          {reopening !== null && (
            <ReasonForm
              placeholder="Why is it reopened?"
              button="Reopen"
              job={(reason) => reopenReconciliationAction(reopening, reason)}
              done={`The reconciliation of ${account.code} is open again`}
              close={() => setReopening(null)}
            />
          )}
        </>
      )}
    </section>
  );
}
