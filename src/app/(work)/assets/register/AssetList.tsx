"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import type { CalendarDate } from "@/core/shared";
import type { AssetRow } from "@/server/assets";
import { keepPreference } from "@/app/lib/preferences";
import { sendTable } from "@/app/lib/sendFile";
import { useListPages, type StartOfList } from "@/app/lib/useListPages";
import { FileLoad } from "@/ui/FileLoad";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { numberColumn, statusColumn } from "@/ui/table/documentColumns";
import { shownDate } from "@/ui/writing";

const amount = (
  key: "cost" | "accumulated" | "carried",
  header: string,
): TableColumn<AssetRow> => ({
  key,
  header,
  width: 124,
  align: "right",
  sum: true,
  value: (r) => r[key],
});
const COLUMNS: TableColumn<AssetRow>[] = [
  numberColumn(),
  statusColumn(),
  { key: "description", header: "Description", value: (r) => r.description },
  { key: "className", header: "Class", width: 150, value: (r) => r.className },
  {
    key: "inService",
    header: "In service",
    width: 100,
    value: (r) => r.inService ?? "",
    cell: (r) => (r.inService ? shownDate(r.inService) : ""),
  },
  { key: "place", header: "Place", width: 130, value: (r) => r.place },
  { key: "costCentre", header: "Cost centre", width: 92, value: (r) => r.costCentre },
  { key: "person", header: "Person in charge", width: 120, hidden: true, value: (r) => r.person },
  { key: "project", header: "Project", width: 90, hidden: true, value: (r) => r.project },
  { key: "serial", header: "Serial number", width: 120, hidden: true, value: (r) => r.serial },
  {
    key: "quantity",
    header: "Quantity",
    width: 80,
    align: "right",
    hidden: true,
    value: (r) => r.quantity,
  },
  { key: "insurance", header: "Insurance", width: 120, hidden: true, value: (r) => r.insurance },
  {
    key: "warrantyTo",
    header: "Warranty to",
    width: 100,
    hidden: true,
    value: (r) => r.warrantyTo ?? "",
    cell: (r) => (r.warrantyTo ? shownDate(r.warrantyTo) : ""),
  },
  amount("cost", "Cost"),
  amount("accumulated", "Accumulated"),
  amount("carried", "Carrying amount"),
];

/** Every asset of a company, in a book on a day. */
export function AssetList({ list }: { list: StartOfList<AssetRow> }) {
  const { rows, pages } = useListPages("assets", list);
  const work = useWork();
  const router = useRouter();
  return (
    <DataTable
      name="assets"
      rows={rows}
      columns={COLUMNS}
      rowKey={(r) => String(r.id)}
      currency={work.company?.currency ?? "EUR"}
      counts={(r) => r.status !== "cancelled"}
      pages={pages}
      kept={list.kept.columns}
      keep={(v) => void keepPreference("table.assets", v)}
      onOpen={(r) => router.push(work.link(`/assets/register/${r.id}`))}
      empty={
        <Empty title="No asset here">
          Assets come from the{" "}
          <Link className="link" href={work.link("/assets/intake")}>
            intake
          </Link>
          , where what was booked for them waits, or are taken over from a table.
        </Empty>
      }
    />
  );
}

/** Assets that the accounts hold already come in from a table, as they stood at the period's end. */
export function TakeOver({ on }: { on: CalendarDate }) {
  const work = useWork();
  return work.may("post.assets") ? (
    <FileLoad
      label={`Take over as of ${shownDate(on)}`}
      what="assets"
      load={sendTable("assets", { company: work.place.company, date: on })}
    />
  ) : null;
}
