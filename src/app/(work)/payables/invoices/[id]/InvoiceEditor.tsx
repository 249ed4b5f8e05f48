"use client";
import Link from "next/link";
import { useCallback, useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { Paperclip, Trash2 } from "lucide-react";
import { invoiceInput, type InvoiceInput, type InvoiceLineInput } from "@/core/payables";
import { amountText, CURRENCIES, dateText, readAmount, readDate } from "@/core/shared";
import type { PartnerRow } from "@/server/partners";
import { quantityText } from "@/core/ledger";
import type { InvoiceCheck } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Corrects } from "./Corrects";
import { useWork } from "@/ui/frame/work";
import { StaleNotice } from "@/ui/StaleNotice";
import { codingColumns, commitCoding, tidyAmount, type CodingLookups } from "@/ui/grid/coding";
import { useHeadKeys } from "@/ui/grid/useHeadKeys";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";
import { Field } from "@/ui/Field";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import {
  useKeptDraft,
  type DraftKind,
  type HeadOf,
  type StartOfDraft,
} from "@/app/lib/useKeptDraft";
import { useAct } from "@/app/lib/useAct";
import { useBillable } from "./useBillable";
import { PaperDrop } from "@/app/papers/PaperDrop";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { sendPaper } from "@/app/papers/sendPaper";
import { releaseInvoiceAction } from "../../orders/actions";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownDate, shownQuantity, shownFigures } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

export interface InvoiceLookups extends CodingLookups {
  suppliers: PartnerRow[];
  terms: { code: string; name: string }[];
  taxes: { code: string; name: string }[];
  withheld: { code: string; name: string }[];
  shares: { code: string; name: string }[];
}

const CELLS = [
  "account",
  "description",
  "net",
  "taxCode",
  "company",
  "order",
  "quantity",
  "shares",
] as const;
const toRows = (content: InvoiceInput): GridRow[] =>
  content.lines.map((l) => ({
    ...Object.fromEntries(CELLS.flatMap((k) => (l[k] ? [[k, l[k]]] : []))),
    ...Object.fromEntries(Object.entries(l.dimensions).map(([k, v]) => [`d.${k}`, v])),
  }));
const toLine = (row: GridRow): InvoiceLineInput => ({
  ...(Object.fromEntries(CELLS.map((k) => [k, row[k] ?? ""])) as Record<
    (typeof CELLS)[number],
    string
  >),
  dimensions: Object.fromEntries(
    Object.entries(row).flatMap(([k, v]) => (k.startsWith("d.") ? [[k.slice(2), v]] : [])),
  ),
});
const INVOICE: DraftKind<InvoiceInput> = {
  name: "invoice",
  works: {
    save: "invoice-save",
    post: "invoice-post",
    submit: "invoice-submit",
    delete: "invoice-delete",
  },
  page: "/payables/invoices",
  toRows,
  toContent: (head: HeadOf<InvoiceInput>, rows) =>
    ({ ...head, lines: rows.map(toLine) }) as InvoiceInput,
  whole: invoiceInput,
};
const HEAD = new Set([
  "supplier",
  "number",
  "date",
  "postingDate",
  "dueDate",
  "terms",
  "total",
  "currency",
  "rate",
  "description",
  "withholding",
  "taxPeriod",
  "corrects",
]);

/**
 * Entering a supplier's invoice: it keeps itself, says what it comes to, and shows copies of it
 * before anything is posted.
 */
