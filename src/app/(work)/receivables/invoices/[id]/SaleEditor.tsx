"use client";
import Link from "next/link";
import { useCallback, useMemo, useState, type ReactNode } from "react";
import { isBlankSale, saleInput, type SaleInput, type SaleLineInput } from "@/core/receivables";
import type { Credit, SaleCheck } from "@/server/receivables";
import { Corrects } from "@/app/trade/Corrects";
import { PaperActions } from "@/app/trade/PaperActions";
import { FirstDue, PaperSums, ProblemCount } from "@/app/trade/PaperFooter";
import { PaperHead } from "@/app/trade/PaperHead";
import { marksOf } from "@/app/trade/paperGrid";
import { paperRows, usualRow } from "@/app/trade/paperRows";
import {
  useKeptDraft,
  type DraftKind,
  type HeadOf,
  type StartOfDraft,
} from "@/app/lib/useKeptDraft";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { Field } from "@/ui/Field";
import { Page } from "@/ui/Page";
import { StaleNotice } from "@/ui/StaleNotice";
import { Status } from "@/ui/Status";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { EntryGrid } from "@/ui/grid/EntryGrid";
import type { CellChange, GridRow } from "@/ui/grid/gridModel";
import { useHeadKeys } from "@/ui/grid/useHeadKeys";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount } from "@/ui/writing";
import { correctableSalesAction } from "../actions";
import { commitSale, SALE_CELLS, saleColumns, type SaleLookups } from "./saleGrid";
import { SetOff } from "./SetOff";

const { toRow, toLine } = paperRows<SaleLineInput>(SALE_CELLS);
const SALE: DraftKind<SaleInput> = {
  name: "sale",
  works: {
    save: "sale-save",
    post: "sale-post",
    submit: "sale-submit",
    delete: "sale-delete",
  },
  page: "/receivables/invoices",
  toRows: (content) => content.lines.map(toRow),
  toContent: (head: HeadOf<SaleInput>, rows) => ({ ...head, lines: rows.map(toLine) }) as SaleInput,
  whole: saleInput,
};
const HEAD = new Set([
  "customer",
  "reference",
  "corrects",
  "discount",
  "deliveredOn",
  "date",
  "postingDate",
  "dueDate",
  "terms",
  "currency",
  "rate",
  "description",
  "withholding",
  "taxPeriod",
]);

