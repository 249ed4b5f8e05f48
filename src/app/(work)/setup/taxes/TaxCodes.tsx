"use client";
import {
  TAX_CATEGORIES,
  TAX_DIRECTIONS,
  TAX_KINDS,
  taxCodeSchema,
  type TaxCategory,
  type TaxCode,
  type TaxDirection,
} from "@/core/taxes";
import { readDate } from "@/core/shared";
import { faultsOf, type Fault, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveTaxCodeAction } from "../../payables/invoices/actions";
import { shownFigures } from "@/ui/writing";

const WORDS: Record<(typeof TAX_KINDS)[number], string> = {
  standard: "on the invoice",
  reverse: "owed by the buyer (reverse charge)",
  none: "none: exempt or outside",
  withheld: "kept back by the buyer",
};
const CATEGORIES: Record<TaxCategory, string> = {
  S: "standard",
  Z: "zero rated",
  E: "exempt",
  AE: "reverse charge",
  K: "supply within the community",
  G: "export",
  O: "outside the scope",
};
const ON: Record<TaxDirection, string> = { purchase: "purchases", sale: "sales" };
const ratesText = (t: TaxCode): string =>
  t.rates.map((r) => `${r.percent} from ${r.from}`).join("; ");

/** What is wrong with one rate is said at the field that holds them all. */
const atRates = <F extends Fault>(fault: F): F => ({
  ...fault,
  field: fault.field?.startsWith("rates") ? "rates" : fault.field,
});

/** Tax codes with their rates and the days from which they hold. */
export function TaxCodes({ rows, mayChange }: { rows: TaxCode[]; mayChange: boolean }) {
  const { today } = useWork();
  const read = (text: string) =>
    text
      .split(";")
      .map((p) => p.trim())
      .filter(Boolean)
      .map((part) => {
        const [, percent = part, from = ""] = /^([\d.]+)\s*%?\s*from\s+(.+)$/i.exec(part) ?? [];
        return { percent, from: readDate(from, today) ?? from };
      });
  const inputOf = (v: RecordValues) => ({ ...v, rates: read(String(v.rates)) });
  return (
    <RecordPage<TaxCode>
      title="Tax codes"
      note="how taxes on purchases and sales are computed, posted and declared"
      name="tax-codes"
      rows={rows}
      rowKey={(t) => t.code}
      mayChange={mayChange}
      add="Add a tax code"
      empty={
        <Empty title="No tax code yet">
          Invoices need one on every line, also where there is no tax.
        </Empty>
      }
      columns={[
        { key: "code", header: "Code", width: 90, value: (t) => t.code },
        { key: "name", header: "Name", value: (t) => t.name },
        { key: "direction", header: "Direction", width: 90, value: (t) => ON[t.direction] },
        { key: "kind", header: "Kind of tax", width: 230, value: (t) => WORDS[t.kind] },
        { key: "rates", header: "Rates", width: 230, value: ratesText },
        { key: "account", header: "Account", width: 90, value: (t) => t.account },
        { key: "owed", header: "Tax payable account", width: 155, value: (t) => t.owedAccount },
        {
          key: "recoverable",
          header: "Recoverable",
          width: 104,
          value: (t) => (t.direction === "sale" ? "" : `${t.recoverable} %`),
          cell: (t) => (t.direction === "sale" ? "" : `${shownFigures(t.recoverable)} %`),
        },
        { key: "line", header: "Return line", width: 100, value: (t) => t.returnLine },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "direction",
          label: "Direction",
          kind: "select",
          options: TAX_DIRECTIONS.map((d) => ({ value: d, text: ON[d] })),
        },
        {
          key: "kind",
          label: "Kind of tax",
          kind: "select",
          options: TAX_KINDS.map((k) => ({ value: k, text: WORDS[k] })),
        },
        {
          key: "rates",
          label: "Rates",
          kind: "figure",
          required: true,
          placeholder: "23 from 1 Jan 2020; 21 from 1 Jan 2027",
          hint: "A rate that has held stays; add the new one with its day.",
        },
        { key: "account", label: "Account of what can be deducted", kind: "text" },
        { key: "owedAccount", label: "Account on which it is owed", kind: "text" },
        { key: "recoverable", label: "Recoverable, per cent", kind: "figure" },
        { key: "returnLine", label: "Line of the return", kind: "text" },
        {
          key: "category",
          label: "On sales, to the tax office",
          kind: "select",
          options: [
            { value: "", text: "as is usual of its kind" },
            ...TAX_CATEGORIES.map((c) => ({ value: c, text: `${c} ${CATEGORIES[c]}` })),
          ],
          hint: "As e-invoices say it (UNCL 5305).",
        },
        {
          key: "reason",
          label: "Text on invoices to customers",
          kind: "text",
          hint: "Why nothing is charged, as the law wants it said.",
        },
        { key: "blocked", label: "Blocked: no longer used", kind: "check" },
      ]}
      toValues={(t) => ({
        code: t?.code ?? "",
        name: t?.name ?? "",
        direction: t?.direction ?? "purchase",
        kind: t?.kind ?? "standard",
        rates: t ? ratesText(t) : "",
        account: t?.account ?? "1410",
        owedAccount: t?.owedAccount ?? "",
        recoverable: t?.recoverable ?? "100",
        returnLine: t?.returnLine ?? "",
        category: t?.category ?? "",
        reason: t?.reason ?? "",
        blocked: t?.blocked ?? false,
      })}
      check={(v) => faultsOf(taxCodeSchema, inputOf(v)).map(atRates)}
      save={async (v) => {
        const result = await saveTaxCodeAction(inputOf(v));
        return result.ok ? result : { ...result, problems: result.problems.map(atRates) };
      }}
    />
  );
}
