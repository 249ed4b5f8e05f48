"use client";
import Link from "next/link";
import type { LoadRow, LoadView } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { DataTable } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

const when = (at: string) => `${shownDate(at.slice(0, 10))} ${at.slice(11, 16)}`;
const MODES: Readonly<Record<string, string>> = {
  draft: "as drafts",
  submit: "for approval",
  post: "posted at once",
};

/** What was loaded before: each leads to what has become of it. */
export function EarlierLoads({ loads }: { loads: LoadRow[] }) {
  const work = useWork();
  if (loads.length === 0) return null;
  return (
    <section aria-label="Earlier loads" className="flex max-h-72 flex-col gap-1.5">
      <h2>Earlier loads</h2>
      <DataTable<LoadRow>
        name="loads"
        rows={loads}
        rowKey={(l) => String(l.id)}
        currency="EUR"
        onOpen={(l) => work.go({ load: String(l.id) })}
        empty={null}
        columns={[
          {
            key: "source",
            header: "File",
            value: (l) => l.source,
            cell: (l) => <b className="font-semibold">{l.source || "no name"}</b>,
          },
          { key: "at", header: "Loaded", width: 150, value: (l) => l.at, cell: (l) => when(l.at) },
          { key: "by", header: "Loaded by", width: 160, value: (l) => l.by },
          { key: "mode", header: "Mode", width: 130, value: (l) => MODES[l.mode] ?? l.mode },
          {
            key: "journals",
            header: "Journals",
            width: 90,
            align: "right",
            value: (l) => l.journals,
          },
          { key: "posted", header: "Posted", width: 90, align: "right", value: (l) => l.posted },
        ]}
      />
    </section>
  );
}

/** The journals of a load as they stand now, and what other companies posted with them. */
export function LoadPanel({ load }: { load: LoadView }) {
  const work = useWork();
  return (
    <SidePanel
      title={load.source || `Load ${load.id}`}
      onClose={() => work.go({ load: null })}
      width={460}
    >
      <p className="text-ink-2">
        {load.by}, {when(load.at)}, {MODES[load.mode] ?? load.mode}
      </p>
      <table className="sheet">
        <thead>
          <tr>
            <th>Journal</th>
            <th className="w-24">Status</th>
            <th className="num w-32">Amount</th>
          </tr>
        </thead>
        <tbody>
          {load.items.map((j) => (
            <tr key={j.id}>
              <td>
                <Link className="link font-semibold" href={work.link(`/ledger/journals/${j.id}`)}>
                  {j.number ?? j.description}
                </Link>{" "}
                <span className="text-xs text-ink-2">{j.key}</span>
                {j.linked.map((l) => (
                  <div key={l.id} className="text-xs">
                    with{" "}
                    <Link className="link" href={work.link(`/ledger/journals/${l.id}`)}>
                      {l.number}
                    </Link>{" "}
                    of {l.company}
                  </div>
                ))}
              </td>
              <td>
                <Status of={j.status} quiet />
              </td>
              <td className="num">
                {shownAmount(j.amount, j.currency)} {j.currency}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </SidePanel>
  );
}
