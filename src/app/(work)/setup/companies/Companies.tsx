"use client";
import { companySchema, type CompanyDetails } from "@/core/organisation";
import { currencyOptions, faultsOf } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";

export function Companies({ rows, mayChange }: { rows: CompanyDetails[]; mayChange: boolean }) {
  return (
    <RecordPage
      title="Companies"
      note="of the group"
      name="companies"
      rows={rows}
      rowKey={(c) => c.code}
      mayChange={mayChange}
      add="Add a company"
      empty={<Empty title="No company yet">The first one is where the books begin.</Empty>}
      columns={[
        { key: "code", header: "Code", width: 90, value: (c) => c.code },
        { key: "name", header: "Name", value: (c) => c.name },
        { key: "currency", header: "Functional currency", width: 170, value: (c) => c.currency },
        { key: "country", header: "Country", width: 100, value: (c) => c.country },
      ]}
      fields={[
        {
          key: "code",
          label: "Code",
          kind: "text",
          required: true,
          fixed: true,
          hint: "Stands in every journal number; up to six capitals.",
        },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "currency",
          label: "Functional currency",
          kind: "select",
          options: currencyOptions(rows.map((c) => c.currency)),
          hint: "Stays once something is posted.",
        },
        { key: "country", label: "Country, two letters", kind: "text", required: true },
        {
          key: "street",
          label: "Street",
          kind: "text",
          hint: "In files for the bank.",
        },
        { key: "postcode", label: "Postcode", kind: "text" },
        { key: "city", label: "Town", kind: "text" },
        {
          key: "taxNumber",
          label: "Tax number",
          kind: "text",
          hint: "By it an invoice is known to be ours.",
        },
        { key: "lei", label: "Legal entity identifier", kind: "text" },
        {
          key: "creditorId",
          label: "Creditor identifier",
          kind: "text",
          hint: "Needed for direct debits; the central bank gives it.",
        },
      ]}
      toValues={(c) => ({
        code: c?.code ?? "",
        name: c?.name ?? "",
        currency: c?.currency ?? "EUR",
        country: c?.country ?? "",
        street: c?.street ?? "",
        postcode: c?.postcode ?? "",
        city: c?.city ?? "",
        taxNumber: c?.taxNumber ?? "",
        lei: c?.lei ?? "",
        creditorId: c?.creditorId ?? "",
      })}
      check={(values) => faultsOf(companySchema, values)}
      save={(values) => saveRecordAction("company", values)}
    />
  );
}
