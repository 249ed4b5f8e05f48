"use client";
import { useRouter } from "next/navigation";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { toast } from "sonner";
import { Trash2 } from "lucide-react";
import type { JournalInput } from "@/core/ledger";
import { amountText, dateText, decodeJson, minor, readAmount, readDate, sum, type Minor } from "@/core/shared";
import type { DraftCheck, PostedJournal, SavedDraft, ShownProblem } from "@/server/ledger";
import type { Answer } from "@/app/lib/answer";
import { useWork } from "@/ui/frame/work";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { EntryGrid, type GridColumn, type LookupOption } from "@/ui/grid/EntryGrid";
import { startHistory, type CellChange, type GridHistory, type GridRow } from "@/ui/grid/gridModel";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";

export interface Lookups {
  accounts: (LookupOption & { rules: Record<string, string> })[];
  dimensions: { code: string; name: string; values: { code: string; name: string; proposes: Record<string, string> }[] }[];
  types: { code: string; name: string }[];
}
interface Props {
  start: { id: number | null; version: number; content: JournalInput; savedAt: string | null; check: DraftCheck | null };
  lookups: Lookups;
  currency: string;
  mayPost: boolean;
}
type Header = Omit<JournalInput, "lines">;

/** Asks the server, apart from the router, which would drop what is under way when the address changes. */
async function ask<T>(work: "save" | "post" | "delete", input: unknown): Promise<Answer<T>> {
  const response = await fetch(`/drafts?work=${work}`, { method: "POST", headers: { "Content-Type": "application/json" }, body: JSON.stringify(input), keepalive: JSON.stringify(input).length < 60_000 });
  if (!response.ok) throw new Error(`drafts: ${response.status}`);
  return decodeJson<Answer<T>>(await response.text());
}

const toRows = (content: JournalInput): GridRow[] => content.lines.map((l) => ({ account: l.account, description: l.description, debit: l.debit, credit: l.credit, ...Object.fromEntries(Object.entries(l.dimensions).map(([k, v]) => [`d.${k}`, v])) }));
const toContent = (header: Header, rows: readonly GridRow[]): JournalInput => ({
  ...header,
  lines: rows.map((r) => ({ account: r.account ?? "", description: r.description ?? "", debit: r.debit ?? "", credit: r.credit ?? "", dimensions: Object.fromEntries(Object.entries(r).filter(([k]) => k.startsWith("d.")).map(([k, v]) => [k.slice(2), v])) })),
});
const backupKey = (id: number | null, company: string) => `journal.${id ?? `new.${company}`}`;