export function InvoiceEditor({
  start,
  lookups,
  currency: functional,
  mayPost,
  held = null,
  openPapers = false,
}: {
  start: StartOfDraft<InvoiceInput, InvoiceCheck>;
  lookups: InvoiceLookups;
  currency: string;
  mayPost: boolean;
  held?: { mayRelease: boolean } | null;
  /** Whether the paper lies beside the form from the start. */
  openPapers?: boolean;
}) {
  const work = useWork();
  const draft = useKeptDraft<InvoiceInput, InvoiceCheck>(INVOICE, start);
  const { header, rows, check, problems: found, set, runCheck, finish, settle, id } = draft;
  const [papers, setPapers] = useState(openPapers);
  const [companies, setCompanies] = useState(false);
  const [jump, setJump] = useState(0);
  const currency = header.currency || functional;
  const supplier = lookups.suppliers.find((s) => s.code === header.supplier);
  const documentId = useCallback(async () => ((await settle()) ? id() : null), [settle, id]);
  const head = useHeadKeys();
  const [dropped, setDropped] = useState(0);
  const addPapers = async (files: readonly File[]) => {
    const document = await documentId();
    if (document === null) return;
    for (const file of files) {
      const refused = await sendPaper(document, file);
      if (refused) toast.error(refused);
    }
    setDropped((n) => n + 1);
    setPapers(true);
  };
  const approval = check?.approval ?? null;
  const main = approval ? "submit" : mayPost ? "post" : null;
  usePrimaryKeys(
    useCallback(() => void runCheck(), [runCheck]),
    useCallback(() => void (main && finish(main)), [main, finish]),
  );

  const taxPeriods = useMemo(() => {
    const day = readDate(header.date, work.today) ?? "";
    const own = work.companies.find((c) => c.code === header.company)?.periods ?? [];
    return own.filter((p) => !p.adjustment && p.end >= day);
  }, [header.date, header.company, work.companies, work.today]);
  const taxAt = useMemo(() => new Map((check?.lines ?? []).map((l) => [l.line, l.tax])), [check]);
  const { lines: own, load: billable } = useBillable(header.company, supplier?.code ?? "");
  const billed = own.length > 0 || rows.some((r) => r.order);
  const { history, setHistory } = draft;
  // What has come of the supplier's orders and is not billed yet, as lines of this invoice. A line
  // that has nothing but its proposed coding makes way.
  const fromOrders = useCallback(async () => {
    const there = new Set(history.rows.map((r) => r.order));
    const lines = (await billable())
      .filter((o) => !there.has(o.ref) && o.quantity > 0n)
      .map((o): GridRow => ({
        order: o.ref,
        quantity: quantityText(o.quantity),
        description: o.description,
        taxCode: o.taxCode,
        account: o.account,
        net: amountText(o.net, o.currency),
        ...Object.fromEntries(Object.entries(o.dimensions).map(([k, v]) => [`d.${k}`, v])),
      }));
    if (lines.length > 0)
      setHistory({
        rows: [...history.rows.filter((r) => r.net || r.order || r.description), ...lines],
        past: [...history.past, history.rows],
        future: [],
      });
  }, [billable, history, setHistory]);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.altKey && e.key.toLowerCase() === "o") {
        e.preventDefault();
        void fromOrders();
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [fromOrders]);
  const several = companies || rows.some((r) => r.company);
  const columns = useMemo(
    (): GridColumn[] => [
      ...(several
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
      ...(billed
        ? [
            {
              key: "order",
              header: "Order line",
              width: 150,
              optional: true,
              kind: "lookup" as const,
              options: own.map((o) => ({
                code: o.ref,
                name: `${o.description}, ${shownQuantity(o.quantity)} ${o.unit}`,
              })),
            },
            {
              key: "quantity",
              header: "Quantity",
              width: 78,
              kind: "amount" as const,
              passed: (row: GridRow) => !row.order,
            },
          ]
        : []),
      ...codingColumns(lookups, { wide: true }).map((c) =>
        billed && c.key === "account" ? { ...c, width: 130 } : c,
      ),
      ...(lookups.shares.length > 0
        ? [
            {
              key: "shares",
              header: "Shares",
              width: 82,
              kind: "lookup" as const,
              optional: true,
              options: lookups.shares,
            },
          ]
        : []),
      {
        key: "description",
        header: "Description",
        kind: "text",
        optional: true,
        inherited: (row) => (row.account ? header.description : ""),
      },
      {
        key: "taxCode",
        header: "Tax",
        width: 96,
        kind: "lookup",
        options: lookups.taxes,
        state: (row) => (row.account ? "required" : undefined),
      },
      {
        key: "net",
        header: header.gross ? `Gross ${currency}` : `Net ${currency}`,
        width: 122,
        kind: "amount",
      },
    ],
    [
      lookups,
      header.description,
      header.gross,
      header.company,
      currency,
      several,
      work.companies,
      billed,
      own,
    ],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] => {
      const text = c.value.trim();
      if (c.key === "company")
        return [
          {
            ...c,
            value:
              work.companies.find((o) => o.code.toLowerCase() === text.toLowerCase())?.code ?? text,
          },
        ];
      if (c.key === "taxCode")
        return [
          {
            ...c,
            value:
              lookups.taxes.find((t) => t.code.toLowerCase() === text.toLowerCase())?.code ?? text,
          },
        ];
      if (c.key === "shares")
        return [
          {
            ...c,
            value:
              lookups.shares.find((s) => s.code.toLowerCase() === text.toLowerCase())?.code ?? text,
          },
        ];
      if (c.key === "quantity") return [{ ...c, value: text }];
      if (c.key === "order") {
        const line = own.find((o) => o.ref.toLowerCase() === text.toLowerCase());
        if (!line) return [{ ...c, value: text }];
        const fill = {
          quantity: quantityText(line.quantity),
          description: line.description,
          taxCode: line.taxCode,
          account: line.account,
          net: amountText(line.net, line.currency),
          ...Object.fromEntries(Object.entries(line.dimensions).map(([k, v]) => [`d.${k}`, v])),
        };
        return [
          { ...c, value: line.ref },
          ...Object.entries(fill).flatMap(([key, value]) =>
            value && !now[c.row]?.[key] ? [{ row: c.row, key, value }] : [],
          ),
        ];
      }
      if (c.key !== "net") {
        const changes = commitCoding(lookups, now, c, typed) ?? [c];
        // A line that gets its account takes the tax of the supplier, or of the line above it.
        const usual = now[c.row - 1]?.taxCode || supplier?.taxCode;
        return c.key === "account" && text && usual && !now[c.row]?.taxCode
          ? [...changes, { row: c.row, key: "taxCode", value: usual }]
          : changes;
      }
      if (text !== "=") return [{ ...c, value: tidyAmount(text, currency) }];
      // What the paper says, less the other lines: exact where the line has no tax of its own yet.
      const total = readAmount(header.total, currency);
      const others = now.reduce((sum, r, i) => {
        const a = i === c.row ? null : readAmount(r.net ?? "", currency);
        return a?.ok ? sum + a.amount : sum;
      }, 0n);
      return [{ ...c, value: total.ok ? amountText(total.amount - others, currency) : "" }];
    },
    [lookups, supplier, currency, header.total, work.companies, own],
  );
  const choose = (code: string) => {
    const chosen = lookups.suppliers.find(
      (s) => s.code === code || s.name.toLowerCase() === code.toLowerCase(),
    );
    set("supplier", chosen?.code ?? code);
    if (!chosen) return;
    if (chosen.currency && !header.currency && chosen.currency !== functional)
      set("currency", chosen.currency);
    // What is usual for the supplier, where no line stands yet.
    if (rows.every((r) => !r.account) && chosen.account)
      draft.setHistory({
        rows: [
          {
            account: chosen.account,
            ...Object.fromEntries(Object.entries(chosen.dimensions).map(([k, v]) => [`d.${k}`, v])),
            ...(chosen.taxCode ? { taxCode: chosen.taxCode } : {}),
            ...(chosen.shares ? { shares: chosen.shares } : {}),
          },
        ],
        past: [],
        future: [],
      });
  };
  const marks = useMemo(() => {
    const dimensions = new Set(lookups.dimensions.map((d) => d.code));
    return new Map(
      found.flatMap((p) =>
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
  }, [found, lookups]);
  const at = (field: string) => found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter((p) => p.line === null && !HEAD.has(p.field ?? ""));
  const tidy = (key: "date" | "postingDate" | "dueDate") => (e: { target: { value: string } }) => {
    const read = readDate(e.target.value, work.today);
    if (read) set(key, dateText(read));
  };
  const paper = readAmount(header.total, currency);
  const difference = check && paper.ok ? paper.amount - check.net - check.tax : null;
  const copies = check?.copies ?? [];
  return (
    <Page
      strip={<PeriodStrip />}
      title={
        supplier ? `${supplier.name}${header.number ? `, ${header.number}` : ""}` : "New invoice"
      }
      status={<Status of={held ? "held" : "draft"} />}
      note={
        <span
          data-kept={draft.pending ? "no" : "yes"}
          className={draft.saved.tone === "bad" ? "text-coral" : ""}
        >
          gets its number when posted · {draft.saved.text}
        </span>
      }
      panel={
        papers && <PapersPanel key={dropped} id={documentId} onClose={() => setPapers(false)} />
      }
      actions={
        <>
          <button
            type="button"
            className="button button-plain"
            aria-label="Delete this draft"
            title="Delete this draft"
            onClick={() => void draft.remove()}
          >
            <Trash2 size={15} aria-hidden />
          </button>
          {own.length > 0 && (
            <button
              type="button"
              className="button"
              data-keys="Alt O=Lines from orders"
              onClick={() => void fromOrders()}
            >
              From orders <kbd>Alt O</kbd>
            </button>
          )}
          {work.companies.length > 1 && (
            <button
              type="button"
              className="button"
              aria-pressed={several}
              title="Lines that another company of the group bears"
              onClick={() => setCompanies(!companies)}
            >
              Companies
            </button>
          )}
          <button
            type="button"
            className="button"
            aria-expanded={papers}
            onClick={() => setPapers(!papers)}
          >
            <Paperclip size={15} aria-hidden />
            Papers
          </button>
          <button
            type="button"
            className="button"
            onClick={() => void runCheck()}
            data-keys="Ctrl Enter=Check"
          >
            Check <kbd>Ctrl ⏎</kbd>
          </button>
          {approval ? (
            <button
              type="button"
              className="button button-main"
              title={`${approval}.`}
              disabled={draft.posting}
              onClick={() => void finish("submit")}
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
                onClick={() => void finish("post")}
                data-keys="Ctrl Shift Enter=Post"
              >
                Post <kbd>Ctrl ⇧ ⏎</kbd>
              </button>
            )
          )}
        </>
      }
      footer={
        <>
          <Fact label="Net">{shownAmount(check?.net ?? 0n, currency)}</Fact>
          {(check?.taxes ?? []).map((t) => (
            <Fact
              key={t.code}
              label={`${t.code} ${shownFigures(t.percent)} %${t.reverse ? ", owed by us" : ""}`}
            >
              {shownAmount(t.tax, currency)}
            </Fact>
          ))}
          <Fact apart label={`Comes to ${currency}`}>
            {shownAmount(check?.gross ?? 0n, currency)}
          </Fact>
          {difference !== null && (
            <Fact
              label={difference === 0n ? "Agrees with the paper" : "Differs from the paper"}
              tone={difference === 0n ? "good" : "bad"}
            >
              {shownAmount(difference, currency)}
            </Fact>
          )}
          {check?.instalments[0] && (
            <Fact
              label={
                check.instalments.length > 1 ? `First of ${check.instalments.length} due` : "Due"
              }
            >
              {shownDate(check.instalments[0].due)}
              {check.instalments[0].discounts[0] && header.kind === "invoice" ? (
                <span className="ml-2 text-xs font-normal text-ink-2">
                  {shownAmount(check.instalments[0].discounts[0].amount, currency)} less until{" "}
                  {shownDate(check.instalments[0].discounts[0].until)}
                </span>
              ) : null}
            </Fact>
          )}
          <span className="ml-auto max-w-[30%] truncate text-right text-ink-3">
            {found.length > 0 ? (
              <button
                type="button"
                className="max-w-full truncate font-bold text-coral"
                onClick={() => setJump((n) => n + 1)}
              >
                {found.length === 1 ? "1 problem" : `${found.length} problems`}
                {rest[0]
                  ? `: ${rest[0].message}`
                  : marks.size > 0
                    ? ", marked at their cells (F8)"
                    : ""}
              </button>
            ) : (
              "⏎ next cell · @ shortcut · = what the paper still lacks"
            )}
          </span>
        </>
      }
    >
      <PaperDrop
        what="Drop to lay the paper beside the form"
        onPapers={(files) => void addPapers(files)}
      >
        {draft.stale && (
          <StaleNotice
            message={draft.stale}
            gone={draft.gone}
            onShow={draft.showPosted}
            onSaveOver={draft.saveOver}
          />
        )}
        {copies.length > 0 && (
          <div role="alert" className="notice">
            {copies.map((c) => (
              <p key={c.id}>
                {c.same ? "There already: " : "Perhaps a copy of "}
                <Link className="link font-semibold" href={work.link(`/payables/invoices/${c.id}`)}>
                  {c.number || "a draft"}
                </Link>
                , {c.supplierNumber}
                {c.date ? ` of ${shownDate(c.date)}` : ""}, {shownAmount(c.amount, c.currency)}{" "}
                {c.currency}: {c.why}.
              </p>
            ))}
          </div>
        )}
        {check?.taxNote && <p className="notice">{check.taxNote}</p>}
        {(check?.holds.length ?? 0) > 0 && <Held id={start.id} holds={check!.holds} held={held} />}
        {supplier?.hold && (
          <p className="notice">
            Nothing is paid to {supplier.name} at present: {supplier.hold}.
          </p>
        )}
        <div
          onKeyDown={head.onKeyDown}
          className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5"
        >
          <Field
            id="i-supplier"
            label="Supplier"
            required
            problem={at("supplier")}
            hint={supplier ? supplier.name : undefined}
            width="w-44"
          >
            {(p) => (
              <>
                <input
                  {...p}
                  className="field"
                  list="suppliers"
                  autoFocus={start.id === null}
                  value={header.supplier}
                  onChange={(e) => choose(e.target.value)}
                  placeholder="Number or name"
                />
                <datalist id="suppliers">
                  {lookups.suppliers.map((s) => (
                    <option key={s.code} value={s.code}>
                      {s.name}
                    </option>
                  ))}
                </datalist>
              </>
            )}
          </Field>
          <Field id="i-kind" label="Kind" width="w-28">
            {(p) => (
              <select
                {...p}
                className="field"
                value={header.kind}
                onChange={(e) => set("kind", e.target.value as InvoiceInput["kind"])}
              >
                <option value="invoice">Invoice</option>
                <option value="credit note">Credit note</option>
              </select>
            )}
          </Field>
          {header.kind === "credit note" && (
            <Corrects
              company={header.company}
              supplier={supplier?.code ?? ""}
              value={header.corrects}
              problem={at("corrects")}
              onChange={(value) => set("corrects", value)}
              onTakeLines={(lines) => draft.replace({ ...draft.content, lines })}
            />
          )}
          <Field
            id="i-number"
            label="Number on the paper"
            required
            problem={at("number")}
            width="w-32"
          >
            {(p) => (
              <input
                {...p}
                className="field"
                value={header.number}
                onChange={(e) => set("number", e.target.value)}
              />
            )}
          </Field>
          <Field id="i-date" label="Invoice date" required problem={at("date")} width="w-28">
            {(p) => (
              <DateField
                {...p}
                value={header.date}
                onChange={(text) => set("date", text)}
                onBlur={tidy("date")}
              />
            )}
          </Field>
          <Field id="i-posting" label="Journal date" problem={at("postingDate")} width="w-28">
            {(p) => (
              <DateField
                {...p}
                placeholder="the same"
                value={header.postingDate}
                onChange={(text) => set("postingDate", text)}
                onBlur={tidy("postingDate")}
              />
            )}
          </Field>
          <Field id="i-total" label="Total on the paper" needed problem={at("total")} width="w-32">
            {(p) => (
              <FigureField
                {...p}
                className="field text-right"
                value={header.total}
                onChange={(total) => set("total", total)}
                onLeave={(total) => set("total", tidyAmount(total, currency))}
              />
            )}
          </Field>
          <Field
            id="i-currency"
            label="Currency"
            problem={at("currency") ?? at("rate")}
            width="w-20"
          >
            {(p) => (
              <select
                {...p}
                className="field"
                value={currency}
                onChange={(e) =>
                  set("currency", e.target.value === functional ? null : e.target.value)
                }
              >
                {CURRENCIES.map((c) => (
                  <option key={c}>{c}</option>
                ))}
              </select>
            )}
          </Field>
          {(header.taxPeriod || check?.taxNote || at("taxPeriod")) && (
            <Field id="i-tax-period" label="Tax period" problem={at("taxPeriod")} width="w-40">
              {(p) => (
                <select
                  {...p}
                  className="field"
                  value={header.taxPeriod}
                  onChange={(e) => set("taxPeriod", e.target.value)}
                >
                  <option value="">First that takes it</option>
                  {taxPeriods.map((q) => (
                    <option key={q.key} value={q.key}>
                      {q.name} {q.year}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          )}
          {currency !== functional && (
            <Field id="i-rate" label="Rate" problem={at("rate")} width="w-24">
              {(p) => (
                <FigureField
                  {...p}
                  className="field text-right"
                  placeholder="of the day"
                  title={`${functional} for one ${currency}`}
                  value={header.rate}
                  onChange={(rate) => set("rate", rate)}
                />
              )}
            </Field>
          )}
          <Field id="i-terms" label="Terms" problem={at("terms")} width="w-36">
            {(p) => (
              <select
                {...p}
                className="field"
                value={header.terms}
                onChange={(e) => set("terms", e.target.value)}
              >
                <option value="">
                  {lookups.terms.find((t) => t.code === supplier?.terms)?.name ?? "the supplier's"}
                </option>
                {lookups.terms.map((t) => (
                  <option key={t.code} value={t.code}>
                    {t.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <Field id="i-due" label="Due on" problem={at("dueDate")} width="w-28">
            {(p) => (
              <DateField
                {...p}
                placeholder="by the terms"
                value={header.dueDate}
                onChange={(text) => set("dueDate", text)}
                onBlur={tidy("dueDate")}
              />
            )}
          </Field>
          <Field
            id="i-description"
            label="Description"
            problem={at("description")}
            width="min-w-40 flex-1"
          >
            {(p) => (
              <input
                {...p}
                className="field"
                value={header.description}
                onChange={(e) => set("description", e.target.value)}
              />
            )}
          </Field>
          {lookups.withheld.length > 0 && (
            <Field id="i-withholding" label="Kept back" problem={at("withholding")} width="w-32">
              {(p) => (
                <select
                  {...p}
                  className="field"
                  value={header.withholding}
                  onChange={(e) => set("withholding", e.target.value)}
                >
                  <option value="">nothing</option>
                  {lookups.withheld.map((t) => (
                    <option key={t.code} value={t.code}>
                      {t.name}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          )}
          <Field id="i-amounts" label="Amounts are" width="w-36">
            {(p) => (
              <select
                {...p}
                className="field"
                value={header.gross ? "gross" : header.rounding}
                onChange={(e) => {
                  set("gross", e.target.value === "gross");
                  set("rounding", e.target.value === "total" ? "total" : "line");
                }}
              >
                <option value="line">net, tax by line</option>
                <option value="total">net, tax in total</option>
                <option value="gross">with their tax</option>
              </select>
            )}
          </Field>
        </div>
        <EntryGrid
          label="Invoice lines"
          columns={columns}
          history={draft.history}
          onHistory={draft.setHistory}
          problems={marks}
          currency={currency}
          commit={commit}
          jump={jump}
          toFirst={draft.attention}
          entered={head.entered}
          checked={draft.checked}
        />
        <span className="sr-only" aria-live="polite">
          {[...taxAt.values()].length > 0 ? `Tax ${shownAmount(check?.tax ?? 0n, currency)}` : ""}
        </span>
      </PaperDrop>
    </Page>
  );
}

/**
 * What does not fit to orders and receipts; and letting it pass, for somebody other than who
 * entered it.
 */
function Held({
  id,
  holds,
  held,
}: {
  id: number | null;
  holds: string[];
  held: { mayRelease: boolean } | null;
}) {
  const { busy, messages, act } = useAct();
  const [reason, setReason] = useState("");
  return (
    <div role="alert" className="notice">
      {holds.map((h) => (
        <p key={h}>{h}</p>
      ))}
      <p className="text-ink-2">
        {held
          ? "It is held until this fits, or somebody else lets it pass."
          : "Posting will hold it until this fits, or somebody else lets it pass."}
      </p>
      {messages.map((m) => (
        <p key={m} className="text-coral">
          {m}
        </p>
      ))}
      {held?.mayRelease && id !== null && (
        <form
          className="mt-1.5 flex gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            void act(() => releaseInvoiceAction(id, reason), "Let pass.");
          }}
        >
          <input
            className="field flex-1"
            aria-label="Reason"
            placeholder="Why may it pass?"
            value={reason}
            onChange={(e) => setReason(e.target.value)}
          />
          <button type="submit" className="button" disabled={busy}>
            Release hold
          </button>
        </form>
      )}
    </div>
  );
}
