"use client";
import Link from "next/link";
import { useCallback, useMemo, useState } from "react";
import { Gauge, Paperclip, Trash2 } from "lucide-react";
import { amountText, compute, minor, readAmount, sum, type Minor } from "@/core/shared";
import { asideText, doubtsOf, quantityText, readQuantity } from "@/core/ledger";
import { useWork } from "@/ui/frame/work";
import { StaleNotice } from "@/ui/StaleNotice";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { codingColumns, commitCoding, tidyAmount, type CodingLookups } from "@/ui/grid/coding";
import { useHeadKeys } from "@/ui/grid/useHeadKeys";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import type { Shortcut } from "@/server/ledger";
import { DraftPanel } from "./DraftPanel";
import { EditorMenu } from "./EditorMenu";
import { JournalHeader } from "./JournalHeader";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { meaningName, ReadingPanel } from "../../load/ReadingPanel";
import { useTablePaste } from "./useTablePaste";
import { useDraft, type StartOfDraft } from "./useDraft";
import { shownAmount } from "@/ui/writing";

export interface Lookups extends CodingLookups {
  types: { code: string; name: string; naming: string; reverses: boolean }[];
  shortcuts: Shortcut[];
}
interface Props {
  start: StartOfDraft;
  lookups: Lookups;
  /** The functional currency of the company. */
  currency: string;
  mayPost: boolean;
  batch: { id: number; name: string; period: string } | null;
}

/** Columns that most journals do without: there where asked for, and where a line uses them. */
const SPARE_COLUMNS = {
  company: "Company",
  quantity: "Quantity",
  partner: "Partner",
  dueDate: "Due date",
  note: "Note",
} as const;
export type SpareColumn = keyof typeof SPARE_COLUMNS;

/**
 * Writing a journal. It keeps itself; what is wrong shows at its cell once asked for; posting posts
 * what is seen.
 */
