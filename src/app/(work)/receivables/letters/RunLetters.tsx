"use client";
import Link from "next/link";
import { useMemo } from "react";
import { documentPage } from "@/core/documents";
import type { LetterRow } from "@/server/receivables";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownDate } from "@/ui/writing";
import { sendLettersAction } from "./actions";
import { LetterLink } from "./LetterLink";

/** The letters of a run, each as a PDF; once the run is posted they are sent from here. */
export function RunLetters({
  run,
  status,
  currency,
  letters,
}: {
  run: number;
  status: string;
  currency: string;
  letters: readonly LetterRow[];
}) {
  const work = useWork();
  const { busy, messages, act } = useAct();
  const waiting = letters.filter((l) => l.sentOn === null).length;
  // Most letters charge nothing: columns of nothing would take the room of names.
  const charged = letters.some((l) => l.fee + l.interest > 0n);
  const columns = useMemo((): TableColumn<LetterRow>[] => {
    const all: (TableColumn<LetterRow> & { ofCharges?: true })[] = [
      {
        key: "customer",
        header: "Customer",
        width: 220,
        value: (l) => `${l.customer} ${l.name}`,
      },
      {
        key: "letter",
        header: "Letter",
        width: 70,
        value: () => "PDF",
        cell: (l) => <LetterLink run={run} customer={l.customer} name={l.name} />,
      },
      {
        key: "level",
        header: "Level",
        width: 60,
        align: "right",
        value: (l) => l.level,
        cell: (l) => (l.level === 0 ? "–" : String(l.level)),
      },
      { key: "items", header: "Items", width: 60, align: "right", value: (l) => l.items },
      {
        key: "amount",
        header: "Amount",
        width: 120,
        align: "right",
        sum: true,
        value: (l) => l.amount,
      },
      {
        key: "fee",
        ofCharges: true,
        header: "Fee",
        width: 90,
        align: "right",
        sum: true,
        value: (l) => l.fee,
      },
      {
        key: "interest",
        ofCharges: true,
        header: "Interest",
        width: 100,
        align: "right",
        sum: true,
        value: (l) => l.interest,
      },
      {
        key: "sale",
        ofCharges: true,
        header: "Invoice of it",
        width: 124,
        value: (l) => l.sale?.number ?? "",
        cell: (l) =>
          l.sale && (
            <Link className="link" href={work.link(documentPage("sale", l.sale.id))}>
              {l.sale.number}
            </Link>
          ),
      },
      {
        key: "to",
        header: "Goes to",
        value: (l) => l.sentTo ?? (l.email || "printer"),
      },
      {
        key: "sent",
        header: "Sent",
        width: 104,
        value: (l) => l.sentOn ?? "",
        cell: (l) => (l.sentOn ? shownDate(l.sentOn.slice(0, 10)) : "not yet"),
      },
    ];
    return all.filter((c) => charged || !c.ofCharges);
  }, [run, work, charged]);
  return (
    <>
      <Problems messages={messages} />
      {status === "posted" && waiting > 0 && work.may("prepare.receivables") && (
        <div className="flex items-center gap-3">
          <button
            type="button"
            className="button button-main"
            disabled={busy}
            onClick={() =>
              void act(
                () => sendLettersAction(String(run)),
                ({ letters: n }) => `Sending ${n === 1 ? "1 letter" : `${n} letters`}.`,
              )
            }
          >
            Send {waiting === 1 ? "1 letter" : `${waiting} letters`}
          </button>
          <span className="text-ink-2">
            Until then the run can be reversed as a whole; levels and charges go with it.
          </span>
        </div>
      )}
      <DataTable
        name="letters-of-run"
        rows={letters}
        columns={columns}
        rowKey={(l) => l.customer}
        currency={currency}
        empty={<p className="p-8 text-center text-ink-2">No letter is made.</p>}
      />
    </>
  );
}
