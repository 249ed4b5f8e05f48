"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { amountText, dateText } from "@/core/shared";
import type { JournalRow } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { keepPreference } from "@/app/lib/preferences";
import { postStoredAction } from "./actions";

export function JournalList({ items, currency, kept }: { items: JournalRow[]; currency: string; kept: string | undefined }) {
  const work = useWork();
  const router = useRouter();
  const [selected, setSelected] = useState<string[]>([]);
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const drafts = items.filter((i) => i.status === "draft" && selected.includes(String(i.id)));
  const columns = useMemo(
    (): TableColumn<JournalRow>[] => [
      { key: "number", header: "Number", width: 124, value: (r) => r.number ?? "", cell: (r) => (r.number ? <b className="font-semibold">{r.number}</b> : <span className="text-ink-3">when posted</span>) },
      { key: "status", header: "Status", width: 104, value: (r) => r.status, cell: (r) => <Status of={r.status} quiet /> },
      { key: "date", header: "Date", width: 100, value: (r) => r.date ?? "", cell: (r) => (r.date ? dateText(r.date) : "") },
      { key: "type", header: "Type", width: 120, value: (r) => r.type },
      { key: "description", header: "Description", value: (r) => r.description },
      { key: "preparedBy", header: "Prepared by", width: 140, value: (r) => r.preparedBy },
      { key: "postedAt", header: "Posted", width: 130, hidden: true, value: (r) => r.postedAt ?? "", cell: (r) => (r.postedAt ? `${dateText(r.postedAt.slice(0, 10))} ${r.postedAt.slice(11, 16)}` : "") },
      { key: "amount", header: "Amount", width: 136, align: "right", sum: true, value: (r) => r.amount, cell: (r) => amountText(r.amount, currency) },
    ],
    [currency],
  );
  const select = useCallback((keys: string[]) => setSelected(keys), []);
  const postAll = async () => {
    const failed: string[] = [];
    setProblems([]);
    for (const [i, d] of drafts.entries()) {
      setProgress({ done: i, of: drafts.length });
      const result = await postStoredAction(d.id).catch(() => null);
      if (!result) failed.push(`${d.description}: the server did not answer.`);
      else if (!result.ok) failed.push(`${d.description}: ${result.message}`);
    }
    setProgress(null);
    setProblems(failed);
    if (drafts.length > failed.length) toast.success(`${drafts.length - failed.length} posted.`);
    router.refresh();
  };
  return (
    <>
      <Problems messages={problems} />
      <DataTable
        name="journals" rows={items} columns={columns} rowKey={(r) => String(r.id)} currency={currency} selectable onSelect={select} onOpen={(r) => router.push(work.link(`/ledger/journals/${r.id}`))} kept={kept} keep={(v) => void keepPreference("table.journals", v)}
        empty={<Empty title="No journals here">Nothing was posted in these months. {work.may("prepare.ledger") && <Link className="link" href={work.link("/ledger/journals/new")}>Enter a journal</Link>}</Empty>}
        extra={work.may("post.ledger") && drafts.length > 0 && <button type="button" className="button h-7" disabled={progress !== null} onClick={() => void postAll()}>{progress ? `Posting ${progress.done + 1} of ${progress.of}` : `Post ${drafts.length} ${drafts.length === 1 ? "journal" : "journals"}`}</button>}
      />
    </>
  );
}

export function JournalActions({ status, text }: { status: string; text: string }) {
  const work = useWork();
  const router = useRouter();
  const [wanted, setWanted] = useState(text);
  const target = work.link("/ledger/journals/new");
  const may = work.may("prepare.ledger");
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName);
      if (event.key === "n" && may && !typing && !event.ctrlKey && !event.altKey && !event.metaKey) {
        event.preventDefault();
        router.push(target);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [may, router, target]);
  return (
    <>
      <form onSubmit={(e) => { e.preventDefault(); work.go({ text: wanted || null }); }}>
        <input className="field w-56" aria-label="Search in journals" placeholder="Text, number or amount" value={wanted} onChange={(e) => setWanted(e.target.value)} />
      </form>
      <select aria-label="Status" className="field w-auto" value={status} onChange={(e) => work.go({ status: e.target.value === "all" ? null : e.target.value })}>
        <option value="all">All</option>
        <option value="draft">Drafts</option>
        <option value="waiting">Waiting</option>
        <option value="posted">Posted</option>
        <option value="reversed">Reversed</option>
      </select>
      {may && <Link className="button" href={work.link("/ledger/batches")}>Batches</Link>}
      {may && <Link className="button" href={work.link("/ledger/load")}>Load</Link>}
      {may && <Link className="button button-main" href={target} data-keys="n=New journal">New journal <kbd>n</kbd></Link>}
    </>
  );
}
