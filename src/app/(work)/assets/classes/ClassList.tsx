"use client";
import {
  ASSET_FACT_NAMES,
  ASSET_FACTS,
  assetClassInput,
  lifeText,
  ruleText,
  writtenRule,
  EMPTY_RULE,
  type AssetClass,
} from "@/core/assets";
import { faultsOf, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveAssetClassAction } from "../actions";
import { ruleFields, ruleIn, shownOf, valuesOfRule } from "../ruleFields";

const PLAIN = [
  "code",
  "name",
  "parent",
  "cost",
  "accumulated",
  "charge",
  "clearing",
  "gain",
  "loss",
  "threshold",
  "needs",
  "blocked",
];

/** Classes of assets: their accounts, and how each book depreciates them. */
export function ClassList({
  rows,
  books,
  mayChange,
}: {
  rows: AssetClass[];
  books: readonly string[];
  mayChange: boolean;
}) {
  const { dimensions } = useWork();
  const inputOf = (v: RecordValues) => ({
    ...Object.fromEntries(PLAIN.map((key) => [key, v[key]])),
    common: ruleIn("common", v),
    own: Object.fromEntries(
      books.flatMap((book) => {
        const rule = ruleIn(`own.${book}`, v);
        return rule ? [[book, rule]] : [];
      }),
    ),
  });
  return (
    <RecordPage<AssetClass>
      title="Classes of assets"
      note="their accounts, and how each book depreciates them; assets keep the rules they were taken in with"
      name="asset-classes"
      rows={rows}
      rowKey={(c) => c.code}
      mayChange={mayChange}
      add="Add a class"
      empty={
        <Empty title="No class yet">
          A class has the accounts of its assets and says how they are depreciated. Add one before
          anything is taken in.
        </Empty>
      }
      columns={[
        { key: "code", header: "Code", width: 100, value: (c) => c.code },
        { key: "name", header: "Name", width: 200, value: (c) => c.name },
        { key: "parent", header: "Within", width: 90, value: (c) => c.parent },
        { key: "rule", header: "In all books", value: (c) => ruleText(c.rules.common) },
        {
          key: "own",
          header: "Otherwise",
          width: 230,
          value: (c) =>
            Object.entries(c.rules.own)
              .map(([book, r]) => `${book}: ${r.method}${r.life ? `, ${lifeText(r.life)}` : ""}`)
              .join("; "),
        },
        { key: "cost", header: "Cost", width: 70, value: (c) => c.accounts.cost },
        {
          key: "accumulated",
          header: "Accumulated",
          width: 96,
          value: (c) => c.accounts.accumulated,
        },
        { key: "charge", header: "Expense", width: 76, value: (c) => c.accounts.charge },
        { key: "clearing", header: "Intake", width: 70, value: (c) => c.accounts.clearing },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "parent",
          label: "Within the class",
          kind: "select",
          options: [
            { value: "", text: "none" },
            ...rows.map((c) => ({ value: c.code, text: `${c.code} ${c.name}` })),
          ],
        },
        { key: "cost", label: "Account of its cost", kind: "text", required: true },
        { key: "accumulated", label: "Account of accumulated depreciation", kind: "text" },
        { key: "charge", label: "Expense of depreciation", kind: "text" },
        {
          key: "clearing",
          label: "Clearing account of its intake",
          kind: "text",
          hint: "What invoices book there waits until it is taken in.",
        },
        { key: "gain", label: "Gain on disposal", kind: "text" },
        { key: "loss", label: "Loss on disposal", kind: "text" },
        {
          key: "threshold",
          label: "Expensed at once up to",
          kind: "figure",
          hint: "In the company's currency; nothing where empty.",
        },
        {
          key: "needs",
          label: "Wanted of each asset",
          kind: "checks",
          options: [
            ...dimensions.map((d) => ({ value: d.code, text: d.name })),
            ...ASSET_FACTS.map((f) => ({ value: f, text: ASSET_FACT_NAMES[f] })),
          ],
        },
        ...ruleFields("common", "all books"),
        ...books.flatMap((book) => ruleFields(`own.${book}`, book, "as all books do")),
        { key: "blocked", label: "Blocked: no longer used", kind: "check" },
      ]}
      shows={(v) => [
        ...PLAIN,
        ...shownOf("common", v),
        ...books.flatMap((book) => shownOf(`own.${book}`, v)),
      ]}
      toValues={(c) => ({
        code: c?.code ?? "",
        name: c?.name ?? "",
        parent: c?.parent ?? "",
        cost: c?.accounts.cost ?? "",
        accumulated: c?.accounts.accumulated ?? "",
        charge: c?.accounts.charge ?? "",
        clearing: c?.accounts.clearing ?? "",
        gain: c?.accounts.gain ?? "",
        loss: c?.accounts.loss ?? "",
        threshold: c?.threshold ?? "",
        needs: [...(c?.needs ?? [])],
        blocked: c?.blocked ?? false,
        ...valuesOfRule("common", writtenRule(c?.rules.common ?? EMPTY_RULE)),
        ...Object.assign(
          {},
          ...books.map((book) =>
            valuesOfRule(`own.${book}`, c?.rules.own[book] ? writtenRule(c.rules.own[book]) : null),
          ),
        ),
      })}
      check={(v) => faultsOf(assetClassInput, inputOf(v))}
      save={(v) => saveAssetClassAction(inputOf(v))}
    />
  );
}
