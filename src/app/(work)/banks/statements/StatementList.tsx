"use client";
import { useRouter } from "next/navigation";
import { useMemo } from "react";
import type { StatementRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";
import { StatementButton, StatementDrop, useStatementFiles } from "../StatementDrop";

/** Statements as the banks gave them, with what has become of their lines. */
export function StatementList({ rows }: { rows: StatementRow[] }) {
  const work = useWork();
  const router = useRouter();
  const files = useStatementFiles();
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
      { key: "file", header: "File", width: 170, value: (s) => s.file },
      { key: "by", header: "Loaded by", width: 120, value: (s) => s.by },
    ],
    [],
  );
  return (
    <Page
      title="Bank statements"
      note={`of ${work.company?.name ?? ""}, camt.053 and MT940`}
      actions={<StatementButton files={files} main />}
    >
      <StatementDrop files={files}>
        <DataTable
          name="bank-statements"
          rows={rows}
          columns={columns}
          rowKey={(s) => String(s.id)}
          currency={work.company?.currency ?? "EUR"}
          currencyOf={(s) => s.currency}
          onOpen={(s) => router.push(work.link("/banks/lines", { statement: String(s.id) }))}
          empty={
            <Empty title="No statement yet">
              Load the bank’s files (camt.053 or MT940) with the button above, or drop them here.
            </Empty>
          }
        />
      </StatementDrop>
    </Page>
  );
}