export function JournalEditor({ start, lookups, currency: functional, mayPost, batch }: Props) {
  const work = useWork();
  const draft = useDraft(start, batch?.id ?? null);
  const { header, rows, check, problems: found } = draft;
  const [side, setSide] = useState<"effect" | "papers" | null>(null);
  const effect = side === "effect";
  const [spare, setSpare] = useState<ReadonlySet<SpareColumn>>(new Set());
  const [movedOnly, setMovedOnly] = useState(false);
  const [jump, setJump] = useState(0);
  const [active, setActive] = useState(0);
  const head = useHeadKeys();
  const currency = header.currency || functional;
  const foreign = currency !== functional;

  const { runCheck, finish, settle, id } = draft;
  const documentId = useCallback(async () => ((await settle()) ? id() : null), [settle, id]);
  const approval = check?.approval ?? null;
  const main = batch ? null : approval ? "submit" : mayPost ? "post" : null;
  usePrimaryKeys(
    useCallback(() => void runCheck(), [runCheck]),
    useCallback(() => void (main && finish(main)), [main, finish]),
  );

  const accountOf = useMemo(() => new Map(lookups.accounts.map((a) => [a.code, a])), [lookups]);
  const used = useMemo(
    () =>
      new Set(
        (Object.keys(SPARE_COLUMNS) as SpareColumn[]).filter((key) =>
          rows.some((r) => r[key]?.trim()),
        ),
      ),
    [rows],
  );
  const partners = rows.some((r) => accountOf.get(r.account ?? "")?.partner);
  const shown = useCallback(
    (key: SpareColumn) =>
      spare.has(key) || used.has(key) || (partners && (key === "partner" || key === "dueDate")),
    [spare, used, partners],
  );
  const wide =
    lookups.dimensions.length +
      (Object.keys(SPARE_COLUMNS) as SpareColumn[]).filter(shown).length +
      (foreign ? 1 : 0) >
    3;
  const columns = useMemo((): GridColumn[] => {
    const needs = (row: GridRow) =>
      accountOf.get(row.account ?? "")?.partner ? ("required" as const) : undefined;
    return [
      ...(shown("company")
        ? [
            {
              key: "company",
              header: "Company",
              width: 92,
              kind: "lookup" as const,
              options: work.companies.map((c) => ({ code: c.code, name: c.name })),
              optional: true,
              inherited: (row: GridRow) => (row.account ? header.company : ""),
            },
          ]
        : []),
      ...codingColumns(lookups, { wide, movedOnly }),
      {
        key: "description",
        header: "Description",
        kind: "text",
        optional: true,
        inherited: (row) => (row.account ? header.description : ""),
      },
      ...(shown("partner")
        ? [
            {
              key: "partner",
              header: "Partner",
              width: 150,
              kind: "lookup" as const,
              options: lookups.partners ?? [],
              optional: true,
              state: needs,
            },
          ]
        : []),
      ...(shown("dueDate")
        ? [
            {
              key: "dueDate",
              header: "Due date",
              width: 96,
              kind: "text" as const,
              optional: true,
              state: needs,
            },
          ]
        : []),
      ...(shown("quantity")
        ? [
            {
              key: "quantity",
              header: "Quantity",
              width: 96,
              kind: "amount" as const,
              optional: true,
              state: (row: GridRow) =>
                accountOf.get(row.account ?? "")?.units ? ("required" as const) : undefined,
            },
          ]
        : []),
      {
        key: "debit",
        header: foreign ? `Debit ${currency}` : "Debit",
        width: 118,
        kind: "amount",
        // The side of a line is usually that of the line above.
        passed: (row, above) => Boolean(row.credit || (above.credit && !above.debit)),
      },
      {
        key: "credit",
        header: foreign ? `Credit ${currency}` : "Credit",
        width: 118,
        kind: "amount",
        passed: (row) => Boolean(row.debit),
      },
      ...(foreign
        ? [
            {
              key: "functional",
              header: functional,
              computed: true,
              width: 112,
              kind: "amount" as const,
              inherited: (row: GridRow) => functionalText(row),
            },
          ]
        : []),
      ...(shown("note")
        ? [{ key: "note", header: "Note", width: 160, kind: "text" as const, optional: true }]
        : []),
    ];

    function functionalText(row: GridRow): string {
      const index = rows.indexOf(row);
      const written = rows.filter((r) => r.account || r.debit || r.credit);
      const own = check?.previews.find((p) => p.company === header.company);
      const line =
        own && !row.company
          ? own.lines[written.filter((r) => !r.company).indexOf(rows[index]!)]
          : undefined;
      return line && !line.added ? amountText(line.amount, functional) : "";
    }
  }, [
    lookups,
    accountOf,
    header.description,
    header.company,
    shown,
    wide,
    foreign,
    currency,
    functional,
    movedOnly,
    work.companies,
    rows,
    check,
  ]);

  const amount = useCallback(
    (text: string | undefined): Minor => {
      const r = readAmount(text ?? "", currency);
      return r.ok ? r.amount : minor(0n);
    },
    [currency],
  );
  const balance = useCallback(
    (now: readonly GridRow[], row: number): CellChange[] => {
      const others = now.filter((_, i) => i !== row);
      const difference =
        sum(others.map((r) => amount(r.debit))) - sum(others.map((r) => amount(r.credit)));
      const side = difference > 0n ? "credit" : "debit";
      if (difference === 0n)
        return [
          { row, key: "debit", value: "" },
          { row, key: "credit", value: "" },
        ];
      return [
        { row, key: side, value: amountText(difference > 0n ? difference : -difference, currency) },
        { row, key: side === "credit" ? "debit" : "credit", value: "" },
      ];
    },
    [amount, currency],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] => {
      const text = c.value.trim();
      if (c.key === "debit" || c.key === "credit" || c.key === "functional") {
        const unit = c.key === "functional" ? functional : currency;
        if (text === "=" && c.key !== "functional") return balance(now, c.row);
        return [{ ...c, value: tidyAmount(text, unit) }];
      }
      if (c.key === "quantity") {
        const computed = text.startsWith("=") ? compute(text.slice(1), 3) : null;
        const read = text ? readQuantity(computed ?? text) : null;
        return [{ ...c, value: read === null ? text : quantityText(read) }];
      }
      const exact =
        c.key === "company"
          ? work.companies.find((o) => o.code.toLowerCase() === text.toLowerCase())
          : undefined;
      if (exact) return [{ ...c, value: exact.code }];
      return commitCoding(lookups, now, c, typed) ?? [c];
    },
    [balance, currency, functional, lookups, work.companies],
  );

  const paste = useTablePaste({
    history: draft.history,
    setHistory: draft.setHistory,
    currency,
    dimensions: lookups.dimensions,
    commit,
  });
  const keys = useMemo(() => columns.map((c) => c.key), [columns]);
  const [reading, setReading] = useState(false);

  const money = rows.filter((r) => !accountOf.get(r.account ?? "")?.units);
  const debits = sum(money.map((r) => amount(r.debit)));
  const credits = sum(money.map((r) => amount(r.credit)));
  const problems = useMemo(() => {
    const map = new Map<string, string>();
    const dimensionCodes = new Set(lookups.dimensions.map((d) => d.code));
    for (const p of found)
      if (p.line !== null)
        map.set(
          `${p.line - 1}:${p.field && dimensionCodes.has(p.field) ? `d.${p.field}` : (p.field ?? "account")}`,
          p.message.replace(/^Line \d+: /, ""),
        );
    return map;
  }, [found, lookups]);
  const headProblem = (field: string) =>
    found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter(
    (p) =>
      p.line === null &&
      ![
        "type",
        "description",
        "date",
        "reference",
        "book",
        "period",
        "currency",
        "rate",
        "reverseOn",
      ].includes(p.field ?? ""),
  );
  const result = check?.effects.find((e) => e.company === header.company)?.figures[0];
  const [opened] = useState(start.content);

  return (
    <Page
      strip={<PeriodStrip />}
      title={header.description.trim() || "New journal"}
      status={<Status of="draft" />}
      note={
        <span
          data-kept={draft.pending ? "no" : "yes"}
          className={draft.saved.tone === "bad" ? "text-coral" : ""}
        >
          {batch ? (
            <>
              in batch{" "}
              <Link className="link" href={work.link(`/ledger/batches/${batch.id}`)}>
                {batch.name}
              </Link>
              , which posts it
            </>
          ) : (
            "gets its number when posted"
          )}{" "}
          · {draft.saved.text}
        </span>
      }
      panel={
        effect ? (
          <DraftPanel check={check} onClose={() => setSide(null)} />
        ) : (
          side === "papers" && <PapersPanel id={documentId} onClose={() => setSide(null)} />
        )
      }
      actions={
        <>
          <EditorMenu
            draft={draft}
            lookups={lookups}
            row={rows[active]}
            columns={SPARE_COLUMNS}
            shown={shown}
            toggle={(key) =>
              setSpare((s) => {
                const next = new Set(s);
                if (!next.delete(key)) next.add(key);
                return next;
              })
            }
            movedOnly={movedOnly}
            onMovedOnly={() => setMovedOnly((m) => !m)}
          />
          <button
            type="button"
            className="button button-plain"
            aria-label="Delete this draft"
            title="Delete this draft"
            onClick={() => void draft.remove()}
          >
            <Trash2 size={15} aria-hidden />
          </button>
          <button
            type="button"
            className="button"
            aria-expanded={effect}
            onClick={() => setSide(effect ? null : "effect")}
          >
            <Gauge size={15} aria-hidden />
            Effect
          </button>
          <button
            type="button"
            className="button"
            aria-expanded={side === "papers"}
            onClick={() => setSide(side === "papers" ? null : "papers")}
          >
            <Paperclip size={15} aria-hidden />
            Papers
          </button>
          <button
            type="button"
            className="button"
            onClick={() => void draft.runCheck()}
            data-keys="Ctrl Enter=Check"
          >
            Check <kbd>Ctrl ⏎</kbd>
          </button>
          {!batch &&
            (check?.approval ? (
              <button
                type="button"
                className="button button-main"
                title={`${check.approval}.`}
                disabled={draft.posting}
                onClick={() => void draft.finish("submit")}
                data-keys="Ctrl Shift Enter=Send for approval"
              >
                Send for approval <kbd>Ctrl ⇧ ⏎</kbd>
              </button>
            ) : (
              mayPost && (
                <button
                  type="button"
                  className="button button-main"
                  disabled={draft.posting}
                  onClick={() => void draft.finish("post")}
                  data-keys="Ctrl Shift Enter=Post"
                >
                  Post <kbd>Ctrl ⇧ ⏎</kbd>
                </button>
              )
            ))}
        </>
      }
      footer={
        <>
          <Fact label={foreign ? `Debits ${currency}` : "Debits"}>
            {shownAmount(debits, currency)}
          </Fact>
          <Fact label={foreign ? `Credits ${currency}` : "Credits"}>
            {shownAmount(credits, currency)}
          </Fact>
          <Fact label="Difference" tone={debits === credits ? "good" : "bad"}>
            {shownAmount(debits > credits ? debits - credits : credits - debits, currency)}
          </Fact>
          {result && (
            <Fact apart label="If posted, result of the period">
              {shownAmount(result.before, functional)} → {shownAmount(result.after, functional)}
            </Fact>
          )}
          <span className="ml-auto max-w-[36%] truncate text-right text-ink-3">
            {found.length > 0 ? (
              <button
                type="button"
                className="max-w-full truncate font-bold text-coral"
                onClick={() => setJump((n) => n + 1)}
              >
                {found.length === 1 ? "1 problem" : `${found.length} problems`}
                {rest[0] ? `: ${rest[0].message}` : ", marked at their cells (F8)"}
              </button>
            ) : (
              "⏎ next cell · Ctrl D copies from above · = ⏎ balances the line · =12*50 computes · @ shortcut"
            )}
          </span>
        </>
      }
    >
      {draft.stale && (
        <StaleNotice
          message={draft.stale}
          gone={draft.gone}
          onShow={draft.showPosted}
          onSaveOver={draft.saveOver}
        >
          <a
            className="button"
            href={typeof window === "undefined" ? "" : window.location.href}
            target="_blank"
            rel="noreferrer"
          >
            See the other
          </a>
        </StaleNotice>
      )}
      <JournalHeader
        onKeyDown={head.onKeyDown}
        header={header}
        set={draft.set}
        start={opened}
        types={lookups.types}
        functional={functional}
        isNew={start.id === null}
        period={batch?.period ?? null}
        check={check}
        problem={headProblem}
      />
      {paste.taken && (
        <>
          <div
            role="status"
            className="flex items-center gap-3 rounded-lg border border-line bg-sea-2 px-3 py-1.5"
          >
            <span className="flex-1">
              {paste.taken.count} {paste.taken.count === 1 ? "row" : "rows"} taken by their
              headings:{" "}
              {paste.taken.headings
                .flatMap((h, i) => {
                  const f = paste.taken!.fields[i];
                  return f ? [`${h} → ${meaningName(f, lookups.dimensions).toLowerCase()}`] : [];
                })
                .join(", ")}
              .{asideText(paste.taken.blank, paste.taken.aside, 1)}{" "}
              {doubtsOf(paste.taken.read).join(" ")}
            </span>
            <button
              type="button"
              className="button h-7"
              aria-expanded={reading}
              onClick={() => setReading(!reading)}
            >
              How it is read
            </button>
            <button
              type="button"
              className="button h-7"
              onClick={() => {
                setReading(false);
                paste.close();
              }}
            >
              Done
            </button>
          </div>
          {reading && (
            <ReadingPanel
              headings={paste.taken.headings}
              headed
              remembered={paste.taken.remembered}
              fields={paste.taken.fields}
              choices={paste.choices}
              rows={paste.taken.body}
              read={paste.taken.read}
              dimensions={lookups.dimensions}
              onMean={paste.mean}
              onReread={paste.reread}
            />
          )}
        </>
      )}
      <EntryGrid
        label="Journal lines"
        columns={columns}
        history={draft.history}
        onHistory={draft.setHistory}
        problems={problems}
        currency={currency}
        commit={commit}
        onTable={(block, at) => paste.onTable(block, at, keys)}
        onRow={setActive}
        jump={jump}
        toFirst={draft.attention}
        entered={head.entered}
        checked={draft.checked}
      />
    </Page>
  );
}
