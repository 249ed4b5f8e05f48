"use client";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import { invoiceInput, JOURNAL_DAYS, type InvoiceInput } from "@/core/payables";
import { CURRENCIES, dateText } from "@/core/shared";
import type { RecurringInvoiceView } from "@/server/payables";
import { useAct } from "@/app/lib/useAct";
import { Field } from "@/ui/Field";
import { useWork } from "@/ui/frame/work";
import { codingColumns, commitCoding, tidyAmount, type CodingLookups } from "@/ui/grid/coding";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import { startHistory, type CellChange, type GridRow } from "@/ui/grid/gridModel";
import { DatesPanel } from "@/app/recurring/DatesPanel";
import { RhythmFields, type WrittenRhythm } from "@/app/recurring/RhythmFields";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import {
  endRecurringInvoiceAction,
  saveRecurringInvoiceAction,
  skipRecurringInvoiceAction,
} from "../actions";
import { shownAmount } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

interface Lookups extends CodingLookups {
  suppliers: { code: string; name: string }[];
  terms: { code: string; name: string }[];
  taxes: { code: string; name: string }[];
  shares: { code: string; name: string }[];
}
const CELLS = ["account", "shares", "description", "taxCode", "net"] as const;

/**
 * A template of invoices that come again: who sends them, how often, how the number and the text
 * are made, and the lines.
 */
