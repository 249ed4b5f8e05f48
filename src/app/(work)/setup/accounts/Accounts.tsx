"use client";
import { useMemo } from "react";
import { ACCOUNT_TYPES, CONTROL_KINDS, type Account, type Heading } from "@/core/ledger";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage, type RecordField } from "@/ui/RecordPage";
import { Status } from "@/ui/Status";
import type { TableColumn } from "@/ui/table/DataTable";
import Link from "next/link";
import { FileLoad } from "@/ui/FileLoad";
import { ExportMenu } from "../../statements/[code]/StatementActions";
import { loadChartAction } from "./actions";
import { saveRecordAction } from "../actions";

interface Row extends Account {
  heading: string;
  headingName: string;
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
  const rows = useMemo(
    () =>
      accounts.map((a): Row => {
        const h = headings.find((x) => x.id === a.headingId);
        return { ...a, heading: h?.code ?? "", headingName: h?.name ?? "" };
      }),
    [accounts, headings],
  );
  const ids = useMemo(() => new Map(work.dimensions.map((d) => [d.code, d.id])), [work.dimensions]);
  const rule = (a: Row | null, code: string): string =>
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
      { key: "name", header: "Name", value: (a) => a.name },
      { key: "type", header: "Type", width: 100, value: (a) => a.type },
      { key: "control", header: "Control", width: 120, value: (a) => a.control ?? "" },
      { key: "monetary", header: "Monetary", width: 90, value: (a) => (a.monetary ? "yes" : "no") },
      {
        key: "heading",
        header: "Heading",
        width: 230,
        value: (a) => `${a.heading} ${a.headingName}`,
      },
      {
        key: "blocked",
        header: "State",
        width: 100,
        value: (a) => (a.blocked ? "blocked" : "active"),
        cell: (a) => <Status of={a.blocked ? "blocked" : "active"} quiet />,
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
      options: ACCOUNT_TYPES.map((t) => ({ value: t, text: t })),
    },
    {
      key: "control",
      label: "Control kind",
      kind: "select",
      options: [{ value: "", text: "none" }, ...CONTROL_KINDS.map((k) => ({ value: k, text: k }))],
    },
    {
      key: "heading",
      label: "Heading",
      kind: "select",
      options: headings.map((h) => ({ value: h.code, text: `${h.code} ${h.name}` })),
    },
    { key: "monetary", label: "Monetary: cash or a claim to a fixed sum", kind: "check" },
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
      add="Add an account"
      empty={
        <Empty title="The chart is empty">Add accounts one by one, or load them from a file.</Empty>
      }
      actions={
        <>
          {mayChange && <FileLoad label="Load" what="accounts" load={loadChartAction} />}
          <ExportMenu path="/export/chart" formats={["csv", "xlsx"]} more={{}} />
        </>
      }
      aside={(a) => (
        <Link className="link" href={work.link(`/ledger/accounts/${a.number}`)}>
          What is in this account
        </Link>
      )}
      toValues={(a) => ({
        number: a?.number ?? "",
        name: a?.name ?? "",
        type: a?.type ?? "expense",
        control: a?.control ?? "",
        heading: a?.heading ?? headings[0]?.code ?? "",
        monetary: a?.monetary ?? false,
        blocked: a?.blocked ?? false,
        companies: [...(a?.usedBy ?? [])],
        ...Object.fromEntries(dimensions.map((d) => [`rule.${d.code}`, rule(a, d.code)])),
      })}
      save={(v) =>
        saveRecordAction("account", {
          ...v,
          control: v.control || null,
          rules: Object.fromEntries(dimensions.map((d) => [d.code, v[`rule.${d.code}`]])),
        })
      }
    />
  );
}
