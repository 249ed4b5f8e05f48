"use client";
import Link from "next/link";
import { useMemo } from "react";
import { ibanText } from "@/core/banks";
import { documentPage } from "@/core/documents";
import type { DebitRow, DebitsOfRun } from "@/server/receivables";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";
import { sendLettersAction } from "../letters/actions";
import { LetterLink } from "../letters/LetterLink";
import { makeDebitFileAction } from "./actions";

/** How a direct debit stands in the sequence of its mandate, in words. */
const SEQUENCE: Readonly<Record<DebitRow["sequence"], string>> = {
  FRST: "first",
  RCUR: "again",
  OOFF: "only one",
};

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? "" : "s"}`;

/** The direct debits of a run: customers are told, and the file for the bank is made from here. */
export function RunDebits({
  run,
  status,
  papers,
}: {
  run: number;
  status: string;
  papers: DebitsOfRun;
}) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const { debits, files } = papers;
  const made = debits.filter((d) => d.receipt !== null);
  const untold = made.filter((d) => d.toldOn === null).length;
  const unsent = made.filter((d) => d.receipt!.status === "posted").length;
  const columns = useMemo(
    (): TableColumn<DebitRow>[] => [
      { key: "customer", header: "Customer", value: (d) => `${d.customer} ${d.name}` },
      {
        key: "letter",
        header: "Letter",
        width: 64,
        value: () => "PDF",
        cell: (d) => <LetterLink run={run} customer={d.customer} name={d.name} />,
      },
      {
        key: "told",
        header: "Told",
        width: 104,
        value: (d) => d.toldOn ?? "",
        cell: (d) => (d.toldOn ? shownDate(d.toldOn.slice(0, 10)) : "not yet"),
      },
      { key: "mandate", header: "Mandate", width: 120, value: (d) => d.mandate },
      { key: "sequence", header: "Use", width: 76, value: (d) => SEQUENCE[d.sequence] },
      { key: "iban", header: "Account", width: 210, value: (d) => ibanText(d.iban) },
      { key: "items", header: "Items", width: 58, align: "right", value: (d) => d.items },
      {
        key: "amount",
        header: "Amount EUR",
        width: 116,
        align: "right",
        sum: true,
        value: (d) => d.amount,
      },
      {
        key: "receipt",
        header: "Receipt",
        width: 220,
        value: (d) => d.receipt?.number ?? "",
        cell: (d) =>
          d.receipt && (
            <span title={d.receipt.reason}>
              <Link className="link" href={work.link(documentPage("receipt", d.receipt.id))}>
                {d.receipt.number}
              </Link>{" "}
              <Status of={d.receipt.status} quiet />
            </span>
          ),
      },
    ],
    [run, work],
  );
  return (
    <>
      <Problems messages={messages} />
      <div className="flex flex-wrap items-center gap-3">
        {status === "preview" && (
          <span className="text-ink-2">
            Posting makes the receipts; customers are told and the file is made after it.
          </span>
        )}
        {status === "posted" && untold > 0 && work.may("prepare.receivables") && (
          <button
            type="button"
            className="button"
            disabled={busy}
            onClick={() =>
              void act(
                () => sendLettersAction(String(run)),
                ({ letters: n }) => `Sending ${counted(n, "letter")}.`,
              )
            }
          >
            Tell {counted(untold, "customer")}
          </button>
        )}
        {status === "posted" && unsent > 0 && work.may("post.receivables") && (
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() =>
              void act(
                () => makeDebitFileAction(run),
                "The file is made, and its direct debits count as sent.",
              )
            }
          >
            Make the file for the bank, {counted(unsent, "direct debit")}
          </button>
        )}
        {files.map((f) => (
          <a key={f.id} className="link" href={`/export/payment-file?id=${f.id}`}>
            {f.name}
          </a>
        ))}
      </div>
      <DataTable
        name="debits-of-run"
        rows={debits}
        columns={columns}
        rowKey={(d) => d.customer}
        currency="EUR"
        empty={
          <p className="p-8 text-center text-ink-2">Nobody is debited: every item is left out.</p>
        }
      />
    </>
  );
}
