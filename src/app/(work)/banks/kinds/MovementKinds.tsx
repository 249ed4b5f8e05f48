"use client";
import type { BankCodings, MovementKind } from "@/server/banks";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordValues } from "@/ui/RecordPage";
import { codingFields, codingOf, codingValues, derivesShortcut } from "../coding/codingFields";
import { saveRecordAction } from "../../setup/actions";

const SIDES = [
  { value: "out", text: "Money out" },
  { value: "in", text: "Money in" },
  { value: "both", text: "Either way" },
];

const list = (text: unknown): string[] =>
  String(text ?? "")
    .split(/[,;\n]/)
    .map((t) => t.trim())
    .filter(Boolean);

const toInput = (codings: BankCodings, v: RecordValues, row: MovementKind | null) => ({
  code: v.code,
  name: v.name,
  group: v.group,
  side: v.side,
  codes: list(v.codes),
  words: list(v.words),
  account: v.account,
  dimensions: v.account ? codingOf(codings, v).dimensions : {},
  taxCode: v.taxCode,
  ...(row ? { version: row.version } : {}),
});

/** What movements a bank's codes and words mean, and where each is posted. */
export function MovementKinds({
  rows,
  codings,
  mayChange,
}: {
  rows: MovementKind[];
  codings: BankCodings;
  mayChange: boolean;
}) {
  const [account, ...more] = codingFields(codings);
  const values = more.filter((f) => f.key !== "tax" && f.key !== "shares");
  const tax = more.find((f) => f.key === "tax")!;
  return (
    <RecordPage<MovementKind>
      title="Kinds of movement"
      note="known by the bank’s codes, posted by their coding"
      name="movement-kinds"
      rows={rows}
      rowKey={(k) => k.code}
      mayChange={mayChange}
      add={mayChange ? "New kind" : null}
      empty={
        <Empty title="No kind yet">
          Charges and interest are recognised by the bank’s codes once they have a kind here.
        </Empty>
      }
      columns={[
        { key: "code", header: "Code", width: 110, value: (k) => k.code },
        { key: "name", header: "Name", width: 170, value: (k) => k.name },
        { key: "group", header: "Group", width: 120, value: (k) => k.group },
        {
          key: "side",
          header: "Direction",
          width: 100,
          value: (k) => SIDES.find((s) => s.value === k.side)?.text ?? k.side,
        },
        { key: "codes", header: "Bank’s codes", value: (k) => k.codes.join(", ") },
        {
          key: "words",
          header: "Words in the text",
          value: (k) => k.words.join(", ").toLowerCase(),
        },
        { key: "account", header: "Account", width: 90, value: (k) => k.account },
        {
          key: "costCentre",
          header: "Cost centre",
          width: 100,
          value: (k) => k.dimensions.costCentre ?? "",
        },
        { key: "taxCode", header: "Tax", width: 70, value: (k) => k.taxCode },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "group",
          label: "Group",
          kind: "text",
          hint: "Kinds of one group are summed together",
        },
        { key: "side", label: "Direction", kind: "select", options: SIDES, required: true },
        {
          key: "codes",
          label: "Bank’s codes",
          kind: "text",
          hint: "Of ISO 20022, SWIFT or the bank, with commas: PMNT-MDOP-CHRG, NCHG",
        },
        {
          key: "words",
          label: "Words in the text",
          kind: "text",
          hint: "A word alone proposes; only a code is certain",
        },
        { ...account!, required: false },
        ...values,
        { ...tax, key: "taxCode", hint: "That its amounts have in them" },
      ]}
      toValues={(k) => ({
        code: k?.code ?? "",
        name: k?.name ?? "",
        group: k?.group ?? "",
        side: k?.side ?? "out",
        codes: k?.codes.join(", ") ?? "",
        words: k?.words.join(", ") ?? "",
        ...codingValues(codings, k),
        taxCode: k?.taxCode ?? "",
      })}
      derive={derivesShortcut(codings)}
      save={(v, k) => saveRecordAction("movementKind", toInput(codings, v, k))}
    />
  );
}
