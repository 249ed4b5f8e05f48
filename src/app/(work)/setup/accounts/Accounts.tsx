"use client";
import { useMemo } from "react";
import {
  ACCOUNT_TYPES,
  accountSchema,
  CONTROL_KINDS,
  headingSchema,
  type Account,
  type Heading,
} from "@/core/ledger";
import { faultsOf, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordField } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import type { TableColumn } from "@/ui/table/DataTable";
import Link from "next/link";
import { FileLoad } from "@/ui/FileLoad";
import { ExportMenu } from "../../statements/[code]/StatementActions";
import { sendTable } from "@/app/lib/sendFile";
import { saveRecordAction } from "../actions";

const headingInput = (v: RecordValues) => ({
  code: v.number,
  name: v.name,
  parent: v.heading || null,
});

/** A line of the chart: a heading, or an account under one. */
interface Row {
  number: string;
  name: string;
  type: string;
  heading: string;
  headingName: string;
  /** Null for a heading. */
  account: Account | null;
}
const HEADING = "heading";

/** Headings with what stands under them, from the top down. */
function chartInOrder(headings: readonly Heading[], accounts: readonly Account[]): Row[] {
  const under = (parent: Heading | null): Row[] => [
    ...accounts
      .filter((a) => a.headingId === (parent?.id ?? null))
      .map((a) => ({
        number: a.number,
        name: a.name,
        type: a.type,
        heading: parent?.code ?? "",
        headingName: parent?.name ?? "",
        account: a,
      })),
    ...headings
      .filter((h) => h.parentId === (parent?.id ?? null))
      .flatMap((h) => [
        {
          number: h.code,
          name: h.name,
          type: HEADING,
          heading: parent?.code ?? "",
          headingName: parent?.name ?? "",
          account: null,
        },
        ...under(h),
      ]),
  ];
  return under(null);
}

