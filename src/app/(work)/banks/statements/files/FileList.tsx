"use client";
import { useRouter } from "next/navigation";
import { useMemo, type ReactNode } from "react";
import type { StatementFileRow } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownMoment } from "@/ui/writing";
import { StatementButton, StatementDrop, useStatementFiles } from "../../StatementDrop";

const countOf = (n: number) => (n === 0 ? "–" : String(n));

/** What came in, from whom and when, with what has become of it. */
export function FileList({ rows, folder }: { rows: StatementFileRow[]; folder: ReactNode }) {
  const work = useWork();
  const router = useRouter();
  const files = useStatementFiles();
  const columns = useMemo(
    (): TableColumn<StatementFileRow>[] => [
      {
        key: "at",
        header: "Taken in",
        width: 150,
        value: (f) => f.at,
        cell: (f) => shownMoment(f.at),
      },
      { key: "by", header: "Person", width: 130, value: (f) => f.by },
      {
        key: "name",
        header: "File",
        value: (f) => f.name,
        cell: (f) => <b className="font-semibold">{f.name}</b>,
      },
      { key: "format", header: "Format", width: 90, value: (f) => f.format },
      ...(
        [
          ["statements", "Statements"],
          ["lines", "Lines"],
          ["posted", "Posted"],
          ["decided", "To post"],
          ["open", "To decide"],
          ["notices", "Batches"],
        ] as const
      ).map(([key, header]): TableColumn<StatementFileRow> => ({
        key,
        header,
        width: 88,
        align: "right",
        value: (f) => f[key],
        cell: (f) => countOf(f[key]),
      })),
      {
        key: "takenBack",
        header: "Taken back",
        width: 210,
        value: (f) => (f.takenBack ? `${f.takenBack.by}: ${f.takenBack.reason}` : ""),
      },
    ],
    [],
  );
  return (
    <Page
      title="Files of statements"
      note={`of ${work.company?.name ?? ""}, as they came`}
      actions={<StatementButton files={files} main />}
    >
      {folder}
      <StatementDrop files={files}>
        <DataTable
          name="statement-files"
          rows={rows}
          columns={columns}
          currency={work.company?.currency ?? "EUR"}
          rowKey={(f) => String(f.id)}
          onOpen={(f) => router.push(work.link(`/banks/statements/files/${f.id}`))}
          empty={
            <Empty title="No file yet">
              What comes in by the button above stands here, with what has become of it.
            </Empty>
          }
        />
      </StatementDrop>
    </Page>
  );
}
