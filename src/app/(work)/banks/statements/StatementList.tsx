"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useMemo, useState } from "react";
import type { AccountKind } from "@/core/banks";
import type { StatementRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";
import { SidePanel } from "@/ui/panel/SidePanel";
import { FieldForm } from "@/app/lib/FieldForm";
import { startPaperAction } from "../actions";
import { BankDay } from "./BankDay";
import { StatementButton, StatementDrop, useStatementFiles } from "../StatementDrop";

/** Statements as the banks gave them, with what has become of their lines. */
export function StatementList({
  rows,
  accounts,
}: {
  rows: StatementRow[];
  accounts: { code: string; name: string; currency: string; kind: AccountKind }[];
}) {
  const work = useWork();
  const router = useRouter();
  const files = useStatementFiles();
  const [isCopying, setCopying] = useState(false);
  const columns = useMemo(
    (): TableColumn<StatementRow>[] => [
      {
        key: "closingDate",
        header: "Closing date",
        width: 110,
        value: (s) => s.closingDate,
        cell: (s) => shownDate(s.closingDate),
      },
      { key: "bank", header: "Bank account", width: 120, value: (s) => s.bank },
      {
        key: "number",
        header: "Number",
        width: 90,
        value: (s) => s.number,
        cell: (s) => <b className="font-semibold">{s.number}</b>,
      },
      { key: "currency", header: "Currency", width: 78, value: (s) => s.currency },
      {
        key: "opening",
        header: "Opening balance",
        width: 130,
        align: "right",
        value: (s) => s.opening,
        cell: (s) => shownAmount(s.opening, s.currency),
      },
      {
        key: "closing",
        header: "Closing balance",
        width: 130,
        align: "right",
        value: (s) => s.closing,
        cell: (s) => shownAmount(s.closing, s.currency),
      },
      { key: "lines", header: "Lines", width: 70, align: "right", value: (s) => s.lines },
      { key: "open", header: "To decide", width: 84, align: "right", value: (s) => s.open },
      { key: "decided", header: "To post", width: 80, align: "right", value: (s) => s.decided },
      { key: "posted", header: "Posted", width: 76, align: "right", value: (s) => s.posted },
      { key: "doubt", header: "Gap or overlap", value: (s) => s.doubt },
      { key: "file", header: "File", width: 170, value: (s) => s.file || "paper" },
      { key: "by", header: "Taken in by", width: 120, value: (s) => s.by },
    ],
    [],
  );
  return (
    <Page
      title="Bank statements"
      note={`of ${work.company?.name ?? ""}`}
      actions={
        <>
          {work.may("prepare.banks") && (
            <button type="button" className="button" onClick={() => setCopying(true)}>
              From paper
            </button>
          )}
          <Link className="button" href={work.link("/banks/statements/files")}>
            Files
          </Link>
          <BankDay files={files} accounts={accounts} />
          <StatementButton files={files} main />
        </>
      }
      panel={
        isCopying && (
          <SidePanel title="Statement from paper" width={340} onClose={() => setCopying(false)}>
            <FieldForm
              name="paper"
              says="For accounts without files: type its balances, then tick what the ledger has of it."
              fields={[
                {
                  key: "bank",
                  label: "Bank account",
                  kind: "select",
                  required: true,
                  options: accounts.map((a) => ({
                    value: a.code,
                    text: `${a.code} ${a.name}, ${a.currency}`,
                  })),
                },
                { key: "number", label: "Number", kind: "text", required: true },
                {
                  key: "openingDate",
                  label: "Opening date",
                  kind: "date",
                  hint: "Empty: the closing date of the statement before",
                },
                {
                  key: "opening",
                  label: "Opening balance",
                  kind: "figure",
                  hint: "Empty: the closing balance of the statement before",
                },
                { key: "closingDate", label: "Closing date", kind: "date", required: true },
                { key: "closing", label: "Closing balance", kind: "figure", required: true },
              ]}
              start={{
                bank: accounts[0]?.code ?? "",
                number: "",
                openingDate: "",
                opening: "",
                closingDate: "",
                closing: "",
              }}
              button="Begin"
              main
              close={() => setCopying(false)}
              job={(values) => startPaperAction({ company: work.company?.code ?? "", ...values })}
              then={({ id }) => router.push(work.link(`/banks/statements/paper/${id}`))}
            />
          </SidePanel>
        )
      }
    >
      <StatementDrop files={files}>
        <DataTable
          name="bank-statements"
          rows={rows}
          columns={columns}
          rowKey={(s) => String(s.id)}
          currency={work.company?.currency ?? "EUR"}
          currencyOf={(s) => s.currency}
          onOpen={(s) =>
            router.push(
              s.file === ""
                ? work.link(`/banks/statements/paper/${s.id}`)
                : work.link("/banks/lines", { statement: String(s.id) }),
            )
          }
          empty={
            <Empty title="No statement yet">
              Load the bank’s files (camt.053, MT940, or a table as CSV or XLSX) with the button
              above, or drop them here.
              {work.demo && " In the demo, get the next day at the simulated bank."}
            </Empty>
          }
        />
      </StatementDrop>
    </Page>
  );
}