/** Writing an invoice or credit note to a customer: it keeps itself, and says what it comes to. */
export function SaleEditor({
  start,
  lookups,
  currency: functional,
  mayPost,
}: {
  start: StartOfDraft<SaleInput, SaleCheck>;
  lookups: SaleLookups;
  currency: string;
  mayPost: boolean;
}) {
  const work = useWork();
  const draft = useKeptDraft<SaleInput, SaleCheck>(SALE, start);
  const { header, rows, check, problems: found, set, runCheck, finish, settle, id } = draft;
  const [papers, setPapers] = useState(false);
  const [companies, setCompanies] = useState(false);
  const [times, setTimes] = useState(false);
  const [jump, setJump] = useState(0);
  const currency = header.currency || functional;
  const customer = lookups.customers.find((c) => c.code === header.customer);
  const documentId = useCallback(async () => ((await settle()) ? id() : null), [settle, id]);
  const head = useHeadKeys();
  const approval = check?.approval ?? null;
  const main = approval ? "submit" : mayPost ? "post" : null;
  usePrimaryKeys(
    useCallback(() => void runCheck(), [runCheck]),
    useCallback(() => void (main && finish(main)), [main, finish]),
  );
  const setsOff = rows.some((r) => r.setsOff);
  const timed = times || rows.some((r) => r.earnedFrom || r.earnedTo);
  const several = companies || rows.some((r) => r.company);
  const columns = useMemo(
    () =>
      saleColumns({
        lookups,
        companies: several ? work.companies : [],
        head: {
          company: header.company,
          description: header.description,
          gross: header.gross,
        },
        currency,
        discounts: true,
        overTime: timed,
        setsOff,
      }),
    [
      lookups,
      several,
      timed,
      setsOff,
      work.companies,
      header.company,
      header.description,
      header.gross,
      currency,
    ],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] =>
      commitSale(now, c, typed, {
        lookups,
        companies: work.companies,
        usualTax: customer?.taxCode,
        currency,
        functional,
        gross: header.gross,
        total: header.total,
      }),
    [lookups, customer, currency, functional, header.gross, header.total, work.companies],
  );
  const choose = (written: string) => {
    const chosen = lookups.customers.find(
      (c) => c.code === written || c.name.toLowerCase() === written.toLowerCase(),
    );
    set("customer", chosen?.code ?? written);
    if (!chosen) return;
    if (chosen.currency && !header.currency && chosen.currency !== functional)
      set("currency", chosen.currency);
    // What is usual for the customer, where no line stands yet.
    if (rows.every((r) => !r.account) && chosen.account)
      draft.setHistory({ rows: [usualRow(chosen)], past: [], future: [] });
  };
  const marks = useMemo(() => marksOf(found, lookups.dimensions), [found, lookups]);
  const at = (field: string) => found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter((p) => p.line === null && !HEAD.has(p.field ?? ""));
  return (
    <Page
      strip={<PeriodStrip />}
      title={customer ? customer.name : "New sales invoice"}
      status={<Status of="draft" />}
      note={
        <span
          data-kept={draft.pending ? "no" : "yes"}
          className={draft.saved.tone === "bad" ? "text-coral" : ""}
        >
          gets its number when posted · {draft.saved.text}
        </span>
      }
      panel={papers && <PapersPanel id={documentId} onClose={() => setPapers(false)} />}
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
          <button
            type="button"
            className="button"
            aria-pressed={timed}
            title="Lines that are earned over a time, and not at once"
            onClick={() => setTimes(!times)}
          >
            Deferral
          </button>
          {work.companies.length > 1 && (
            <button
              type="button"
              className="button"
              aria-pressed={several}
              title="Lines that another company of the group earns"
              onClick={() => setCompanies(!companies)}
            >
              Companies
            </button>
          )}
        </PaperActions>
      }
      footer={
        <>
          <PaperSums figures={check} currency={currency} owed="owed by the customer" />
          <FirstDue figures={check} currency={currency} discounts={header.kind === "invoice"} />
          <ProblemCount
            count={found.length}
            first={rest[0]?.message}
            atCells={marks.size > 0}
            onJump={() => setJump((n) => n + 1)}
            keys="⏎ next cell · @ shortcut"
          />
        </>
      }
    >
      {draft.stale && (
        <StaleNotice
          message={draft.stale}
          gone={draft.gone}
          onShow={draft.showPosted}
          onSaveOver={draft.saveOver}
        />
      )}
      {check?.taxNote && <p className="notice">{check.taxNote}</p>}
      {check?.credit?.over && customer && (
        <OverLimit credit={check.credit} name={customer.name}>
          <Link
            className="link"
            href={work.link("/receivables/limits", { partner: customer.code })}
          >
            Ask for a higher limit
          </Link>
        </OverLimit>
      )}
      <div
        onKeyDown={head.onKeyDown}
        className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5"
      >
        <Field
          id="i-customer"
          label="Customer"
          required
          problem={at("customer")}
          hint={customer ? customer.name : undefined}
          width="w-44"
        >
          {(p) => (
            <>
              <input
                {...p}
                className="field"
                list="customers"
                autoFocus={start.id === null}
                value={header.customer}
                onChange={(e) => choose(e.target.value)}
                placeholder="Number or name"
              />
              <datalist id="customers">
                {lookups.customers.map((c) => (
                  <option key={c.code} value={c.code}>
                    {c.name}
                  </option>
                ))}
              </datalist>
            </>
          )}
        </Field>
        <Field id="i-kind" label="Kind" width="w-40">
          {(p) => (
            <select
              {...p}
              className="field"
              value={`${header.prepayment ? "prepayment " : ""}${header.kind}`}
              onChange={(e) => {
                const credits = e.target.value.endsWith("credit note");
                set("kind", credits ? "credit note" : "invoice");
                set("prepayment", e.target.value.startsWith("prepayment"));
              }}
            >
              <option value="invoice">Invoice</option>
              <option value="prepayment invoice">Prepayment invoice</option>
              <option value="credit note">Credit note</option>
              <option value="prepayment credit note">Credit note of a prepayment</option>
            </select>
          )}
        </Field>
        {header.kind === "credit note" && (
          <Corrects
            company={header.company}
            partner={customer?.code ?? ""}
            find={correctableSalesAction}
            value={header.corrects}
            problem={at("corrects")}
            onChange={(value) => set("corrects", value)}
            onTakeLines={({ number, lines, prepayment = false }) =>
              draft.replace({ ...draft.content, corrects: number, lines, prepayment })
            }
          />
        )}
        <Field id="i-reference" label="Customer's reference" problem={at("reference")} width="w-36">
          {(p) => (
            <input
              {...p}
              className="field"
              placeholder="Order or name"
              value={header.reference}
              onChange={(e) => set("reference", e.target.value)}
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
            lookups.terms.find((t) => t.code === customer?.terms)?.name ?? "the customer's"
          }
          taxNote={check?.taxNote ?? ""}
          behindDates={
            <>
              <Field id="i-supplied" label="Supplied on" problem={at("deliveredOn")} width="w-28">
                {(p) => (
                  <input
                    {...p}
                    className="field"
                    title="Where it was not on the invoice date"
                    placeholder="the same"
                    value={header.deliveredOn}
                    onChange={(e) => set("deliveredOn", e.target.value)}
                  />
                )}
              </Field>
              <Field id="i-discount" label="Discount %" problem={at("discount")} width="w-24">
                {(p) => (
                  <input
                    {...p}
                    className="field text-right"
                    title="Per cent off the whole invoice"
                    value={header.discount}
                    onChange={(e) => set("discount", e.target.value)}
                  />
                )}
              </Field>
            </>
          }
        />
      </div>
      {header.kind === "invoice" && !header.prepayment && !header.gross && customer && (
        <SetOff
          company={header.company}
          customer={customer.code}
          lines={draft.content.lines}
          onTake={(line) =>
            draft.replace({
              ...draft.content,
              lines: [...draft.content.lines.filter((l) => !isBlankSale(l)), line],
            })
          }
        />
      )}
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
    </Page>
  );
}

function OverLimit({
  credit,
  name,
  children,
}: {
  credit: Credit;
  name: string;
  children: ReactNode;
}) {
  const { currency, after, agreed, limit } = credit;
  return (
    <p role="alert" className="notice">
      With it {name} would owe {shownAmount(after, currency)} {currency}
      {agreed !== 0n && `, ${shownAmount(agreed, currency)} of it agreed for the days after`}; the
      credit limit is {shownAmount(limit, currency)}. {children}
    </p>
  );
}
