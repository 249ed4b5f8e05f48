"use client";
import { lineRuleSchema } from "@/core/banks";
import type { BankCodings, LineRuleRow, MovementKind, StatementLineView } from "@/server/banks";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import { faultsOf } from "@/ui/form";
import { saveRecordAction } from "../../setup/actions";
import {
  codingFields,
  codingKeys,
  codingOf,
  codingValues,
  derivesShortcut,
} from "../coding/codingFields";
import { RuleTrialList } from "./RuleTrialList";

const SIDES = [
  { value: "both", text: "Either way" },
  { value: "in", text: "Money in" },
  { value: "out", text: "Money out" },
];
const OUTCOMES = [
  { value: "kind", text: "A kind of movement" },
  { value: "coding", text: "A coding of its own" },
  { value: "partner", text: "Money of a partner" },
  { value: "leave", text: "Left to people" },
];

function wordsOf({ outcome }: LineRuleRow, kinds: readonly MovementKind[]): string {
  switch (outcome.is) {
    case "leave":
      return "left to people";
    case "partner":
      return `money of ${outcome.partner}`;
    case "coding":
      return [
        outcome.coding.account,
        ...Object.values(outcome.coding.dimensions),
        outcome.coding.tax ? `tax ${outcome.coding.tax}` : "",
        outcome.coding.shares ? `shares ${outcome.coding.shares}` : "",
      ]
        .filter(Boolean)
        .join(" ");
    case "kind":
      return kinds.find((k) => k.code === outcome.kind)?.name ?? outcome.kind;
  }
}

const conditionsOf = (r: LineRuleRow): string =>
  [
    r.text && `text “${r.text}”`,
    r.party && `name “${r.party}”`,
    r.code && `code ${r.code}`,
    r.from && `from ${r.from}`,
    r.to && `up to ${r.to}`,
  ]
    .filter(Boolean)
    .join(", ");

/** A rule as the fields of its form; a new one begins with what an example says. */
function valuesOf(
  codings: BankCodings,
  r: LineRuleRow | null,
  example: StatementLineView | null,
  place: number,
): RecordValues {
  if (!r) {
    const outcome = example?.outcome;
    return {
      name: (example?.party.name || example?.text || "").slice(0, 60),
      place: String(place),
      bank: "",
      text: (example?.text ?? "")
        .replace(/[\d.,/-]*\d[\d.,/-]*/g, " ")
        .replace(/\s+/g, " ")
        .trim(),
      party: example?.party.name ?? "",
      code: example?.code ?? "",
      side: example ? (example.amount > 0n ? "in" : "out") : "both",
      from: "",
      to: "",
      outcome: outcome?.coding ? "coding" : outcome?.partner ? "partner" : "kind",
      kind: outcome?.kind ?? "",
      ...codingValues(codings, outcome?.coding),
      partner: outcome?.partner ?? "",
      inUse: false,
    };
  }
  const { outcome } = r;
  const coding = outcome.is === "coding" ? outcome.coding : null;
  return {
    name: r.name,
    bank: r.bank,
    text: r.text,
    party: r.party,
    code: r.code,
    side: r.side,
    from: r.from,
    to: r.to,
    inUse: r.inUse,
    place: String(r.place),
    outcome: outcome.is,
    kind: outcome.is === "kind" ? outcome.kind : "",
    ...codingValues(codings, coding),
    partner: outcome.is === "partner" ? outcome.partner : "",
  };
}

/** Rules of a company's own: which lines they mean, and what they make of them. */
export function LineRules({
  rows,
  accounts,
  kinds,
  codings,
  example,
}: {
  rows: LineRuleRow[];
  accounts: { code: string; name: string }[];
  kinds: MovementKind[];
  codings: BankCodings;
  example: StatementLineView | null;
}) {
  const work = useWork();
  const mayChange = work.may("post.banks");
  const next = Math.max(0, ...rows.map((r) => r.place)) + 10;
  const toInput = (v: RecordValues, r: LineRuleRow | null) => ({
    ...v,
    company: work.company?.code ?? "",
    ...codingOf(codings, v),
    ...(r ? { id: r.id, version: r.version } : {}),
  });
  return (
    <RecordPage<LineRuleRow>
      title="Rules for bank lines"
      note="the first rule that fits a line decides"
      name="line-rules"
      rows={rows}
      rowKey={(r) => String(r.id)}
      mayChange={mayChange}
      begins={example !== null && mayChange}
      add={mayChange ? "New rule" : null}
      empty={
        <Empty title="No rule yet">
          A rule begins with an example: open a statement line and make a rule of it.
        </Empty>
      }
      columns={[
        { key: "place", header: "Order", width: 70, align: "right", value: (r) => r.place },
        { key: "name", header: "Name", width: 180, value: (r) => r.name },
        { key: "bank", header: "Bank account", width: 120, value: (r) => r.bank || "all" },
        {
          key: "side",
          header: "Direction",
          width: 96,
          value: (r) => SIDES.find((s) => s.value === r.side)?.text ?? r.side,
        },
        { key: "conditions", header: "Conditions", value: conditionsOf },
        { key: "outcome", header: "Outcome", width: 170, value: (r) => wordsOf(r, kinds) },
        {
          key: "inUse",
          header: "Status",
          width: 100,
          value: (r) => (r.inUse ? "active" : "inactive"),
          cell: (r) => <Status of={r.inUse ? "active" : "inactive"} quiet />,
        },
      ]}
      fields={[
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "place",
          label: "Order",
          kind: "figure",
          required: true,
          hint: "The lowest is asked first",
        },
        {
          key: "bank",
          label: "Bank account",
          kind: "select",
          options: [
            { value: "", text: "All accounts" },
            ...accounts.map((a) => ({ value: a.code, text: `${a.code} ${a.name}` })),
          ],
        },
        { key: "text", label: "Text contains", kind: "text", hint: "Whole words, in this order" },
        { key: "party", label: "Name of the other party contains", kind: "text" },
        { key: "code", label: "Bank’s code begins with", kind: "text" },
        { key: "side", label: "Direction", kind: "select", options: SIDES, required: true },
        { key: "from", label: "Amount from", kind: "figure" },
        { key: "to", label: "Amount up to", kind: "figure" },
        { key: "outcome", label: "Outcome", kind: "select", options: OUTCOMES, required: true },
        {
          key: "kind",
          label: "Kind of movement",
          kind: "select",
          options: [
            { value: "", text: "Choose" },
            ...kinds.map((k) => ({ value: k.code, text: k.name })),
          ],
        },
        ...codingFields(codings),
        { key: "partner", label: "Partner", kind: "text", hint: "Its code" },
        {
          key: "inUse",
          label: "In use",
          kind: "check",
          hint: "Else it is only tried: save it and see what it would do",
        },
      ]}
      shows={(v) => [
        ...["name", "place", "bank", "text", "party", "code", "side", "from", "to", "outcome"],
        ...(v.outcome === "kind" ? ["kind"] : []),
        ...(v.outcome === "coding" ? codingKeys(codings, v) : []),
        ...(v.outcome === "partner" ? ["partner"] : []),
        "inUse",
      ]}
      toValues={(r) => valuesOf(codings, r, example, next)}
      derive={derivesShortcut(codings)}
      check={(v, r) => faultsOf(lineRuleSchema, toInput(v, r))}
      save={(v, r) => saveRecordAction("lineRule", toInput(v, r))}
      aside={(r) => <RuleTrialList rule={r} />}
    />
  );
}
