"use client";
import { useRouter } from "next/navigation";
import { useCallback, useMemo, useState } from "react";
import { CURRENCIES, dateText, decimalText, minor, readAmount, readDate } from "@/core/shared";
import { isDraft } from "@/core/banks";
import type { OpenItemRow } from "@/server/openItems";
import { useAct } from "@/app/lib/useAct";
import { useWork } from "@/ui/frame/work";
import { codingColumns, commitCoding, tidyAmount, type CodingLookups } from "@/ui/grid/coding";
import { EntryGrid, type GridColumn } from "@/ui/grid/EntryGrid";
import { startHistory, type CellChange, type GridRow } from "@/ui/grid/gridModel";
import { Field } from "@/ui/Field";
import { Fact, Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { useFormName } from "@/app/lib/useFormName";
import { makePaymentAction } from "../actions";
import { DateField } from "@/ui/date/DateField";
import { discountOn } from "@/core/openItems";
import { shownAmount, shownDate } from "@/ui/writing";
import { FigureField } from "@/ui/FigureField";

const METHODS = [
  ["manual", "by hand at the bank"],
  ["transfer", "transfer, made there"],
  ["cheque", "cheque, written by hand"],
  ["note", "promissory note of ours"],
  ["bill", "bill of exchange, accepted"],
  ["refund", "refund that comes in"],
] as const;

/** One payment outside a run: items of a supplier, a credit of a customer, a coding, or a refund. */
export function SinglePaymentForm({
  supplier,
  banks,
  suppliers,
  items,
  lookups,
}: {
  supplier: string;
  banks: { code: string; name: string; currency: string }[];
  suppliers: { code: string; name: string }[];
  items: OpenItemRow[];
  lookups: CodingLookups;
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const [head, setHead] = useState({
    bank: banks[0]?.code ?? "",
    date: dateText(work.today),
    method: "manual",
    due: "",
    who: supplier,
    payee: "",
    currency: items[0]?.currency ?? work.company?.currency ?? "EUR",
    description: "",
  });
  const [pays, setPays] = useState<Record<number, string>>({});
  const [discounts, setDiscounts] = useState<Record<number, string>>({});
  const [history, setHistory] = useState(() => startHistory([]));
  const set = (change: Partial<typeof head>) => setHead((h) => ({ ...h, ...change }));
  const { currency } = head;
  const own = items.filter((i) => i.currency === currency);
  const read = (text: string | undefined): bigint => {
    const r = readAmount(text ?? "", currency);
    return r.ok ? r.amount : 0n;
  };
  const total = minor(
    own.reduce((t, i) => t + (i.left < 0n ? 1n : -1n) * read(pays[i.id]), 0n) +
      history.rows.reduce((t, r) => t + read(r.amount), 0n),
  );
  const columns = useMemo(
    (): GridColumn[] => [
      ...codingColumns(lookups, { wide: true }),
      { key: "description", header: "Description", kind: "text" },
      { key: "amount", header: `Amount ${currency}`, width: 130, kind: "amount" },
    ],
    [lookups, currency],
  );
  const form = useFormName();
  const commit = useCallback(
    (now: readonly GridRow[], c: CellChange, typed = false): CellChange[] =>
      c.key === "amount"
        ? [{ ...c, value: tidyAmount(c.value, currency) }]
        : (commitCoding(lookups, now, c, typed) ?? [c]),
    [lookups, currency],
  );
  const none = useMemo(() => new Map<string, string>(), []);
  /** All of an item, less the discount that paying on the day still earns. */
  const payAll = (i: OpenItemRow) => {
    const day = readDate(head.date, work.today) ?? work.today;
    const discount = i.left < 0n ? (discountOn(i, day)?.amount ?? minor(0n)) : minor(0n);
    const owed = i.left < 0n ? -i.left : i.left;
    setPays((p) => ({ ...p, [i.id]: decimalText(minor(owed - discount), currency) }));
    setDiscounts((d) => ({
      ...d,
      [i.id]: discount === 0n ? "" : decimalText(discount, currency),
    }));
  };
  const pay = () =>
    void act(
      async () => {
        const result = await makePaymentAction(form, {
          company: work.place.company,
          bank: head.bank,
          date: readDate(head.date, work.today) ?? head.date,
          method: head.method,
          dueDate: isDraft(head.method) ? (readDate(head.due, work.today) ?? head.due) : "",
          supplier,
          payee: head.payee,
          currency,
          description: head.description,
          items: own.flatMap((i) =>
            (pays[i.id] ?? "").trim() === ""
              ? []
              : [{ id: i.id, amount: pays[i.id], discount: discounts[i.id] ?? "" }],
          ),
          lines: history.rows
            .filter((r) => r.account || r.amount)
            .map((r) => ({
              account: r.account ?? "",
              description: r.description ?? "",
              amount: r.amount ?? "",
              dimensions: Object.fromEntries(
                Object.entries(r).flatMap(([k, v]) =>
                  k.startsWith("d.") ? [[k.slice(2), v]] : [],
                ),
              ),
            })),
        });
        if (result.ok)
          router.push(
            work.link(
              result.value.run
                ? `/payables/payments/runs/${result.value.run.id}`
                : `/payables/payments/${result.value.id}`,
            ),
          );
        return result;
      },
      ({ run }) => (run ? `It waits for a second person: ${run.why}.` : "Posted."),
    );
  usePrimaryKeys(undefined, pay);
  const field = (key: "date" | "payee" | "description", label: string, width: string) => (
    <Field id={`p-${key}`} label={label} width={width}>
      {(p) =>
        key === "date" ? (
          <DateField {...p} value={head.date} onChange={(date) => set({ date })} />
        ) : (
          <input
            {...p}
            className="field"
            value={head[key]}
            onChange={(e) => set({ [key]: e.target.value })}
          />
        )
      }
    </Field>
  );
  return (
    <Page
      title="Single payment"
      note="outside a run: no file and no cheque come of it"
      actions={
        <button
          type="button"
          className="button button-main"
          disabled={busy}
          onClick={pay}
          data-keys="Ctrl Shift Enter=Post"
        >
          Post <kbd>Ctrl ⇧ ⏎</kbd>
        </button>
      }
      footer={
        <>
          <Fact label={total < 0n ? `Comes in ${currency}` : `To pay ${currency}`}>
            {shownAmount(minor(total < 0n ? -total : total), currency)}
          </Fact>
        </>
      }
    >
      <Problems messages={messages} />
      <div className="panel flex shrink-0 flex-wrap gap-x-2.5 gap-y-1.5 px-3 py-2.5">
        <Field id="p-bank" label="From" width="w-48">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.bank}
              onChange={(e) => set({ bank: e.target.value })}
            >
              {banks.map((b) => (
                <option key={b.code} value={b.code}>
                  {b.code} {b.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        {field("date", "Date", "w-28")}
        <Field id="p-method" label="How" width="w-44">
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.method}
              onChange={(e) => set({ method: e.target.value })}
            >
              {METHODS.map(([value, word]) => (
                <option key={value} value={value}>
                  {word}
                </option>
              ))}
            </select>
          )}
        </Field>
        {isDraft(head.method) && (
          <Field id="p-due" label="Due" width="w-28" required>
            {(p) => <DateField {...p} value={head.due} onChange={(due) => set({ due })} />}
          </Field>
        )}
        <Field
          id="p-supplier"
          label="Supplier or customer"
          width="w-44"
          hint={suppliers.find((s) => s.code === supplier)?.name}
        >
          {(p) => (
            <>
              <input
                {...p}
                className="field"
                list="p-suppliers"
                placeholder="none"
                value={head.who}
                onChange={(e) => set({ who: e.target.value })}
                onBlur={() => head.who !== supplier && work.go({ supplier: head.who || null })}
                onKeyDown={(e) => e.key === "Enter" && work.go({ supplier: head.who || null })}
              />
              <datalist id="p-suppliers">
                {suppliers.map((s) => (
                  <option key={s.code} value={s.code}>
                    {s.name}
                  </option>
                ))}
              </datalist>
            </>
          )}
        </Field>
        {supplier === "" && field("payee", "Payee", "w-48")}
        <Field id="p-currency" label="Currency" width="w-20">
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
        {field("description", "Description", "min-w-40 flex-1")}
      </div>
      {supplier !== "" && (
        <div className="panel max-h-64 shrink-0 overflow-auto">
          <table className="sheet">
            <thead>
              <tr>
                <th>Open item</th>
                <th className="w-28">Kind</th>
                <th className="w-28">Due</th>
                <th className="num w-36">Open amount</th>
                <th className="num w-40">Payment</th>
                <th className="num w-32">Discount</th>
              </tr>
            </thead>
            <tbody>
              {own.map((i) => (
                <tr key={i.id}>
                  <td>
                    <button
                      type="button"
                      className="link font-semibold"
                      title="All of it, less the discount that is still earned"
                      onClick={() => payAll(i)}
                    >
                      {i.reference}
                    </button>
                  </td>
                  <td>{i.kind}</td>
                  <td>{shownDate(i.dueDate)}</td>
                  <td className="num">{shownAmount(minor(-i.left), currency)}</td>
                  <td className="num">
                    <FigureField
                      aria-label={`Pay of ${i.reference}`}
                      className="field h-6! text-right"
                      value={pays[i.id] ?? ""}
                      onChange={(amount) => setPays((p) => ({ ...p, [i.id]: amount }))}
                    />
                  </td>
                  <td className="num">
                    {i.left < 0n && (
                      <FigureField
                        aria-label={`Discount on ${i.reference}`}
                        className="field h-6! text-right"
                        value={discounts[i.id] ?? ""}
                        onChange={(amount) => setDiscounts((d) => ({ ...d, [i.id]: amount }))}
                      />
                    )}
                  </td>
                </tr>
              ))}
              {own.length === 0 && (
                <tr>
                  <td colSpan={6} className="text-ink-2">
                    Nothing can be paid to this partner in {currency}, or it is on hold.
                  </td>
                </tr>
              )}
            </tbody>
          </table>
        </div>
      )}
      <EntryGrid
        label="What else is paid, by coding"
        columns={columns}
        history={history}
        onHistory={setHistory}
        problems={none}
        currency={currency}
        commit={commit}
      />
    </Page>
  );
}
