"use client";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import { saleValue, type SaleInput, type SaleLineInput } from "@/core/receivables";
import { amountText, CURRENCIES, dateText } from "@/core/shared";
import type { AgreementView } from "@/server/receivables";
import type { ShownProblem } from "@/server/ledger";
import { DatesPanel } from "@/app/recurring/DatesPanel";
import { RhythmFields, type WrittenRhythm } from "@/app/recurring/RhythmFields";
import { marksOf, type Named } from "@/app/trade/paperGrid";
import { paperRows } from "@/app/trade/paperRows";
import { useAct } from "@/app/lib/useAct";
import { Field } from "@/ui/Field";
import { FigureField } from "@/ui/FigureField";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { EntryGrid } from "@/ui/grid/EntryGrid";
import { startHistory, type CellChange, type GridRow } from "@/ui/grid/gridModel";
import { Page, Problems } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownFigures } from "@/ui/writing";
import {
  commitSale,
  SALE_CELLS,
  saleColumns,
  type SaleLookups,
} from "../../invoices/[id]/saleGrid";
import { endAgreementAction, saveAgreementAction, skipAgreementAction } from "../actions";

const { toRow, toLine } = paperRows<SaleLineInput>(SALE_CELLS);

/** A line with the amount that its quantity and price come to. */
function withNet(line: SaleLineInput, currency: string): SaleLineInput {
  const value = line.net === "" ? saleValue(line, currency) : null;
  return value === null ? line : { ...line, net: amountText(value, currency) };
}

/**
 * What was agreed with a customer: when it is invoiced, whether prices follow an index, the lines.
 */