/** Writing a journal. It keeps itself; what is wrong shows at its cell once asked for; posting posts what is seen. */
export function JournalEditor({ start, lookups, currency, mayPost }: Props) {
  const work = useWork();
  const router = useRouter();
  const { lines: _lines, ...firstHeader } = start.content;
  const [header, setHeader] = useState<Header>(firstHeader);
  const [history, setHistory] = useState<GridHistory>(() => startHistory(toRows(start.content)));
  const [saved, setSaved] = useState<{ text: string; tone?: "bad" }>({ text: start.savedAt ? `saved ${start.savedAt.slice(11, 16)}` : "not saved yet" });
  const [check, setCheck] = useState<DraftCheck | null>(start.check);
  const [asked, setAsked] = useState(false);
  const [refused, setRefused] = useState<ShownProblem[] | null>(null);
  const [stale, setStale] = useState<string | null>(null);
  const [posting, setPosting] = useState(false);
  const draft = useRef({ id: start.id, version: start.version });
  const queue = useRef<Promise<unknown>>(Promise.resolve());
  const dirty = useRef(false);
  const closed = useRef(false);
  const rows = history.rows;

  const save = useCallback(
    (content: JournalInput, overwrite = false) => {
      // One after the other: a later save carries the version that the earlier one made.
      const job = queue.current.then(async () => {
        if (closed.current) return null;
        try {
          const result = await ask<SavedDraft>("save", { ...(draft.current.id === null ? {} : { id: draft.current.id }), version: draft.current.version, overwrite, content });
          if (!result.ok) {
            const old = result.problems.find((p) => p.code === "STALE");
            if (old) setStale(old.message);
            setSaved({ text: `not saved: ${result.message}`, tone: "bad" });
            return null;
          }
          const first = draft.current.id === null;
          draft.current = { id: result.value.id, version: result.value.version };
          if (first) window.history.replaceState(null, "", `/ledger/journals/${result.value.id}${window.location.search}`);
          localStorage.removeItem(backupKey(first ? null : result.value.id, content.company));
          setStale(null);
          setCheck(result.value);
          setRefused(null);
          setSaved({ text: `saved ${result.value.savedAt.slice(11, 16)}` });
          return result.value;
        } catch {
          localStorage.setItem(backupKey(draft.current.id, content.company), JSON.stringify(content));
          setSaved({ text: "no connection; kept in this browser and saved when it is back", tone: "bad" });
          dirty.current = true;
          return null;
        }
      });
      queue.current = job;
      return job;
    },
    [],
  );

  // What was typed into the page before its script ran stands in the fields and nowhere else.
  const head = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const early: Partial<Record<keyof Header, string>> = {};
    for (const key of ["description", "date", "reference"] as const) {
      const typed = head.current?.querySelector<HTMLInputElement>(`[name=${key}]`)?.value;
      if (typed !== undefined && typed !== start.content[key]) early[key] = typed;
    }
    // eslint-disable-next-line react-hooks/set-state-in-effect -- The document is the only place that knows it.
    if (Object.keys(early).length > 0) setHeader((h) => ({ ...h, ...early }));
  }, [start.content]);

  // What a lost connection kept here comes back, before anything else is typed.
  useEffect(() => {
    const kept = localStorage.getItem(backupKey(start.id, start.content.company));
    if (!kept) return;
    queueMicrotask(() => {
      try {
        const content = JSON.parse(kept) as JournalInput;
        const { lines: _l, ...h } = content;
        setHeader(h);
        setHistory(startHistory(toRows(content)));
        dirty.current = true;
        toast("What you typed while there was no connection is back.");
      } catch {
        localStorage.removeItem(backupKey(start.id, start.content.company));
      }
    });
  }, [start.id, start.content.company]);

  const content = useMemo(() => toContent(header, rows), [header, rows]);
  const latest = useRef(content);
  useLayoutEffect(() => {
    latest.current = content;
  });
  const mounted = useRef(false);
  useEffect(() => {
    if (!mounted.current) {
      mounted.current = true;
      if (start.id === null) return;
      return;
    }
    dirty.current = true;
    const timer = setTimeout(() => {
      dirty.current = false;
      void save(content);
    }, 700);
    return () => clearTimeout(timer);
  }, [content, save, start.id]);
  useEffect(() => {
    const retry = setInterval(() => {
      if (dirty.current && navigator.onLine && localStorage.getItem(backupKey(draft.current.id, latest.current.company))) {
        dirty.current = false;
        void save(latest.current);
      }
    }, 5000);
    const warn = () => dirty.current && localStorage.setItem(backupKey(draft.current.id, latest.current.company), JSON.stringify(latest.current));
    window.addEventListener("beforeunload", warn);
    return () => {
      clearInterval(retry);
      window.removeEventListener("beforeunload", warn);
      // Leaving within the pause before a save must not lose what was typed in it.
      if (dirty.current) void save(latest.current);
    };
  }, [save]);

  const runCheck = useCallback(async () => {
    setAsked(true);
    dirty.current = false;
    const result = await save(latest.current);
    if (result && result.problems.length === 0) toast.success("Nothing stands in the way of posting.");
  }, [save]);
  const post = useCallback(async () => {
    if (posting) return;
    setPosting(true);
    setAsked(true);
    dirty.current = false;
    try {
      if (draft.current.id === null && !(await save(latest.current))) return;
      await queue.current;
      const result = await ask<PostedJournal>("post", { id: draft.current.id, version: draft.current.version, content: latest.current });
      const before = result.ok ? null : result.problems.find((p) => p.code === "ALREADY_POSTED");
      if (result.ok || before) {
        closed.current = true;
        toast.success(result.ok ? `Posted as ${result.value.number}.` : before!.message);
        router.push(work.link(`/ledger/journals/${draft.current.id}`));
        router.refresh();
      } else {
        setRefused(result.problems);
        toast.error(`Not posted: ${result.problems.length === 1 ? result.message : `${result.problems.length} problems`}`);
        const old = result.problems.find((p) => p.code === "STALE");
        if (old) setStale(old.message);
      }
    } catch {
      // The answer was lost, not the journal: asking again finds it posted or posts it.
      toast.error("The server did not answer. Post again: if it was posted, that will be found.");
    } finally {
      setPosting(false);
    }
  }, [posting, router, save, work]);
  const remove = async () => {
    closed.current = true;
    if (draft.current.id !== null) {
      const result = await ask("delete", { id: draft.current.id });
      if (!result.ok) return toast.error(result.message);
    }
    localStorage.removeItem(backupKey(draft.current.id, header.company));
    toast("Draft deleted. Its content stays in the history.");
    router.push(work.link("/ledger/journals"));
    router.refresh();
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      // Lets the cell that is being written keep its text first.
      (document.activeElement as HTMLElement | null)?.blur();
      setTimeout(() => void (event.shiftKey ? (mayPost ? post() : undefined) : runCheck()), 30);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [mayPost, post, runCheck]);

  const rulesOf = useMemo(() => new Map(lookups.accounts.map((a) => [a.code, a.rules])), [lookups]);
  const columns = useMemo(
    (): GridColumn[] => [
      { key: "account", header: "Account", width: 300, kind: "lookup", options: lookups.accounts },
      ...lookups.dimensions.map((d): GridColumn => ({
        key: `d.${d.code}`, header: d.name, width: lookups.dimensions.length > 3 ? 120 : 158, kind: "lookup", options: d.values,
        state: (row) => { const rule = rulesOf.get(row.account ?? "")?.[d.code]; return rule === "required" || rule === "forbidden" ? rule : undefined; },
      })),
      { key: "description", header: "Description", kind: "text", inherited: (row) => (row.account ? header.description : "") },
      { key: "debit", header: "Debit", width: 120, kind: "amount" },
      { key: "credit", header: "Credit", width: 120, kind: "amount" },
    ],
    [lookups, rulesOf, header.description],
  );
  const amount = useCallback((text: string | undefined): Minor => { const r = readAmount(text ?? "", currency); return r.ok ? r.amount : minor(0n); }, [currency]);
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange): CellChange[] => {
      const text = c.value.trim();
      if (c.key === "debit" || c.key === "credit") {
        const reading = readAmount(text, currency);
        return [{ ...c, value: reading.ok && text ? amountText(reading.amount, currency) : text }];
      }
      const options = c.key === "account" ? lookups.accounts : lookups.dimensions.find((d) => `d.${d.code}` === c.key)?.values;
      if (!options) return [c];
      const exact = options.find((o) => o.code.toLowerCase() === text.toLowerCase());
      const changes: CellChange[] = [{ ...c, value: exact?.code ?? text }];
      if (exact && "proposes" in exact)
        for (const [dimension, value] of Object.entries(exact.proposes)) if (!now[c.row]?.[`d.${dimension}`]) changes.push({ row: c.row, key: `d.${dimension}`, value });
      return changes;
    },
    [currency, lookups],
  );
  const balance = useCallback(
    (now: readonly GridRow[], row: number): CellChange[] => {
      const others = now.filter((_, i) => i !== row);
      const difference = sum(others.map((r) => amount(r.debit))) - sum(others.map((r) => amount(r.credit)));
      if (difference === 0n) return [];
      const side = difference > 0n ? "credit" : "debit";
      return [{ row, key: side, value: amountText(difference > 0n ? difference : -difference, currency) }, { row, key: side === "credit" ? "debit" : "credit", value: "" }];
    },
    [amount, currency],
  );

  const debits = sum(rows.map((r) => amount(r.debit)));
  const credits = sum(rows.map((r) => amount(r.credit)));
  const found = useMemo(() => refused ?? (asked ? (check?.problems ?? []) : []), [refused, asked, check]);
  const problems = useMemo(() => {
    const map = new Map<string, string>();
    const dimensionCodes = new Set(lookups.dimensions.map((d) => d.code));
    for (const p of found) if (p.line !== null) map.set(`${p.line - 1}:${p.field && dimensionCodes.has(p.field) ? `d.${p.field}` : (p.field ?? "account")}`, p.message.replace(/^Line \d+: /, ""));
    return map;
  }, [found, lookups]);
  const headProblem = (field: string) => found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter((p) => p.line === null && !["type", "description", "date", "reference", "book", "period"].includes(p.field ?? ""));
  const set = (key: keyof Header, value: string | null) => setHeader((h) => ({ ...h, [key]: value }));
  const understood = header.date ? readDate(header.date, work.today) : null;
  const adjustment = work.company?.periods.find((p) => p.adjustment && p.end === understood);

  return (
    <Page
      strip={<PeriodStrip />} title={header.description.trim() || "New journal"} status={<Status of="draft" />}
      note={<span className={saved.tone === "bad" ? "text-coral" : ""}>gets its number when posted · {saved.text}</span>}
      actions={
        <>
          <button type="button" className="button button-plain" onClick={() => void remove()} aria-label="Delete this draft"><Trash2 size={15} aria-hidden />Delete</button>
          <button type="button" className="button" onClick={() => void runCheck()} data-keys="Ctrl Enter=Check">Check <kbd>Ctrl ⏎</kbd></button>
          {mayPost && <button type="button" className="button button-main" disabled={posting} onClick={() => void post()} data-keys="Ctrl Shift Enter=Post">Post <kbd>Ctrl ⇧ ⏎</kbd></button>}
        </>
      }
      footer={
        <>
          <Fact label="Debits">{amountText(debits, currency)}</Fact>
          <Fact label="Credits">{amountText(credits, currency)}</Fact>
          <Fact label="Difference" tone={debits === credits ? "good" : "bad"}>{amountText(debits > credits ? debits - credits : credits - debits, currency)}</Fact>
          {check?.effect && <Fact apart label={`If posted, result of ${check.effect.period}`}>{amountText(check.effect.before, currency)} → {amountText(check.effect.after, currency)}</Fact>}
          <span className="ml-auto max-w-[36%] truncate text-right text-ink-3">
            {found.length > 0 ? <b className="text-coral">{found.length === 1 ? "1 problem" : `${found.length} problems`}{rest[0] ? `: ${rest[0].message}` : ", marked at their cells"}</b> : "⏎ next cell · Ctrl D copies from above · = balances the line"}
          </span>
        </>
      }
    >
      {stale && (
        <div role="alert" className="flex items-center gap-3 rounded-lg border border-coral/40 bg-coral-2 px-3 py-2">
          <span className="flex-1">{stale}</span>
          <a className="button" href={typeof window === "undefined" ? "" : window.location.href} target="_blank" rel="noreferrer">See the other</a>
          <button type="button" className="button" onClick={() => void save(latest.current, true)}>Save mine over it</button>
        </div>
      )}
      <div ref={head} className="panel grid shrink-0 grid-cols-[150px_minmax(200px,1fr)_140px_150px_130px] gap-2.5 px-3 py-2.5">
        <HeadField label="Type" problem={headProblem("type")}>
          {(p) => <select {...p} className="field" value={header.type} onChange={(e) => set("type", e.target.value)}>{lookups.types.map((t) => <option key={t.code} value={t.code}>{t.name}</option>)}</select>}
        </HeadField>
        <HeadField label="Description" required problem={headProblem("description")}>{(p) => <input {...p} name="description" className="field" value={header.description} autoFocus={start.id === null} onChange={(e) => set("description", e.target.value)} />}</HeadField>
        <HeadField label="Journal date" required problem={headProblem("date")}>
          {(p) => <input {...p} name="date" className="field" value={header.date} placeholder="31 Oct 2026" onChange={(e) => set("date", e.target.value)} onBlur={() => understood && set("date", dateText(understood))} />}
        </HeadField>
        <HeadField label="Reference" problem={headProblem("reference")}>{(p) => <input {...p} name="reference" className="field" value={header.reference} onChange={(e) => set("reference", e.target.value)} />}</HeadField>
        <HeadField label={adjustment ? "Books · period" : "Books"} problem={headProblem("book") ?? headProblem("period")}>
          {(p) => (
            <span className="flex gap-1">
              <select {...p} className="field" value={header.book ?? ""} onChange={(e) => set("book", e.target.value || null)}>
                <option value="">all</option>
                {work.books.map((b) => <option key={b.code} value={b.code}>{b.code} only</option>)}
              </select>
              {adjustment && (
                <select aria-label="Period" className="field" value={header.period ?? ""} onChange={(e) => set("period", e.target.value || null)}>
                  <option value="">month</option>
                  <option value={adjustment.key}>Adj.</option>
                </select>
              )}
            </span>
          )}
        </HeadField>
      </div>
      <EntryGrid label="Journal lines" columns={columns} history={history} onHistory={setHistory} problems={problems} currency={currency} commit={commit} balance={balance} />
    </Page>
  );
}

function HeadField({ label, required, problem, children }: { label: string; required?: boolean; problem?: string | undefined; children: (props: { id: string; "aria-invalid"?: true; "aria-describedby"?: string }) => React.ReactNode }) {
  const id = `head-${label.toLowerCase().replace(/\W+/g, "-")}`;
  return (
    <div className="min-w-0">
      <label htmlFor={id} className={`label ${required ? "label-required" : ""}`}>{label}</label>
      {children({ id, ...(problem ? { "aria-invalid": true as const, "aria-describedby": `${id}-problem` } : {}) })}
      {problem && <p id={`${id}-problem`} className="pt-0.5 text-xs text-coral">{problem}</p>}
    </div>
  );
}
