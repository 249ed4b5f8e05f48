"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { minor } from "@/core/shared";
import type { PaperLine, PaperStatement } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page, Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate, shownDay } from "@/ui/writing";
import { FieldForm } from "@/app/lib/FieldForm";
import { useAct } from "@/app/lib/useAct";
import { addPaperLineAction, dropPaperAction } from "../../../actions";
import { useTicks } from "./useTicks";

const keyOf = (l: PaperLine): string => (l.state === null ? `j${l.journal!.id}` : `l${l.line}`);

/** A statement of paper: the ledger's lines are ticked until nothing is left between the two. */
export function PaperSheet({ statement: s }: { statement: PaperStatement }) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, setMessages, act } = useAct();
  const [isAdding, setAdding] = useState(false);
  const [isLeaving, setLeaving] = useState(false);
  const mayWork = work.may("prepare.banks") && !s.reconciled;
  const { ticks, onIt } = useTicks(s, keyOf, mayWork, setMessages);
  const difference = minor(s.opening + onIt - s.closing);
  const text = (amount: bigint) => shownAmount(minor(amount), s.currency);
  const columns = useMemo(
    (): TableColumn<PaperLine>[] => [
      {
        key: "date",
        header: "Date",
        width: 96,
        value: (l) => l.date,
        cell: (l) => shownDay(l.date),
      },
      {
        key: "journal",
        header: "Journal",
        width: 140,
        value: (l) => l.journal?.number ?? "",
        cell: (l) =>
          l.journal ? (
            <Link className="link" href={work.link(`/ledger/journals/${l.journal.id}`)}>
              {l.journal.number}
            </Link>
          ) : (
            "not posted yet"
          ),
      },
      { key: "description", header: "Description", value: (l) => l.description },
      {
        key: "from",
        header: "Known to",
        width: 110,
        value: (l) => (l.state === null ? "the ledger" : "the bank"),
      },
      {
        key: "amount",
        header: "Amount",
        width: 130,
        align: "right",
        sum: true,
        value: (l) => l.amount,
        cell: (l) => shownAmount(l.amount, s.currency),
      },
      {
        key: "state",
        header: "Status",
        width: 200,
        value: (l) => l.state ?? "",
        cell: (l) =>
          l.state === null ? null : (
            <span className="flex items-center gap-2">
              <Status of={l.state} quiet />
              {l.state !== "posted" && mayWork && (
                <button
                  type="button"
                  className="link"
                  onClick={() =>
                    void act(() => dropPaperAction(s.id, l.line!), "The line is taken off")
                  }
                >
                  Take off
                </button>
              )}
            </span>
          ),
      },
    ],
    [work, s, mayWork, act],
  );
  const open = s.lines.filter((l) => l.state !== null && l.state !== "posted").length;
  return (
    <Page
      title={`Statement ${s.number} of ${s.bank}`}
      note={`from paper, ${shownDate(s.openingDate)} to ${shownDate(s.closingDate)}`}
      actions={
        mayWork && (
          <>
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() => setLeaving(true)}
            >
              Throw away
            </button>
            <button type="button" className="button" onClick={() => setAdding(true)}>
              Add a line of the bank
            </button>
            <Link className="button button-main" href={work.link("/banks", { account: s.bank })}>
              Reconciliation
            </Link>
          </>
        )
      }
      panel={
        isAdding && (
          <SidePanel title="Only the bank knows" width={340} onClose={() => setAdding(false)}>
            <FieldForm
              name="paper-line"
              says="A charge or interest, say. It is explained and posted like the lines of a file."
              fields={[
                { key: "date", label: "Date", kind: "date", required: true },
                {
                  key: "amount",
                  label: `Amount in ${s.currency}`,
                  kind: "figure",
                  required: true,
                  hint: "Below nil for money out",
                },
                { key: "text", label: "What the bank says", kind: "text", required: true },
              ]}
              start={{ date: s.closingDate, amount: "", text: "" }}
              button="Add line"
              main
              empties
              close={() => setAdding(false)}
              job={(values) => addPaperLineAction({ id: s.id, ...values })}
              done="The line is on the statement"
            />
          </SidePanel>
        )
      }
    >
      {isLeaving && (
        <div
          role="alertdialog"
          aria-label="Throw the statement away"
          className="panel flex shrink-0 items-center gap-3 px-3 py-2.5"
        >
          <p className="flex-1">The statement goes with all its ticks.</p>
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() =>
              void act(
                () => dropPaperAction(s.id),
                `Statement ${s.number} is thrown away`,
                () => router.push(work.link("/banks/statements")),
              )
            }
          >
            Throw away
          </button>
          <button type="button" className="button" autoFocus onClick={() => setLeaving(false)}>
            Keep
          </button>
        </div>
      )}
      {s.doubt && <Problems messages={[s.doubt]} />}
      {messages.length > 0 && <Problems messages={messages} />}
      {s.reconciled && (
        <p role="status">
          {s.bank} is reconciled up to that day: nothing of this statement can change.
        </p>
      )}
      <dl className="panel flex shrink-0 flex-wrap items-baseline gap-x-8 gap-y-1 px-4 py-2.5">
        <Figure label="Opening balance" text={text(s.opening)} />
        <Figure label="Ticked and added" text={text(onIt)} />
        <Figure label="Closing balance" text={text(s.closing)} />
        <div className="ml-auto flex items-baseline gap-2" aria-live="polite">
          <dt className="text-ink-2">Difference</dt>
          <dd
            className={`text-lg font-semibold ${difference === 0n ? "" : "text-coral"}`}
            data-difference
          >
            {text(difference)}
          </dd>
          <dd>
            <Status of={difference === 0n ? "agrees" : "differs"} />
          </dd>
        </div>
      </dl>
      {difference === 0n && open > 0 && (
        <p role="status">
          {open === 1 ? "A line of the bank is" : `${open} lines of the bank are`} not posted:{" "}
          <Link className="link" href={work.link("/banks/lines", { statement: String(s.id) })}>
            explain and post {open === 1 ? "it" : "them"}
          </Link>
          .
        </p>
      )}
      <DataTable
        name="paper-statement"
        rows={s.lines}
        columns={columns}
        rowKey={keyOf}
        currency={s.currency}
        ticks={ticks}
        empty={
          <Empty title="The ledger has no line on this account">
            Add the lines that only the bank knows with the button above.
          </Empty>
        }
      />
    </Page>
  );
}

const Figure = ({ label, text }: { label: string; text: string }) => (
  <div className="flex items-baseline gap-2">
    <dt className="text-ink-2">{label}</dt>
    <dd className="font-semibold">{text}</dd>
  </div>
);