export function RecurringInvoiceForm({
  view,
  start,
  lookups,
}: {
  view: RecurringInvoiceView | null;
  start: InvoiceInput;
  lookups: Lookups;
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, setMessages, act } = useAct();
  const t = view?.template;
  const [head, setHead] = useState({
    name: t?.name ?? "",
    suppliers: t?.suppliers.join(" ") ?? "",
    every: String(t?.rhythm.every ?? 1),
    unit: t?.rhythm.unit ?? ("month" as WrittenRhythm["unit"]),
    first: t ? dateText(t.rhythm.first) : "",
    until: t?.rhythm.until ? dateText(t.rhythm.until) : "",
    numberPattern: t?.numberPattern ?? "",
    journalDay: t?.journalDay ?? ("invoice date" as (typeof JOURNAL_DAYS)[number]),
    agreed: t?.agreed ?? "",
    spread: t?.spread ?? false,
    terms: start.terms,
    controlAccount: start.controlAccount,
    currency: start.currency ?? "",
    description: start.description,
  });
  const [history, setHistory] = useState(() =>
    startHistory(
      start.lines.map((l): GridRow => ({
        ...Object.fromEntries(CELLS.flatMap((k) => (l[k] ? [[k, l[k]]] : []))),
        ...Object.fromEntries(Object.entries(l.dimensions).map(([k, v]) => [`d.${k}`, v])),
      })),
    ),
  );
  const [problems, setProblems] = useState<
    { line: number | null; field: string | null; message: string }[]
  >([]);
  const [side, setSide] = useState(false);
  const [saving, setSaving] = useState(false);
  const may = work.may("prepare.payables");
  const set = (change: Partial<typeof head>) => setHead((h) => ({ ...h, ...change }));
  const currency =
    head.currency || (work.companies.find((c) => c.code === start.company)?.currency ?? "EUR");
  const columns = useMemo(
    (): GridColumn[] => [
      ...codingColumns(lookups, { wide: true }),
      { key: "shares", header: "Shares", width: 110, kind: "lookup", options: lookups.shares },
      { key: "description", header: "Description", kind: "text" },
      { key: "taxCode", header: "Tax", width: 96, kind: "lookup", options: lookups.taxes },
      { key: "net", header: `Net ${currency}`, width: 122, kind: "amount" },
    ],
    [lookups, currency],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] => {
      if (c.key === "net") return [{ ...c, value: tidyAmount(c.value, currency) }];
      const options =
        c.key === "taxCode" ? lookups.taxes : c.key === "shares" ? lookups.shares : null;
      if (options)
        return [
          {
            ...c,
            value:
              options.find((o) => o.code.toLowerCase() === c.value.trim().toLowerCase())?.code ??
              c.value.trim(),
          },
        ];
      return commitCoding(lookups, now, c, typed) ?? [c];
    },
    [lookups, currency],
  );
  const end = (to: "ended" | "active") =>
    act(
      () => endRecurringInvoiceAction({ id: view!.id, to }),
      to === "ended" ? "Ended. What it has made stays." : "Taken up again.",
    );
  const save = async () => {
    if (saving) return;
    setSaving(true);
    const invoice = invoiceInput({
      ...start,
      terms: head.terms,
      controlAccount: head.controlAccount,
      currency: head.currency || null,
      description: head.description,
      lines: history.rows
        .filter((r) => Object.values(r).some(Boolean))
        .map((r) => ({
          ...Object.fromEntries(CELLS.map((k) => [k, r[k] ?? ""])),
          dimensions: Object.fromEntries(
            Object.entries(r).flatMap(([k, v]) => (k.startsWith("d.") ? [[k.slice(2), v]] : [])),
          ),
        })),
    });
    const result = await saveRecurringInvoiceAction({
      ...(view ? { id: view.id, version: view.version } : {}),
      template: {
        name: head.name,
        suppliers: head.suppliers.split(/[\s,;]+/).filter(Boolean),
        rhythm: {
          every: Number(head.every) || 0,
          unit: head.unit,
          first: head.first,
          until: head.until,
        },
        numberPattern: head.numberPattern,
        journalDay: head.journalDay,
        agreed: head.agreed,
        spread: head.spread,
        invoice,
      },
    })
      .catch(() => null)
      .finally(() => setSaving(false));
    if (!result) return setMessages(["The server did not answer. Try again."]);
    if (!result.ok)
      return setProblems(
        result.problems.map((p) => ({ line: p.line, field: p.field, message: p.message })),
      );
    setProblems([]);
    if (view) router.refresh();
    else router.push(work.link(`/payables/recurring/${result.value.id}`));
  };
  usePrimaryKeys(undefined, () => void save());
  const at = (field: string) =>
    problems.find((p) => p.line === null && (p.field === field || p.field?.endsWith(`.${field}`)))
      ?.message;
  const known = [
    "name",
    "suppliers",
    "first",
    "until",
    "every",
    "numberPattern",
    "agreed",
    "currency",
    "terms",
    "description",
    "controlAccount",
  ];
  const dimensions = new Set(lookups.dimensions.map((d) => d.code));
  const marks = new Map(
    problems.flatMap((p) =>
      p.line === null
        ? []
        : [
            [
              `${p.line - 1}:${p.field && dimensions.has(p.field) ? `d.${p.field}` : (p.field ?? "account")}`,
              p.message,
            ] as const,
          ],
    ),
  );
  const text = (
    key: "controlAccount" | "name" | "suppliers" | "numberPattern" | "agreed" | "description",
    label: string,
    width: string,
    required = false,
    placeholder = "",
  ) => (
    <Field id={`t-${key}`} label={label} required={required} problem={at(key)} width={width}>
      {(p) =>
        key === "agreed" ? (
          <FigureField
            {...p}
            placeholder={placeholder}
            value={head[key]}
            onChange={(agreed) => set({ agreed })}
          />
        ) : (
          <input
            {...p}
            className="field"
            placeholder={placeholder}
            value={head[key]}
            onChange={(e) => set({ [key]: e.target.value })}
          />
        )
      }
    </Field>
  );
  return (
    <Page
      title={view?.name ?? "New recurring invoice"}
      status={view ? <Status of={view.status} /> : undefined}
      note={
        view
          ? `${view.rhythmText}${view.left === null ? "" : ` · ${shownAmount(view.left, view.currency)} left of what was agreed`}`
          : "made in time as drafts, which wait for the paper"
      }
      panel={
        side &&
        view && (
          <DatesPanel
            {...view}
            page="/payables/invoices"
            mayChange={may}
            skip={skipRecurringInvoiceAction}
            onClose={() => setSide(false)}
          />
        )
      }
      actions={
        <>
          {view && (
            <button
              type="button"
              className="button"
              aria-expanded={side}
              onClick={() => setSide(!side)}
            >
              Dates
            </button>
          )}
          {view && may && (
            <button
              type="button"
              className="button"
              disabled={busy}
              onClick={() => void end(view.status === "active" ? "ended" : "active")}
            >
              {view.status === "active" ? "End" : "Resume"}
            </button>
          )}
          {may && (
            <button
              type="button"
              className="button button-main"
              disabled={busy || saving}
              onClick={() => void save()}
              data-keys="Ctrl Shift Enter=Save"
            >
              Save <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          )}
        </>
      }
    >
      <Problems
        messages={[
          ...messages,
          ...problems
            .filter(
              (p) =>
                p.line === null && !known.some((k) => p.field === k || p.field?.endsWith(`.${k}`)),
            )
            .map((p) => p.message),
        ]}
      />
      <div className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5">
        {text("name", "Name", "w-56", true)}
        {text("suppliers", "Suppliers", "w-44", true, "S-104 S-110")}
        <RhythmFields id="t" first="First invoice date" value={head} onChange={set} problem={at} />
        {text("numberPattern", "Number on the paper", "w-40", true, "PREM-{yyyy}-{q}")}
        <Field id="t-journal" label="Journal date" width="w-40">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.journalDay}
              onChange={(e) => set({ journalDay: e.target.value as typeof head.journalDay })}
            >
              {JOURNAL_DAYS.map((d) => (
                <option key={d}>{d}</option>
              ))}
            </select>
          )}
        </Field>
        {text("agreed", "Agreed in all, with tax", "w-36", false, "without end")}
        <label
          className="flex items-center gap-2 self-end pb-1.5"
          title="The lines say in which parts"
        >
          <input
            type="checkbox"
            checked={head.spread}
            onChange={(e) => set({ spread: e.target.checked })}
          />
          spread over its dates
        </label>
        <Field id="t-terms" label="Terms" width="w-40">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.terms}
              onChange={(e) => set({ terms: e.target.value })}
            >
              <option value="">the supplier’s</option>
              {lookups.terms.map((x) => (
                <option key={x.code} value={x.code}>
                  {x.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field id="t-currency" label="Currency" problem={at("currency")} width="w-20">
          {(p) => (
            <select
              {...p}
              className="field"
              value={currency}
              onChange={(e) => set({ currency: e.target.value })}
            >
              {CURRENCIES.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          )}
        </Field>
        {text("controlAccount", "Control account", "w-32", false, "the common one")}
        {text("description", "Description", "min-w-48 flex-1", false, "Premium {q} {yyyy}")}
      </div>
      <EntryGrid
        label="Invoice lines"
        columns={columns}
        history={history}
        onHistory={setHistory}
        problems={marks}
        currency={currency}
        commit={commit}
      />
      <p className="text-xs text-ink-3">
        In numbers and texts: {"{yyyy} {yy} {mm} {month} {q}"} from the date, {"{n}"} the count.
        Shares split the cost of their line.
      </p>
    </Page>
  );
}
