"use client";
import { discountsText, instalmentsText, readTermsText } from "@/core/openItems";
import type { TermsRow } from "@/server/partners";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveTermsAction } from "@/app/partners/actions";

export function TermsList({ rows, mayChange }: { rows: TermsRow[]; mayChange: boolean }) {
  return (
    <RecordPage<TermsRow>
      title="Terms of payment"
      note="when invoices are due, and what paying early earns"
      name="terms"
      rows={rows}
      rowKey={(t) => t.code}
      mayChange={mayChange}
      add="Add terms"
      empty={<Empty title="No terms yet" />}
      columns={[
        { key: "code", header: "Code", width: 120, value: (t) => t.code },
        { key: "name", header: "Name", value: (t) => t.name },
        { key: "instalments", header: "Instalments", value: (t) => instalmentsText(t.terms) },
        { key: "discounts", header: "Discounts", width: 200, value: (t) => discountsText(t.terms) },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "instalments",
          label: "Instalments",
          kind: "figure",
          required: true,
          placeholder: "100 % 30 days",
          hint: "Several with semicolons: 50 % 10 days; 50 % 40 days from end of month. Equal parts: 1 part 30 days; 1 part 60 days. Also “then end of month”, “on day 15”; “90 % on delivery; 10 % 0 days from delivery, 12 months on” (a supplier’s invoice counts from its own date).",
        },
        { key: "discounts", label: "Discounts", kind: "figure", placeholder: "2 % 10 days" },
      ]}
      toValues={(t) => ({
        code: t?.code ?? "",
        name: t?.name ?? "",
        instalments: t ? instalmentsText(t.terms) : "100 % 30 days",
        discounts: t ? discountsText(t.terms) : "",
      })}
      save={async (v) => {
        const instalments = readTermsText(String(v.instalments));
        const result = await saveTermsAction({
          code: v.code,
          name: v.name,
          terms: {
            by: instalments.by,
            instalments: instalments.parts,
            discounts: readTermsText(String(v.discounts)).parts,
          },
        });
        return result.ok
          ? result
          : {
              ...result,
              problems: result.problems.map((p) => ({
                ...p,
                field: p.field?.startsWith("terms.discounts")
                  ? "discounts"
                  : p.field?.startsWith("terms")
                    ? "instalments"
                    : p.field,
              })),
            };
      }}
    />
  );
}
