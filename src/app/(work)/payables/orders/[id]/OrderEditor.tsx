"use client";
import { useCallback, useMemo, useState } from "react";
import { Paperclip, Trash2 } from "lucide-react";
import { orderInput, type OrderInput } from "@/core/purchasing";
import { CURRENCIES, dateText, readDate } from "@/core/shared";
import type { OrderCheck, OrderKind } from "@/server/purchasing";
import { Field } from "@/ui/Field";
import { useWork } from "@/ui/frame/work";
import { StaleNotice } from "@/ui/StaleNotice";
import { EntryGrid } from "@/ui/grid/EntryGrid";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { useKeptDraft, type DraftKind, type StartOfDraft } from "@/app/lib/useKeptDraft";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { orderContent, orderRows, useOrderGrid, type OrderLookups } from "./orderGrid";
import { DateField } from "@/ui/date/DateField";
import { shownAmount } from "@/ui/writing";

const ORDER: DraftKind<OrderInput> = {
  name: "order",
  works: { save: "order-save", post: "order-post", submit: "order-submit", delete: "order-delete" },
  page: "/payables/orders",
  done: "Placed as",
  toRows: orderRows,
  toContent: orderContent,
  whole: orderInput,
};
const HEAD = new Set(["supplier", "date", "wanted", "currency", "description"]);

/**
 * Writing a request or an order: it keeps itself, says what it comes to, and who has to approve it.
 */
export function OrderEditor({
  kind,
  start,
  lookups,
  currency: functional,
  mayPlace,
}: {
  kind: OrderKind;
  start: StartOfDraft<OrderInput, OrderCheck>;
  lookups: OrderLookups;
  currency: string;
  mayPlace: boolean;
}) {
  const work = useWork();
  const [first] = useState({ kind });
  const draft = useKeptDraft<OrderInput, OrderCheck>(ORDER, start, first);
  const { header, check, problems: found, set, runCheck, finish, settle, id } = draft;
  const [papers, setPapers] = useState(false);
  const [jump, setJump] = useState(0);
  const currency = header.currency || functional;
  const { columns, commit } = useOrderGrid(lookups, { currency, functional });
  const supplier = lookups.suppliers.find((s) => s.code === header.supplier);
  const approval = check?.approval ?? null;
  const main = approval ? "submit" : mayPlace ? "post" : null;
  usePrimaryKeys(
    useCallback(() => void runCheck(), [runCheck]),
    useCallback(() => void (main && finish(main)), [main, finish]),
  );
  const documentId = useCallback(async () => ((await settle()) ? id() : null), [settle, id]);
  const marks = useMemo(() => {
    const dimensions = new Set(lookups.dimensions.map((d) => d.code));
    return new Map(
      found.flatMap((p) =>
        p.line === null
          ? []
          : [
              [
                `${p.line - 1}:${p.field && dimensions.has(p.field) ? `d.${p.field}` : (p.field ?? "item")}`,
                p.message.replace(/^Line \d+: /, ""),
              ] as const,
            ],
      ),
    );
  }, [found, lookups]);
  const at = (field: string) => found.find((p) => p.line === null && p.field === field)?.message;
  const rest = found.filter((p) => p.line === null && !HEAD.has(p.field ?? ""));
  const tidy = (key: "date" | "wanted") => (e: { target: { value: string } }) => {
    const read = readDate(e.target.value, work.today);
    if (read) set(key, dateText(read));
  };
  const choose = (code: string) => {
    const chosen = lookups.suppliers.find(
      (s) => s.code === code || s.name.toLowerCase() === code.toLowerCase(),
    );
    set("supplier", chosen?.code ?? code);
    if (!chosen) return;
    if (chosen.currency && !header.currency && chosen.currency !== functional)
      set("currency", chosen.currency);
    // What is usual for the supplier, where no line stands yet.
    const { history } = draft;
    if (chosen.account && history.rows.every((r) => !r.account && !r.item))
      draft.setHistory({
        rows: [
          {
            account: chosen.account,
            ...Object.fromEntries(Object.entries(chosen.dimensions).map(([k, v]) => [`d.${k}`, v])),
            ...(chosen.taxCode ? { taxCode: chosen.taxCode } : {}),
          },
        ],
        past: [],
        future: [],
      });
  };
  const verb = kind === "request" ? "Approve the request" : "Place the order";
  return (
    <Page
      title={kind === "request" ? "Request" : supplier ? `Order to ${supplier.name}` : "New order"}
      status={<Status of="draft" />}
      note={
        <span
          data-kept={draft.pending ? "no" : "yes"}
          className={draft.saved.tone === "bad" ? "text-coral" : ""}
        >
          gets its number when {kind === "request" ? "approved" : "placed"} · {draft.saved.text}
        </span>
      }
      panel={papers && <PapersPanel id={documentId} onClose={() => setPapers(false)} />}
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
            >
              Send for approval <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          ) : (
            mayPlace && (
              <button
                type="button"
                className="button button-main"
                disabled={draft.posting}
                onClick={() => void finish("post")}
              >
                {verb} <kbd>Ctrl ⇧ ⏎</kbd>
              </button>
            )
          )}
        </>
      }
      footer={
        <>
          <Fact label={`Net ${currency}`}>{shownAmount(check?.net ?? 0n, currency)}</Fact>
          <Fact label="Tax">{shownAmount(check?.tax ?? 0n, currency)}</Fact>
          <span className="ml-auto max-w-[40%] truncate text-right text-ink-3">
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
              "⏎ next cell · several deliveries: 10 on 3 Nov, 5 on 12 Nov"
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
        />
      )}
      <div className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5">
        <Field
          id="o-supplier"
          label="Supplier"
          required={kind === "order"}
          problem={at("supplier")}
          hint={supplier?.name}
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
        <Field id="o-date" label="Date" required problem={at("date")} width="w-28">
          {(p) => (
            <DateField
              {...p}
              value={header.date}
              onChange={(text) => set("date", text)}
              onBlur={tidy("date")}
            />
          )}
        </Field>
        <Field id="o-wanted" label="Wanted" problem={at("wanted")} width="w-28">
          {(p) => (
            <DateField
              {...p}
              placeholder="day"
              value={header.wanted}
              onChange={(text) => set("wanted", text)}
              onBlur={tidy("wanted")}
            />
          )}
        </Field>
        <Field id="o-currency" label="Currency" problem={at("currency")} width="w-20">
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
        {kind === "order" && (
          <Field id="o-accrual" label="Accrues" width="w-40">
            {(p) => (
              <select
                {...p}
                className="field"
                value={header.accrual}
                onChange={(e) => set("accrual", e.target.value as OrderInput["accrual"])}
              >
                <option value="receipt">when received</option>
                <option value="period end">at a period’s end</option>
              </select>
            )}
          </Field>
        )}
        <Field id="o-description" label="For" problem={at("description")} width="min-w-48 flex-1">
          {(p) => (
            <input
              {...p}
              className="field"
              placeholder="What it is for"
              value={header.description}
              onChange={(e) => set("description", e.target.value)}
            />
          )}
        </Field>
      </div>
      <EntryGrid
        label="Order lines"
        columns={columns}
        history={draft.history}
        onHistory={draft.setHistory}
        problems={marks}
        currency={currency}
        commit={commit}
        jump={jump}
        toFirst={draft.attention}
        checked={draft.checked}
      />
    </Page>
  );
}
