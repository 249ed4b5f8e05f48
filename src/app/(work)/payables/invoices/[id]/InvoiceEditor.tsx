"use client";
import Link from "next/link";
import { useCallback, useEffect, useMemo, useState } from "react";
import { toast } from "sonner";
import { invoiceInput, type InvoiceInput, type InvoiceLineInput } from "@/core/payables";
import { amountText, readAmount } from "@/core/shared";
import type { PartnerRow } from "@/server/partners";
import { quantityText } from "@/core/ledger";
import type { InvoiceCheck } from "@/server/payables";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { Corrects } from "@/app/trade/Corrects";
import { correctableInvoicesAction } from "../actions";
import { useWork } from "@/ui/frame/work";
import { StaleNotice } from "@/ui/StaleNotice";
import { codingColumns, tidyAmount } from "@/ui/grid/coding";
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
import { PaperActions } from "@/app/trade/PaperActions";
import { FirstDue, PaperSums, ProblemCount } from "@/app/trade/PaperFooter";
import { PaperHead } from "@/app/trade/PaperHead";
import {
  commitPaper,
  companyColumn,
  descriptionColumn,
  marksOf,
  sharesColumns,
  taxColumn,
  type PaperLookups,
} from "@/app/trade/paperGrid";
import { paperRows, usualRow } from "@/app/trade/paperRows";
import { shownAmount, shownDate, shownQuantity } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

export interface InvoiceLookups extends PaperLookups {
  suppliers: PartnerRow[];
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
const { toRow, toLine } = paperRows<InvoiceLineInput>(CELLS);
const INVOICE: DraftKind<InvoiceInput> = {
  name: "invoice",
  works: {
    save: "invoice-save",
    post: "invoice-post",
    submit: "invoice-submit",
    delete: "invoice-delete",
  },
  page: "/payables/invoices",
  toRows: (content) => content.lines.map(toRow),
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
      const refused = await sendPaper({ document }, file);
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
      ...(several ? [companyColumn(work.companies, header.company)] : []),
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
      ...sharesColumns(lookups.shares),
      descriptionColumn(header.description),
      taxColumn(lookups.taxes),
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
      return commitPaper(now, c, typed, {
        lookups,
        companies: work.companies,
        usualTax: supplier?.taxCode,
        currency,
        total: header.total,
      });
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
        rows: [usualRow(chosen)],
        past: [],
        future: [],
      });
  };
  const marks = useMemo(() => marksOf(found, lookups.dimensions), [found, lookups]);
  const at = (field: string) => found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter((p) => p.line === null && !HEAD.has(p.field ?? ""));
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
        <PaperActions
          onDelete={() => void draft.remove()}
          papers={papers}
          onPapers={() => setPapers(!papers)}
          onCheck={() => void runCheck()}
          approval={approval}
          mayPost={mayPost}
          posting={draft.posting}
          onFinish={(what) => void finish(what)}
        >
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
        </PaperActions>
      }
      footer={
        <>
          <PaperSums figures={check} currency={currency} owed="owed by us" />
          {difference !== null && (
            <Fact
              label={difference === 0n ? "Agrees with the paper" : "Differs from the paper"}
              tone={difference === 0n ? "good" : "bad"}
            >
              {shownAmount(difference, currency)}
            </Fact>
          )}
          <FirstDue figures={check} currency={currency} discounts={header.kind === "invoice"} />
          <ProblemCount
            count={found.length}
            first={rest[0]?.message}
            atCells={marks.size > 0}
            onJump={() => setJump((n) => n + 1)}
            keys="⏎ next cell · @ shortcut · = what the paper still lacks"
          />
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
              partner={supplier?.code ?? ""}
              find={correctableInvoicesAction}
              value={header.corrects}
              problem={at("corrects")}
              onChange={(value) => set("corrects", value)}
              onTakeLines={({ lines }) => draft.replace({ ...draft.content, lines })}
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
          <PaperHead
            values={header}
            set={set}
            at={at}
            currency={currency}
            functional={functional}
            terms={lookups.terms}
            withheld={lookups.withheld}
            usualTerms={
              lookups.terms.find((t) => t.code === supplier?.terms)?.name ?? "the supplier's"
            }
            taxNote={check?.taxNote ?? ""}
            behindDates={
              <Field
                id="i-total"
                label="Total on the paper"
                needed
                problem={at("total")}
                width="w-32"
              >
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
            }
          />
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
