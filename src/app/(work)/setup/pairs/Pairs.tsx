"use client";
import type { CompanyPair } from "@/core/ledger";
import { pairSchema } from "@/core/organisation";
import { faultsOf } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

/** Companies that trade inside the group, with the accounts of each side. */
export function Pairs({
  rows,
  companies,
  mayChange,
}: {
  rows: CompanyPair[];
  companies: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const options = companies.map((c) => ({ value: c.code, text: c.name }));
  return (
    <RecordPage<CompanyPair>
      title="Intercompany set-up"
      note="inside the group"
      name="pairs"
      rows={rows}
      rowKey={(p) => `${p.first} ${p.second}`}
      mayChange={mayChange}
      add="Add a pair"
      empty={
        <Empty title="No pair yet">
          A journal whose lines name two companies needs their accounts due from and due to each
          other.
        </Empty>
      }
      columns={[
        { key: "first", header: "Company", width: 100, value: (p) => p.first },
        { key: "firstDueFrom", header: "Due from", value: (p) => p.firstDueFrom },
        { key: "firstDueTo", header: "Due to", value: (p) => p.firstDueTo },
        { key: "second", header: "Partner", width: 100, value: (p) => p.second },
        { key: "secondDueFrom", header: "Counterparty: due from", value: (p) => p.secondDueFrom },
        { key: "secondDueTo", header: "Counterparty: due to", value: (p) => p.secondDueTo },
        { key: "type", header: "Journal type", value: (p) => p.type },
      ]}
      fields={[
        { key: "first", label: "Company", kind: "select", options },
        {
          key: "firstDueFrom",
          label: "Its account due from the partner",
          kind: "text",
          required: true,
        },
        {
          key: "firstDueTo",
          label: "Its account due to the partner",
          kind: "text",
          required: true,
        },
        { key: "second", label: "Partner", kind: "select", options },
        {
          key: "secondDueFrom",
          label: "The partner's account due from the company",
          kind: "text",
          required: true,
        },
        {
          key: "secondDueTo",
          label: "The partner's account due to the company",
          kind: "text",
          required: true,
        },
        {
          key: "type",
          label: "Type of the journal on the other side",
          kind: "text",
          hint: "group, unless another type is meant",
        },
      ]}
      toValues={(p) => ({
        first: p?.first ?? companies[0]?.code ?? "",
        second: p?.second ?? companies[1]?.code ?? "",
        firstDueFrom: p?.firstDueFrom ?? "1340",
        firstDueTo: p?.firstDueTo ?? "2150",
        secondDueFrom: p?.secondDueFrom ?? "1340",
        secondDueTo: p?.secondDueTo ?? "2150",
        type: p?.type ?? "group",
      })}
      check={(v) => faultsOf(pairSchema, v)}
      save={(v) => saveRecordAction("pair", v)}
    />
  );
}