export function Accounts({
  headings,
  accounts,
  dimensions,
  mayChange,
}: {
  headings: Heading[];
  accounts: Account[];
  dimensions: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const work = useWork();
  const rows = useMemo(() => chartInOrder(headings, accounts), [accounts, headings]);
  const ids = useMemo(() => new Map(work.dimensions.map((d) => [d.code, d.id])), [work.dimensions]);
  const rule = (a: Account | null | undefined, code: string): string =>
    a ? (a.rules[ids.get(code) ?? 0] ?? "allowed") : "allowed";
  const columns = useMemo(
    (): TableColumn<Row>[] => [
      {
        key: "number",
        header: "Number",
        width: 100,
        value: (a) => a.number,
        cell: (a) => <b className="font-semibold">{a.number}</b>,
      },
      {
        key: "name",
        header: "Name",
        value: (a) => a.name,
        cell: (a) => (a.account ? a.name : <b className="font-semibold">{a.name}</b>),
      },
      { key: "type", header: "Type", width: 100, value: (a) => a.type },
      {
        key: "control",
        header: "Control kind",
        width: 120,
        value: (a) => a.account?.control ?? "",
      },
      {
        key: "monetary",
        header: "Monetary",
        width: 90,
        value: (a) => (a.account ? (a.account.monetary ? "yes" : "no") : ""),
      },
      {
        key: "heading",
        header: "Heading",
        width: 230,
        value: (a) => `${a.heading} ${a.headingName}`.trim(),
      },
      {
        key: "blocked",
        header: "State",
        width: 100,
        value: (a) => (a.account ? (a.account.blocked ? "blocked" : "active") : ""),
        cell: (a) => a.account && <Status of={a.account.blocked ? "blocked" : "active"} quiet />,
      },
    ],
    [],
  );
  const fields: RecordField[] = [
    { key: "number", label: "Number", kind: "text", required: true, fixed: true },
    { key: "name", label: "Name", kind: "text", required: true },
    {
      key: "type",
      label: "Type",
      kind: "select",
      options: [...ACCOUNT_TYPES, HEADING].map((t) => ({ value: t, text: t })),
    },
    {
      key: "control",
      label: "Control kind",
      kind: "select",
      options: [{ value: "", text: "none" }, ...CONTROL_KINDS.map((k) => ({ value: k, text: k }))],
    },
    {
      key: "heading",
      label: "Under the heading",
      kind: "select",
      options: [
        { value: "", text: headings.length > 0 ? "none: at the top" : "no heading yet" },
        ...headings.map((h) => ({ value: h.code, text: `${h.code} ${h.name}` })),
      ],
      hint: "An account stands under a heading; a heading may stand at the top.",
    },
    { key: "monetary", label: "Monetary: cash or a claim to a fixed sum", kind: "check" },
    { key: "currency", label: "Takes this currency only", kind: "text", placeholder: "any" },
    { key: "blocked", label: "Blocked: takes no more postings", kind: "check" },
    {
      key: "companies",
      label: "Used only by",
      kind: "checks",
      options: work.companies.map((c) => ({ value: c.code, text: c.code })),
      hint: "None ticked: every company.",
    },
    ...dimensions.map((d): RecordField => ({
      key: `rule.${d.code}`,
      label: d.name,
      kind: "select",
      options: ["required", "allowed", "forbidden"].map((r) => ({ value: r, text: r })),
    })),
  ];
  const accountInput = (v: RecordValues) => ({
    ...v,
    control: v.control || null,
    rules: Object.fromEntries(dimensions.map((d) => [d.code, v[`rule.${d.code}`]])),
  });
  return (
    <RecordPage
      title="Chart of accounts"
      note="one chart for the group"
      name="accounts"
      rows={rows}
      columns={columns}
      rowKey={(a) => a.number}
      fields={fields}
      mayChange={mayChange}
      add="Add an account or heading"
      empty={
        <Empty title="The chart is empty">
          Add headings and accounts one by one, or load all of them from a file: number, name, type
          (heading, {ACCOUNT_TYPES.join(", ")}), heading, and where wanted control, monetary,
          blocked, companies, currency and a column for each dimension.
        </Empty>
      }
      actions={
        <>
          {mayChange && (
            <FileLoad label="Load" what="headings and accounts" load={sendTable("chart")} />
          )}
          <ExportMenu path="/export/chart" formats={["csv", "xlsx"]} more={{}} />
        </>
      }
      aside={(a) =>
        a.account && (
          <Link className="link" href={work.link(`/ledger/accounts/${a.number}`)}>
            What is in this account
          </Link>
        )
      }
      shows={(v) =>
        v.type === HEADING ? ["number", "name", "type", "heading"] : fields.map((f) => f.key)
      }
      remove={(a) =>
        a.account
          ? saveRecordAction("accountGone", { number: a.number })
          : saveRecordAction("headingGone", { code: a.number })
      }
      toValues={(a) => ({
        number: a?.number ?? "",
        name: a?.name ?? "",
        type: a?.type ?? (headings.length > 0 ? "expense" : HEADING),
        control: a?.account?.control ?? "",
        heading: a?.heading ?? "",
        monetary: a?.account?.monetary ?? false,
        blocked: a?.account?.blocked ?? false,
        currency: a?.account?.currency ?? "",
        companies: [...(a?.account?.usedBy ?? [])],
        ...Object.fromEntries(dimensions.map((d) => [`rule.${d.code}`, rule(a?.account, d.code)])),
      })}
      check={(v) =>
        v.type === HEADING
          ? faultsOf(headingSchema, headingInput(v)).map((f) =>
              f.field === "code" ? { ...f, field: "number" } : f,
            )
          : faultsOf(accountSchema, accountInput(v))
      }
      save={(v) =>
        v.type === HEADING
          ? saveRecordAction("heading", headingInput(v))
          : saveRecordAction("account", accountInput(v))
      }
    />
  );
}
