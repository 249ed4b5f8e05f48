"use client";
import { useCallback, useEffect, useMemo, useState } from "react";
import { FileSpreadsheet, Upload } from "lucide-react";
import { toast } from "sonner";
import {
  asideText,
  LOAD_FIELDS,
  type KnownCodes,
  type LoadCommon,
  type LoadField,
} from "@/core/ledger";
import { dateText, readDate } from "@/core/shared";
import type { LoadRow } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { commitCoding, tidyAmount } from "@/ui/grid/coding";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import { readBlock, type CellChange, type GridRow } from "@/ui/grid/gridModel";
import { exportXlsx } from "@/ui/table/exportTable";
import { Fact, Page, Problems } from "@/ui/Page";
import type { Lookups } from "../journals/[key]/JournalEditor";
import type { Sheet } from "@/server/files";
import { sendFile } from "@/app/lib/sendFile";
import { meaningName, ReadingPanel } from "./ReadingPanel";
import { Balances } from "./Balances";
import { EarlierLoads } from "./EarlierLoads";
import { JournalsOfLoad } from "./JournalsOfLoad";
import { originalOf, useLoad } from "./useLoad";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownSentence } from "@/ui/writing";

const WIDTHS: Partial<Record<string, number>> = {
  journal: 90,
  date: 100,
  reference: 110,
  company: 80,
  account: 240,
  debit: 110,
  credit: 110,
  currency: 70,
  quantity: 90,
  partner: 130,
  dueDate: 100,
  note: 140,
};

/**
 * From a spreadsheet to journals: pasted or dropped, understood, corrected here, then kept, sent
 * for approval or posted.
 */