export function AgreementForm({
  view,
  start,
  lookups,
  indices,
}: {
  view: AgreementView | null;
  start: SaleInput;
  lookups: SaleLookups;
  indices: readonly Named[];
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const a = view?.agreement;
  const [head, setHead] = useState({
    name: a?.name ?? "",
    customer: start.customer,
    every: String(a?.rhythm.every ?? 1),
    unit: a?.rhythm.unit ?? ("month" as WrittenRhythm["unit"]),
    first: a ? dateText(a.rhythm.first) : "",
    until: a?.rhythm.until ? dateText(a.rhythm.until) : "",
    index: a?.clause.index ?? "",
    base: a?.clause.base ?? "",
    least: a?.clause.least ?? "0",
    terms: start.terms,
    currency: start.currency ?? "",
    reference: start.reference,
    description: start.description,
  });
  const own = work.companies.find((c) => c.code === start.company)?.currency ?? "EUR";
  const currency = head.currency || own;
  const [history, setHistory] = useState(() =>
    startHistory(start.lines.map((l) => toRow(withNet(l, currency)))),
  );
  const [problems, setProblems] = useState<readonly ShownProblem[]>([]);
  const [side, setSide] = useState(false);
  const [touched, setTouched] = useState(false);
  const guard = useLeaveGuard(touched);
  const set = (change: Partial<typeof head>) => {
    setTouched(true);
    setHead((h) => ({ ...h, ...change }));
  };
  const may = work.may("prepare.receivables");
  const customer = lookups.customers.find((c) => c.code === head.customer);
  const columns = useMemo(
    () =>
      saleColumns({
        lookups,
        companies: [],
        head: { company: start.company, description: head.description, gross: start.gross },
        currency,
        discounts: true,
        overTime: false,
        setsOff: false,
      }),
    [lookups, start.company, start.gross, head.description, currency],
  );
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] =>
      commitSale(now, c, typed, {
        lookups,
        companies: [],
        usualTax: customer?.taxCode,
        currency,
        functional: own,
        gross: start.gross,
        total: "",
      }),
    [lookups, customer, currency, own, start.gross],
  );
  const save = () =>
    void act(async () => {
      const result = await saveAgreementAction({
        ...(view ? { id: view.id, version: view.version } : {}),
        agreement: {
          name: head.name,
          rhythm: {
            every: Number(head.every) || 0,
            unit: head.unit,
            first: head.first,
            until: head.until,
          },
          clause: { index: head.index, base: head.base, least: head.least || "0" },
          sale: {
            ...start,
            customer: head.customer,
            terms: head.terms,
            currency: head.currency || null,
            reference: head.reference,
            description: head.description,
            lines: history.rows.filter((r) => Object.values(r).some(Boolean)).map(toLine),
          },
        },
      });
      setProblems(result.ok ? [] : result.problems);
      if (result.ok) setTouched(false);
      if (result.ok && !view)
        setTimeout(() => router.replace(work.link(`/receivables/agreements/${result.value.id}`)));
      return result;
    }, "The agreement is saved");
  usePrimaryKeys(undefined, may && !busy ? save : undefined);
  const at = (field: string) =>
    problems.find((p) => p.line === null && (p.field === field || p.field?.endsWith(`.${field}`)))
      ?.message;
  const marks = useMemo(() => marksOf(problems, lookups.dimensions), [problems, lookups]);
  const placed = Object.keys(head).flatMap((f) => at(f) ?? []);
  const text = (
    key: "name" | "reference" | "description",
    label: string,
    width: string,
    required = false,
    placeholder = "",
  ) => (
    <Field id={`a-${key}`} label={label} required={required} problem={at(key)} width={width}>
      {(p) => (
        <input
          {...p}
          className="field"
          placeholder={placeholder}
          value={head[key]}
          onChange={(e) => set({ [key]: e.target.value })}
        />
      )}
    </Field>
  );
  return (
    <Page
      title={view?.name ?? "New agreement"}
      status={view ? <Status of={view.status} /> : undefined}
      note={
        view
          ? `${view.rhythmText}${view.move ? ` · ${view.index} has moved by ${shownFigures(view.move.percent)} %` : ""}`
          : "invoiced again and again, by a run"
      }
      panel={
        side &&
        view && (
          <DatesPanel
            {...view}
            page="/receivables/invoices"
            mayChange={may}
            skip={skipAgreementAction}
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
              onClick={() =>
                void act(
                  () =>
                    endAgreementAction({
                      id: view.id,
                      to: view.status === "active" ? "ended" : "active",
                    }),
                  view.status === "active" ? "Ended. What it has made stays." : "Taken up again.",
                )
              }
            >
              {view.status === "active" ? "End" : "Resume"}
            </button>
          )}
          {may && (
            <button
              type="button"
              className="button button-main"
              disabled={busy}
              onClick={save}
              data-keys="Ctrl Shift Enter=Save"
            >
              Save <kbd>Ctrl ⇧ ⏎</kbd>
            </button>
          )}
        </>
      }
      footer={
        guard.leaving ? <NotSaved guard={guard} says="The agreement is not saved." /> : undefined
      }
    >
      <Problems messages={messages.filter((m) => !placed.includes(m))} />
      <div className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5">
        {text("name", "Name", "w-56", true, "Berth 4 by the month")}
        <Field
          id="a-customer"
          label="Customer"
          required
          problem={at("customer")}
          hint={customer?.name}
          width="w-44"
        >
          {(p) => (
            <>
              <input
                {...p}
                className="field"
                list="a-customers"
                value={head.customer}
                onChange={(e) => set({ customer: e.target.value })}
              />
              <datalist id="a-customers">
                {lookups.customers.map((c) => (
                  <option key={c.code} value={c.code}>
                    {c.name}
                  </option>
                ))}
              </datalist>
            </>
          )}
        </Field>
        <RhythmFields id="a" first="First invoice" value={head} onChange={set} problem={at} />
        <Field id="a-terms" label="Terms" problem={at("terms")} width="w-40">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.terms}
              onChange={(e) => set({ terms: e.target.value })}
            >
              <option value="">the customer’s</option>
              {lookups.terms.map((x) => (
                <option key={x.code} value={x.code}>
                  {x.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field id="a-currency" label="Currency" problem={at("currency")} width="w-20">
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
        <Field id="a-index" label="Prices follow" problem={at("index")} width="w-44">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.index}
              onChange={(e) => set({ index: e.target.value })}
            >
              <option value="">no index</option>
              {indices.map((i) => (
                <option key={i.code} value={i.code}>
                  {i.code} {i.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        {head.index !== "" && (
          <>
            <Field id="a-base" label="Index when agreed" required problem={at("base")} width="w-32">
              {(p) => <FigureField {...p} value={head.base} onChange={(base) => set({ base })} />}
            </Field>
            <Field id="a-least" label="Once moved by, %" problem={at("least")} width="w-32">
              {(p) => (
                <FigureField {...p} value={head.least} onChange={(least) => set({ least })} />
              )}
            </Field>
          </>
        )}
        {text("reference", "Customer’s reference", "w-44")}
        {text("description", "Description", "min-w-48 flex-1", false, "Berth dues {month} {yyyy}")}
      </div>
      <EntryGrid
        label="Lines of the agreement"
        columns={columns}
        history={history}
        onHistory={(next) => {
          setTouched(true);
          setHistory(next);
        }}
        problems={marks}
        currency={currency}
        commit={commit}
      />
      <p className="text-xs text-ink-3">
        In texts: {"{yyyy} {yy} {mm} {month} {q}"} from the date of the invoice, {"{n}"} the count.
      </p>
    </Page>
  );
}
