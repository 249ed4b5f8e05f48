"use client";
import { useCallback, useState } from "react";
import type { ApprovalState } from "@/server/approvals";
import type { DraftCheck, DraftView } from "@/server/ledger";
import { readDate } from "@/core/shared";
import { ReasonForm } from "@/app/lib/ReasonForm";
import { useAct } from "@/app/lib/useAct";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { approveAction, returnAction, withdrawAction } from "../actions";
import { ApprovalHistory } from "./ApprovalHistory";
import { DraftPanel } from "./DraftPanel";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { shownDate } from "@/ui/writing";

/**
 * A journal that waits for approval: as it was sent, with what it would do, and what this person
 * may do about it.
 */
export function WaitingJournal({
  journal,
  approval,
  check,
}: {
  journal: DraftView;
  approval: ApprovalState | null;
  check: DraftCheck | null;
}) {
  const work = useWork();
  const [papers, setPapers] = useState(false);
  const documentId = useCallback(() => Promise.resolve(journal.id), [journal.id]);
  const [returning, setReturning] = useState(false);
  const { busy, messages, act } = useAct();
  const { content } = journal;
  const partners = content.lines.some((l) => l.partner.trim() !== "");
  const date = readDate(content.date, work.today);
  const period = work.company?.periods.find((p) =>
    content.period
      ? p.key === content.period
      : date !== null && !p.adjustment && p.start <= date && date <= p.end,
  );
  const facts: [label: string, text: string][] = [
    ["Posting date", date === null ? content.date : shownDate(date)],
    ["Period", period ? `${period.name} ${period.key.slice(0, 4)}` : (content.period ?? "")],
    ["Type", journal.typeName],
    ["Reference", content.reference],
    ["Books", content.book ?? "all"],
    ["Currency", content.currency ?? ""],
    ["Reversal date", content.reverseOn],
  ];
  const dimensions = work.dimensions.filter((d) => content.lines.some((l) => l.dimensions[d.code]));
  return (
    <Page
      strip={<PeriodStrip />}
      title={content.description}
      status={<Status of="waiting" />}
      note={`${journal.companyName} · prepared by ${journal.preparedBy}`}
      panel={
        papers ? (
          <PapersPanel id={documentId} onClose={() => setPapers(false)} />
        ) : (
          <DraftPanel check={check} />
        )
      }
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
          {approval?.mayWithdraw && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() =>
                void act(() => withdrawAction(journal.id), "Withdrawn: it is a draft again.")
              }
            >
              Withdraw
            </button>
          )}
          {approval?.mayDecide && (
            <button
              type="button"
              className="button"
              aria-expanded={returning}
              onClick={() => setReturning(!returning)}
            >
              Return
            </button>
          )}
          {approval?.mayDecide && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void act(() => approveAction(journal.id), "Approved and posted.")}
            >
              Approve and post
            </button>
          )}
        </>
      }
    >
      <Problems messages={messages} />
      {returning && (
        <ReasonForm
          says="The preparer gets it back as a draft, with your reason."
          placeholder="What has to change?"
          button="Return to its preparer"
          job={(reason) => returnAction(journal.id, reason)}
          done="Returned to its preparer."
          close={() => setReturning(false)}
        />
      )}
      <dl className="panel flex shrink-0 flex-wrap gap-x-8 gap-y-1 px-3 py-2.5">
        {facts
          .filter(([, text]) => text !== "")
          .map(([label, text]) => (
            <div key={label}>
              <dt className="text-xs text-ink-2">{label}</dt>
              <dd className="font-semibold">{text}</dd>
            </div>
          ))}
      </dl>
      {approval && <ApprovalHistory approval={approval} />}
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
              <th>Account</th>
              {partners && <th>Partner</th>}
              {partners && <th>Due date</th>}
              {dimensions.map((d) => (
                <th key={d.code}>{d.name}</th>
              ))}
              <th>Description</th>
              <th className="num w-32">Debit{content.currency ? ` ${content.currency}` : ""}</th>
              <th className="num w-32">Credit{content.currency ? ` ${content.currency}` : ""}</th>
            </tr>
          </thead>
          <tbody>
            {content.lines.map((l, i) => (
              <tr key={i}>
                <td className="num text-ink-3">{i + 1}</td>
                <td title={`${l.account} ${journal.accountNames[l.account] ?? ""}`}>
                  {l.company ? `${l.company} ` : ""}
                  <b className="font-semibold">{l.account}</b> {journal.accountNames[l.account]}
                </td>
                {partners && <td>{l.partner}</td>}
                {partners && <td>{l.dueDate}</td>}
                {dimensions.map((d) => (
                  <td key={d.code}>{l.dimensions[d.code] ?? ""}</td>
                ))}
                <td>{l.description || content.description}</td>
                <td className="num">{l.debit}</td>
                <td className="num">{l.credit}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
