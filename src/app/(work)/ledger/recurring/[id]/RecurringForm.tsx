"use client";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import { toast } from "sonner";
import { readAmountRule, type JournalInput } from "@/core/ledger";
import { CURRENCIES, dateText, readDate, RHYTHM_UNITS, type Rhythm } from "@/core/shared";
import type { RecurringView } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { codingColumns, commitCoding, tidyAmount } from "@/ui/grid/coding";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import { startHistory, type CellChange, type GridRow } from "@/ui/grid/gridModel";
import { Field } from "@/ui/Field";
import { DatesPanel } from "@/app/recurring/DatesPanel";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import type { Lookups } from "../../journals/[key]/JournalEditor";
import { toContent, toRows } from "../../journals/[key]/useDraft";
import { endRecurringAction, saveRecurringAction, skipRecurringAction } from "../actions";
import { DateField } from "@/ui/date/DateField";

const HEAD = new Set(["name", "description", "type", "first", "until", "every", "currency"]);

/**
 * A journal that comes again: its rhythm, and its lines with amounts or the rules by which they
 * come about.
 */
export function RecurringForm({
  view,
  name: givenName,
  content,
  rhythm: givenRhythm,
  lookups,
  currency: functional,
}: {
  view: RecurringView | null;
  name: string;
  content: JournalInput;
  rhythm: Rhythm;
  lookups: Lookups;
  currency: string;
}) {
  const work = useWork();
  const router = useRouter();
  const [name, setName] = useState(givenName);
  const [rhythm, setRhythm] = useState(givenRhythm);
  const [header, setHeader] = useState(() => {
    const { lines: _lines, ...head } = content;
    return head;
  });
  const [history, setHistory] = useState(() => startHistory(toRows(content)));
  const [problems, setProblems] = useState<
    { line: number | null; field: string | null; message: string }[]
  >([]);
  const [busy, setBusy] = useState(false);
  const [made, setMade] = useState(false);
  const [jump, setJump] = useState(0);
  const may = work.may("prepare.ledger");
  const currency = header.currency || functional;
  const columns = useMemo(
    (): GridColumn[] => [
      ...codingColumns(lookups, { wide: true }),
      {
        key: "description",
        header: "Description",
        kind: "text",
        inherited: (row) => (row.account ? header.description || name : ""),
      },
      { key: "debit", header: "Debit, or its rule", width: 190, kind: "amount" },
      { key: "credit", header: "Credit, or its rule", width: 190, kind: "amount" },
    ],
    [lookups, header.description, name],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] => {
      if (c.key !== "debit" && c.key !== "credit")
        return commitCoding(lookups, now, c, typed) ?? [c];
      const rule = readAmountRule(c.value.trim());
      return [
        {
          ...c,
          value:
            rule && rule.kind !== "fixed"
              ? c.value.trim().replace(/\s+/g, " ")
              : tidyAmount(c.value, currency),
        },
      ];
    },
    [lookups, currency],
  );
  const marks = useMemo(() => {
    const dimensions = new Set(lookups.dimensions.map((d) => d.code));
    return new Map(
      problems.flatMap((p) =>
        p.line === null
          ? []
          : [
              [
                `${p.line - 1}:${p.field && dimensions.has(p.field) ? `d.${p.field}` : (p.field ?? "account")}`,
                p.message.replace(/^Line \d+: /, ""),
              ] as const,
            ],
      ),
    );
  }, [problems, lookups]);
  const at = (field: string) => problems.find((p) => p.line === null && p.field === field)?.message;
  const save = async () => {
    setBusy(true);
    const result = await saveRecurringAction({
      ...(view ? { id: view.id, version: view.version } : {}),
      name,
      rhythm,
      content: toContent({ ...header, company: view?.company ?? work.place.company }, history.rows),
    }).catch(() => null);
    setBusy(false);
    if (!result)
      return setProblems([
        {
          line: null,
          field: null,
          message: "The server did not answer. What you typed is still here; try again.",
        },
      ]);
    if (!result.ok) return setProblems(result.problems);
    setProblems([]);
    toast.success("Saved. It waits in the list until it is due.");
    if (view) router.refresh();
    else router.push(work.link(`/ledger/recurring/${result.value.id}`));
  };
  usePrimaryKeys(
    undefined,
    useCallback(() => {
      if (may) document.getElementById("save-recurring")?.click();
    }, [may]),
  );
  const end = async (to: "ended" | "active") => {
    const result = await endRecurringAction({ id: view!.id, to }).catch(() => null);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success(to === "ended" ? "Ended. What it has made stays." : "Taken up again.");
    router.refresh();
  };
  const tidy = (key: "first" | "until") => (e: { target: { value: string } }) => {
    const read = readDate(e.target.value, work.today);
    if (read) setRhythm((r) => ({ ...r, [key]: dateText(read) }));
  };
  return (
    <Page
      strip={<PeriodStrip />}
      title={view ? view.name : "New recurring journal"}
      status={view && <Status of={view.status} />}
      note={
        view
          ? `${view.rhythmText}${view.due.length > 0 ? ` · ${view.due.length} due` : ""}`
          : "amounts are fixed, asked for each time, or computed"
      }
      panel={
        made &&
        view && (
          <DatesPanel
            {...view}
            made={view.made.map((m) => ({ ...m, amount: m.total }))}
            currency={functional}
            page="/ledger/journals"
            mayChange={may}
            skip={skipRecurringAction}
            onClose={() => setMade(false)}
          />
        )
      }
      actions={
        <>
          {view && (
            <button
              type="button"
              className="button"
              aria-expanded={made}
              onClick={() => setMade(!made)}
            >
              Dates
            </button>
          )}
          {view && may && (
            <button
              type="button"
              className="button"
              onClick={() => void end(view.status === "active" ? "ended" : "active")}
            >
              {view.status === "active" ? "End" : "Resume"}
            </button>
          )}
          {may && (
            <button
              id="save-recurring"
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={() => void save()}
              data-keys="Ctrl Shift Enter=Save"
            >
              Save <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          )}
        </>
      }
      footer={
        <span className="text-ink-2">
          In an amount cell: <b>1,250.00</b> · <b>?</b> asked each time · <b>4% of 4010</b> ·{" "}
          <b>0.35 per 9010</b> · <b>rest</b> · <b>rest by 9010</b> shares what is left by the
          line&apos;s own units. After an account: <b>4010..4090</b>, <b>in NORTH</b>,{" "}
          <b>last month</b>, <b>year</b>, <b>balance</b>.
          {marks.size > 0 && (
            <button
              type="button"
              className="ml-3 font-bold text-coral"
              onClick={() => setJump((n) => n + 1)}
            >
              {marks.size} marked at their cells (F8)
            </button>
          )}
        </span>
      }
    >
      <Problems
        messages={problems
          .filter((p) => p.line === null && !HEAD.has(p.field ?? ""))
          .map((p) => p.message)}
      />
      <div className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5">
        <Field id="r-name" label="Name" required problem={at("name")} width="w-56">
          {(p) => (
            <input
              {...p}
              className="field"
              autoFocus={!view}
              value={name}
              onChange={(e) => setName(e.target.value)}
            />
          )}
        </Field>
        <Field id="r-type" label="Type" problem={at("type")} width="w-32">
          {(p) => (
            <select
              {...p}
              className="field"
              value={header.type}
              onChange={(e) => setHeader((h) => ({ ...h, type: e.target.value }))}
            >
              {lookups.types.map((t) => (
                <option key={t.code} value={t.code}>
                  {t.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field
          id="r-description"
          label="Description"
          problem={at("description")}
          hint="{month} and {year} are filled in"
          width="min-w-48 flex-1"
        >
          {(p) => (
            <input
              {...p}
              className="field"
              placeholder={name}
              value={header.description}
              onChange={(e) => setHeader((h) => ({ ...h, description: e.target.value }))}
            />
          )}
        </Field>
        <Field id="r-currency" label="Currency" problem={at("currency")} width="w-20">
          {(p) => (
            <select
              {...p}
              className="field"
              value={currency}
              onChange={(e) =>
                setHeader((h) => ({
                  ...h,
                  currency: e.target.value === functional ? null : e.target.value,
                }))
              }
            >
              {CURRENCIES.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          )}
        </Field>
        <Field id="r-every" label="Every" problem={at("every")} width="w-36">
          {(p) => (
            <span className="flex gap-1">
              <input
                {...p}
                className="field w-12 text-right"
                inputMode="numeric"
                value={Number.isNaN(rhythm.every) ? "" : rhythm.every}
                onChange={(e) =>
                  setRhythm((r) => ({ ...r, every: Number.parseInt(e.target.value, 10) }))
                }
              />
              <select
                aria-label="Unit of the rhythm"
                className="field"
                value={rhythm.unit}
                onChange={(e) =>
                  setRhythm((r) => ({ ...r, unit: e.target.value as Rhythm["unit"] }))
                }
              >
                {RHYTHM_UNITS.map((u) => (
                  <option key={u} value={u}>
                    {u}s
                  </option>
                ))}
              </select>
            </span>
          )}
        </Field>
        <Field id="r-first" label="First on" required problem={at("first")} width="w-28">
          {(p) => (
            <DateField
              {...p}
              value={rhythm.first}
              onChange={(text) => setRhythm((r) => ({ ...r, first: text }))}
              onBlur={tidy("first")}
            />
          )}
        </Field>
        <Field id="r-until" label="Until" problem={at("until")} width="w-28">
          {(p) => (
            <DateField
              {...p}
              placeholder="without end"
              value={rhythm.until}
              onChange={(text) => setRhythm((r) => ({ ...r, until: text }))}
              onBlur={tidy("until")}
            />
          )}
        </Field>
      </div>
      <EntryGrid
        label="Lines of the recurring journal"
        columns={columns}
        history={history}
        onHistory={setHistory}
        problems={marks}
        currency={currency}
        commit={commit}
        jump={jump}
      />
    </Page>
  );
}
