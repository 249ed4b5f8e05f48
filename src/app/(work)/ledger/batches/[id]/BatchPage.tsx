"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import type { ApprovalState } from "@/server/approvals";
import type { BatchView } from "@/server/ledger";
import type { Answer } from "@/app/lib/answer";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { BatchForm } from "../BatchForm";
import { ApprovalHistory } from "../../journals/[key]/ApprovalHistory";
import { approveAction, returnAction, withdrawAction } from "../../journals/actions";
import {
  deleteBatchAction,
  moveToBatchAction,
  postBatchAction,
  reverseBatchAction,
  submitBatchAction,
} from "../actions";
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * A batch: its journals, and always in sight what is still missing or too much against the papers.
 */
export function BatchPage({
  batch,
  loose,
  approval,
}: {
  batch: BatchView;
  loose: { id: number; description: string }[];
  approval: ApprovalState | null;
}) {
  const work = useWork();
  const router = useRouter();
  const [editing, setEditing] = useState(false);
  const [asking, setAsking] = useState<"waive" | "reverse" | "return" | null>(null);
  const { busy, messages, act } = useAct();
  const open = batch.status === "draft";
  const differs = batch.lines.some((l) => l.difference !== 0n);
  const count = `${batch.items.length} ${batch.items.length === 1 ? "journal" : "journals"}`;
  const finishing = batch.approval ? `Send ${count} for approval` : `Post ${count}`;
  const finish = (waive: string): Promise<Answer<unknown>> =>
    batch.approval ? submitBatchAction(batch.id, waive) : postBatchAction(batch.id, waive);
  const finished = batch.approval ? "Sent for approval." : `Posted ${count}.`;
  return (
    <Page
      strip={<PeriodStrip />}
      title={batch.name}
      status={<Status of={batch.status} />}
      note={[
        batch.period,
        batch.description,
        batch.waived && `difference waived by ${batch.waived}`,
      ]
        .filter(Boolean)
        .join(" · ")}
      actions={
        <>
          {open && work.may("prepare.ledger") && (
            <>
              {batch.items.length === 0 && (
                <button
                  type="button"
                  className="button button-plain"
                  disabled={busy}
                  onClick={() =>
                    void act(
                      () => deleteBatchAction(batch.id, batch.version),
                      "The batch is deleted.",
                      () => router.push(work.link("/ledger/batches")),
                    )
                  }
                >
                  Delete
                </button>
              )}
              <button
                type="button"
                className="button"
                onClick={() => setEditing(!editing)}
                aria-expanded={editing}
              >
                Change
              </button>
              {loose.length > 0 && (
                <select
                  aria-label="Add a draft"
                  className="field w-40"
                  value=""
                  onChange={(e) =>
                    void act(
                      () => moveToBatchAction(Number(e.target.value), batch.id),
                      "It is in the batch.",
                    )
                  }
                >
                  <option value="" disabled>
                    Add a draft
                  </option>
                  {loose.map((d) => (
                    <option key={d.id} value={d.id}>
                      {d.description}
                    </option>
                  ))}
                </select>
              )}
              <Link
                className="button"
                href={work.link("/ledger/journals/new", {
                  batch: String(batch.id),
                  company: batch.company,
                  period: batch.period,
                })}
              >
                New journal in it
              </Link>
            </>
          )}
          {open &&
            batch.items.length > 0 &&
            work.may(batch.approval ? "prepare.ledger" : "post.ledger") && (
              <button
                type="button"
                className="button button-main"
                disabled={busy}
                title={batch.approval ? `${batch.approval}.` : undefined}
                onClick={() =>
                  differs && !batch.waived && work.may("post.againstControl")
                    ? setAsking("waive")
                    : void act(() => finish(""), finished)
                }
              >
                {finishing}
              </button>
            )}
          {approval?.mayWithdraw && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(
                  () => withdrawAction(batch.id),
                  "Withdrawn: its journals are drafts again.",
                )
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
              onClick={() =>
                void act(() => approveAction(batch.id), `Approved and posted ${count}.`)
              }
            >
              Approve and post {count}
            </button>
          )}
          {batch.status === "posted" && work.may("reverse.ledger") && (
            <button type="button" className="button" onClick={() => setAsking("reverse")}>
              Reverse the batch
            </button>
          )}
        </>
      }
      footer={
        <>
          {batch.lines.length === 0 && (
            <span className="text-ink-3">No control total is given, and nothing is entered.</span>
          )}
          {batch.lines.map((l) => (
            <div key={l.currency} className="flex gap-[26px]">
              <Fact label={`Papers ${l.currency}`}>
                {l.control === null ? "–" : shownAmount(l.control, l.currency)}
              </Fact>
              <Fact label={`Entered ${l.currency}`}>{shownAmount(l.entered, l.currency)}</Fact>
              {l.control !== null && (
                <Fact
                  label={
                    l.difference === 0n
                      ? "Agrees"
                      : l.difference < 0n
                        ? "Still missing"
                        : "Too much"
                  }
                  tone={l.difference === 0n ? "good" : "bad"}
                >
                  {shownAmount(l.difference < 0n ? -l.difference : l.difference, l.currency)}
                </Fact>
              )}
            </div>
          ))}
          <span className="ml-auto text-ink-3">Posted together, or not at all.</span>
        </>
      }
    >
      <Problems messages={messages} />
      {editing && (
        <BatchForm
          batch={batch}
          onSaved={() => {
            setEditing(false);
            router.refresh();
          }}
          onLeave={() => setEditing(false)}
        />
      )}
      {asking === "waive" && (
        <ReasonForm
          says="The journals differ from the papers. Say why it is right to post them all the same; the reason is kept."
          button={`Waive, and ${finishing.charAt(0).toLowerCase()}${finishing.slice(1)}`}
          job={finish}
          done={finished}
          close={() => setAsking(null)}
        />
      )}
      {asking === "return" && (
        <ReasonForm
          says="The preparer gets the batch back as drafts, with your reason."
          placeholder="What has to change?"
          button="Return to its preparer"
          job={(reason) => returnAction(batch.id, reason)}
          done="Returned to its preparer."
          close={() => setAsking(null)}
        />
      )}
      {asking === "reverse" && (
        <ReasonForm
          says="Every journal of the batch that stands will be reversed, all of them or none."
          button="Reverse the batch"
          job={(reason) => reverseBatchAction(batch.id, reason)}
          done="The batch is reversed."
          close={() => setAsking(null)}
        />
      )}
      {approval && approval.history.length > 0 && <ApprovalHistory approval={approval} />}
      <div className="panel min-h-0 flex-1 overflow-auto">
        {batch.items.length === 0 ? (
          <Empty title="No journal in it yet">Enter the first, or put a draft in.</Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-36">Number</th>
                <th>Description</th>
                <th className="w-28">Date</th>
                <th className="w-28">Status</th>
                <th className="w-36">Prepared by</th>
                <th className="num w-44">Debits</th>
                {open && (
                  <th className="w-36">
                    <span className="sr-only">Copy, take out</span>
                  </th>
                )}
              </tr>
            </thead>
            <tbody>
              {batch.items.map((i) => (
                <tr key={i.id}>
                  <td>
                    <Link
                      className="link font-semibold"
                      href={work.link(`/ledger/journals/${i.id}`)}
                    >
                      {i.number ?? "draft"}
                    </Link>
                  </td>
                  <td>{i.title}</td>
                  <td>{i.date ? shownDate(i.date) : ""}</td>
                  <td>
                    <Status of={i.status} quiet />
                  </td>
                  <td>{i.by}</td>
                  <td className="num">
                    {shownAmount(i.amount, i.currency)}{" "}
                    <span className="text-xs text-ink-3">{i.currency}</span>
                  </td>
                  {open && (
                    <td className="whitespace-nowrap">
                      <Link
                        className="link mr-3"
                        href={work.link("/ledger/journals/new", {
                          batch: String(batch.id),
                          copy: String(i.id),
                          company: batch.company,
                          period: batch.period,
                        })}
                      >
                        Copy
                      </Link>
                      <button
                        type="button"
                        className="link"
                        disabled={busy}
                        onClick={() =>
                          void act(() => moveToBatchAction(i.id, null), "Taken out of the batch.")
                        }
                      >
                        Remove
                      </button>
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}