export function LoadPage({
  lookups,
  currency,
  earlier,
  panel,
}: {
  lookups: Lookups;
  currency: string;
  earlier: LoadRow[];
  panel: React.ReactNode;
}) {
  const work = useWork();
  const period = work.company?.periods.find((p) => p.key === work.place.period);
  const first: LoadCommon = {
    company: work.place.company,
    type: lookups.types[0]?.code ?? "general",
    date: dateText(
      period && (work.today < period.start || work.today > period.end) ? period.end : work.today,
    ),
    description: "",
    reference: "",
    book: null,
    pattern: "",
  };
  const codes = useMemo(
    (): KnownCodes => ({
      accounts: new Set(lookups.accounts.map((a) => a.code)),
      companies: new Set(work.companies.map((c) => c.code)),
      values: new Map(
        lookups.dimensions.map((d) => [d.code, new Set(d.values.map((v) => v.code))]),
      ),
    }),
    [lookups, work.companies],
  );
  const load = useLoad(work.place.company, currency, lookups.dimensions, codes, first);
  const [mapping, setMapping] = useState<boolean | null>(null);
  const [jump, setJump] = useState(0);
  const mappingShown = mapping ?? load.open.length > 0;
  const { take } = load;
  const takeFile = useCallback(
    async (file: File) => {
      const answer = await sendFile<Sheet>("cells", file, { company: work.place.company });
      if (!answer.ok) return void toast.error(answer.message);
      take(answer.value, file.name);
    },
    [take, work.place.company],
  );
  const empty = load.table === null;
  useEffect(() => {
    if (!empty) return;
    const onPaste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (!text.trim() || event.target instanceof HTMLInputElement) return;
      event.preventDefault();
      take({ cells: readBlock(text), notes: [] }, "pasted rows");
    };
    document.addEventListener("paste", onPaste);
    return () => document.removeEventListener("paste", onPaste);
  }, [empty, take]);

  const fieldName = useCallback(
    (f: LoadField): string => meaningName(f, lookups.dimensions),
    [lookups],
  );
  const shown = useMemo((): LoadField[] => {
    const there = new Set(load.fields.filter((f): f is LoadField => f !== null && f !== "amount"));
    const order: LoadField[] = [
      "journal",
      "date",
      "company",
      "account",
      ...lookups.dimensions.map((d): LoadField => `d.${d.code}`),
      "description",
      "reference",
      "partner",
      "dueDate",
      "quantity",
      "currency",
      "debit",
      "credit",
      "note",
    ];
    return order.filter(
      (f) =>
        there.has(f) ||
        ["account", "debit", "credit", "description"].includes(f) ||
        f.startsWith("d."),
    );
  }, [load.fields, lookups]);
  const columns = useMemo(
    (): GridColumn[] =>
      shown.map((f): GridColumn => {
        const values = lookups.dimensions.find((d) => `d.${d.code}` === f)?.values;
        return {
          key: f,
          header: fieldName(f),
          kind:
            f === "account" || values
              ? "lookup"
              : ["debit", "credit", "quantity"].includes(f)
                ? "amount"
                : "text",
          ...(f === "description" ? {} : { width: WIDTHS[f] ?? 120 }),
          ...(f === "account" ? { options: lookups.accounts } : values ? { options: values } : {}),
        };
      }),
    [shown, lookups, fieldName],
  );
  const problems = useMemo(() => {
    const map = new Map<string, string>();
    const dimensionCodes = new Set(lookups.dimensions.map((d) => d.code));
    load.result?.journals.forEach((j, n) => {
      for (const p of j.problems) {
        const places = load.journals[n]?.rows;
        if (p.line === null || !places) continue;
        const field =
          p.field && dimensionCodes.has(p.field) ? `d.${p.field}` : (p.field ?? "account");
        map.set(
          `${places[p.line - 1]}:${shown.includes(field as LoadField) ? field : "account"}`,
          shownSentence(p.message.replace(/^Line \d+: /, "")),
        );
      }
    });
    return map;
  }, [load.result, load.journals, lookups, shown]);
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange): CellChange[] => {
      if (c.key === "debit" || c.key === "credit")
        return [{ ...c, value: tidyAmount(c.value, currency) }];
      return commitCoding(lookups, now, c) ?? [{ ...c, value: c.value.trim() }];
    },
    [currency, lookups],
  );
  const found = load.result?.journals ?? [];
  const { done } = load;
  const faulty = found.filter((j) => j.problems.length > 0);
  const twice = found.filter((j) => j.before && !load.again.has(j.key));
  const ready = found.filter(
    (j) => j.problems.length === 0 && (!j.before || load.again.has(j.key)),
  );
  const toApprove = ready.filter((j) => j.approval);
  const toPost = ready.filter((j) => !j.approval);
  const toKeep = found.filter((j) => !j.before || load.again.has(j.key));
  const ofWhole = found.filter(
    (j) => (j.before && !load.again.has(j.key)) || j.problems.some((p) => p.line === null),
  );
  const finish = async (mode: "draft" | "submit" | "post") => {
    const answer = await load.ask(mode);
    if (!answer?.ok) return;
    const taken = answer.value.journals.filter((j) => j.id !== null).length;
    const left = answer.value.journals.length - taken;
    const what = mode === "post" ? "posted" : mode === "submit" ? "sent for approval" : "kept";
    const say = taken > 0 ? toast.success : toast.error;
    say(`${count(taken)} ${what}${left > 0 ? `, ${left} left` : ""}.`);
  };
  const count = (n: number) => `${n} ${n === 1 ? "journal" : "journals"}`;
  const takeOut = () =>
    void exportXlsx(
      "corrected load",
      shown.map(fieldName),
      load.history.rows.map((r) => shown.map((f) => r[f] ?? "")),
      // It is loaded again: nothing stands above its headings.
      [],
    );
  const common = load.common;
  const set = (key: keyof LoadCommon, value: string) =>
    load.setCommon((c) => ({ ...c, [key]: value }));
  const sums = found.reduce<Record<string, { debits: bigint; credits: bigint }>>(
    (all, j) => ({
      ...all,
      [j.currency]: {
        debits: (all[j.currency]?.debits ?? 0n) + j.debits,
        credits: (all[j.currency]?.credits ?? 0n) + j.credits,
      },
    }),
    {},
  );

  if (empty)
    return (
      <Page
        strip={<PeriodStrip />}
        title="Load journals"
        note={work.company?.name}
        actions={<TemplateLink />}
        panel={panel}
      >
        <label
          className="panel grid flex-1 cursor-pointer place-items-center border-2 border-dashed! focus-within:outline-2 focus-within:outline-sea"
          onDragOver={(e) => e.preventDefault()}
          onDrop={(e) => {
            e.preventDefault();
            const file = e.dataTransfer.files[0];
            if (file) void takeFile(file);
          }}
        >
          <span className="max-w-lg text-center">
            <Upload size={26} aria-hidden className="mx-auto mb-2 text-ink-3" />
            <b className="block text-[15px]">
              Paste rows from a spreadsheet, or drop a CSV or XLSX file here
            </b>
            <span className="text-ink-2">
              With or without headings, in any order. One file can hold many journals, kept apart by
              a column that names them. Nothing is stored before you have seen it checked.
            </span>
            <span className="button mt-3">Choose a file</span>
          </span>
          <input
            type="file"
            accept=".csv,.xlsx,.tsv,.txt"
            className="sr-only"
            aria-label="A file to load"
            onChange={(e) => {
              const file = e.target.files?.[0];
              e.target.value = "";
              if (file) void takeFile(file);
            }}
          />
        </label>
        <EarlierLoads loads={earlier} />
      </Page>
    );
  return (
    <Page
      strip={<PeriodStrip />}
      panel={panel}
      title="Load journals"
      note={`${load.source} · ${load.history.rows.length} rows in ${count(load.journals.length)}`}
      actions={
        <>
          <button type="button" className="button button-plain" onClick={load.clear}>
            Start over
          </button>
          <button
            type="button"
            className="button"
            aria-expanded={mappingShown}
            onClick={() => setMapping(!mappingShown)}
          >
            How it is read
          </button>
          <button type="button" className="button" onClick={takeOut}>
            <FileSpreadsheet size={15} aria-hidden />
            Download as XLSX
          </button>
          <button
            type="button"
            className="button"
            disabled={load.busy !== null || toKeep.length === 0}
            onClick={() => void finish("draft")}
          >
            Keep {count(toKeep.length)} as drafts
          </button>
          {toApprove.length > 0 && (
            <button
              type="button"
              className="button"
              disabled={load.busy !== null}
              onClick={() => void finish("submit")}
            >
              Send {toApprove.length} for approval
            </button>
          )}
          {work.may("post.ledger") && (
            <button
              type="button"
              className="button button-main"
              disabled={load.busy !== null || toPost.length === 0}
              onClick={() => void finish("post")}
            >
              {load.busy === "post" ? "Posting" : `Post ${count(toPost.length)}`}
            </button>
          )}
        </>
      }
      footer={
        <>
          {Object.entries(sums).map(([unit, s]) => (
            <div key={unit} className="flex gap-[26px]">
              <Fact label={`Debits ${unit}`}>{shownAmount(s.debits, unit)}</Fact>
              <Fact label={`Credits ${unit}`}>{shownAmount(s.credits, unit)}</Fact>
              <Fact label="Difference" tone={s.debits === s.credits ? "good" : "bad"}>
                {shownAmount(
                  s.debits > s.credits ? s.debits - s.credits : s.credits - s.debits,
                  unit,
                )}
              </Fact>
            </div>
          ))}
          <span className="ml-auto text-right">
            {load.busy === "check" ? (
              <span className="text-ink-3">checking …</span>
            ) : found.length === 0 ? (
              done.length > 0 && <b className="text-moss">{count(done.length)} loaded</b>
            ) : faulty.length === 0 ? (
              <b className="text-moss">
                {twice.length > 0
                  ? `${count(twice.length)} loaded before`
                  : "Nothing stands in the way"}
              </b>
            ) : (
              <button
                type="button"
                className="font-bold text-coral"
                onClick={() => setJump((n) => n + 1)}
              >
                {faulty.reduce((n, j) => n + j.problems.length, 0)} problems in{" "}
                {count(faulty.length)} · go to the next <kbd>F8</kbd>
              </button>
            )}
          </span>
        </>
      }
    >
      <Problems messages={load.problem ? [load.problem] : []} />
      {load.open.length > 0 && (
        <div role="alert" className="notice">
          {load.open.map((i) => load.table![0]![i]).join(" and ")}{" "}
          {load.open.length === 1 ? "holds" : "hold"} figures. Say below which column is debit and
          which credit: both ways round would balance.
        </div>
      )}
      {(load.notes.length > 0 || load.aside.blank + load.aside.aside.length > 0) && (
        <div role="status" className="notice">
          {[asideText(load.aside.blank, load.aside.aside, load.firstRow), ...load.notes]
            .filter(Boolean)
            .join(" ")}
        </div>
      )}
      {mappingShown && load.read && (
        <ReadingPanel
          headings={load.table![0]!}
          headed={load.headed}
          remembered={load.remembered}
          fields={load.fields}
          choices={[...LOAD_FIELDS, ...lookups.dimensions.map((d): LoadField => `d.${d.code}`)]}
          rows={load.table!.slice(1, 4)}
          read={load.read}
          dimensions={lookups.dimensions}
          onMean={load.mean}
          onReread={load.reread}
        />
      )}
      <div
        className="panel flex shrink-0 flex-wrap items-end gap-2.5 px-3 py-2.5"
        aria-label="Given once"
      >
        <Given id="l-type" label="Type" width="w-32">
          <select
            id="l-type"
            className="field"
            value={common.type}
            onChange={(e) => set("type", e.target.value)}
          >
            {lookups.types.map((t) => (
              <option key={t.code} value={t.code}>
                {t.name}
              </option>
            ))}
          </select>
        </Given>
        <Given id="l-desc" label="Description of the journals" width="min-w-48 flex-1">
          <input
            id="l-desc"
            className="field"
            placeholder="from the rows"
            value={common.description}
            onChange={(e) => set("description", e.target.value)}
          />
        </Given>
        <Given id="l-date" label="Date, where rows have none" width="w-40">
          <DateField
            id="l-date"
            value={common.date}
            onChange={(text) => set("date", text)}
            onBlur={() => {
              const d = readDate(common.date, work.today);
              if (d) set("date", dateText(d));
            }}
          />
        </Given>
        <Given id="l-ref" label="Reference" width="w-28">
          <input
            id="l-ref"
            className="field"
            value={common.reference}
            onChange={(e) => set("reference", e.target.value)}
          />
        </Given>
        <Given id="l-pattern" label="Line descriptions from a pattern" width="w-56">
          <input
            id="l-pattern"
            className="field"
            placeholder="Fuel {reference}, {description}"
            value={common.pattern}
            onChange={(e) => set("pattern", e.target.value)}
          />
        </Given>
      </div>
      {load.result && <Balances balances={load.result.balances} />}
      <JournalsOfLoad done={done} left={ofWhole} again={load.again} onAgain={load.loadAgain} />
      <EntryGrid
        label="Rows of the load"
        columns={columns}
        history={load.history}
        onHistory={load.setHistory}
        problems={problems}
        currency={currency}
        commit={commit}
        original={originalOf}
        jump={jump}
        checked={load.checked}
      />
    </Page>
  );
}

function Given({
  id,
  label,
  width,
  children,
}: {
  id: string;
  label: string;
  width: string;
  children: React.ReactNode;
}) {
  return (
    <div className={width}>
      <label className="label" htmlFor={id}>
        {label}
      </label>
      {children}
    </div>
  );
}

/**
 * A workbook made for this installation: its dimensions, lists of accounts and values, as many rows
 * as wanted, running totals.
 */
function TemplateLink() {
  const work = useWork();
  const [rows, setRows] = useState("200");
  return (
    <span className="flex items-center gap-2">
      <label className="flex items-center gap-2 text-ink-2">
        Rows
        <input
          className="field w-20 text-right"
          inputMode="numeric"
          value={rows}
          onChange={(e) => setRows(e.target.value.replace(/\D/g, "").slice(0, 5))}
        />
      </label>
      <a
        className="button"
        href={work.link("/export/load-template", { rows: rows || "200" })}
        download
      >
        <FileSpreadsheet size={15} aria-hidden />
        Template
      </a>
    </span>
  );
}
