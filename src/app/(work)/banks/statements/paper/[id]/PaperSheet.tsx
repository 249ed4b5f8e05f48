"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import { paperDifference, sumOfItems } from "@/core/banks";
import type { Minor } from "@/core/shared";
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
  const isHeld = s.heldUntil !== null && s.heldUntil >= s.closingDate;
  const mayWork = work.may("prepare.banks") && !isHeld;
  const ticks = useTicks(s, keyOf, mayWork, setMessages);
  const onIt = s.lines.filter((l) => ticks.keys.has(keyOf(l)));
  const difference = paperDifference({ ...s, lines: onIt });
  const text = (amount: Minor) => shownAmount(amount, s.currency);
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
        header: "Source",
        width: 90,
        value: (l) => (l.state === null ? "Ledger" : "Bank"),
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
                    void act(() => dropPaperAction(s.id, l.line!), "The line is removed")
                  }
                >
                  Remove
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
              Delete
            </button>
            <button type="button" className="button" onClick={() => setAdding(true)}>
              Add a bank line
            </button>
            <Link className="button button-main" href={work.link("/banks", { account: s.bank })}>
              Reconciliation
            </Link>
          </>
        )
      }
      panel={
        isAdding && (
          <SidePanel
            title="Line that the ledger lacks"
            width={340}
            onClose={() => setAdding(false)}
          >
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
                  hint: "With a minus for money out",
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
          aria-label="Delete the statement"
          className="panel flex shrink-0 items-center gap-3 px-3 py-2.5"
        >
          <p className="flex-1">The statement is deleted with all its ticks.</p>
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() =>
              void act(
                () => dropPaperAction(s.id),
                `Statement ${s.number} is deleted`,
                () => router.push(work.link("/banks/statements")),
              )
            }
          >
            Delete
          </button>
          <button type="button" className="button" autoFocus onClick={() => setLeaving(false)}>
            Keep
          </button>
        </div>
      )}
      {s.doubt && <Problems messages={[s.doubt]} />}
      {messages.length > 0 && <Problems messages={messages} />}
      {s.heldUntil !== null && (
        <p role="status">
          {s.bank} is reconciled up to {shownDate(s.heldUntil)}: nothing of this statement can
          change{isHeld ? "" : " up to then"}.
        </p>
      )}
      <dl className="panel flex shrink-0 flex-wrap items-baseline gap-x-8 gap-y-1 px-4 py-2.5">
        <Figure label="Opening balance" text={text(s.opening)} />
        <Figure label="Ticked and added" text={text(sumOfItems(onIt))} />
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
            Add the lines of the bank’s statement with the button above.
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
