"use client";
import type { Terms } from "@/core/openItems";
import type { TermsRow } from "@/server/partners";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveTermsAction } from "@/app/partners/actions";

/** "33.33 % 10 days; 66.67 % 40 days end of month": an instalment a part. */
const instalmentsText = (terms: Terms): string =>
  terms.instalments
    .map(
      (i) =>
        `${i.percent} % ${i.days} days${i.endOfMonth ? " end of month" : ""}${i.months ? ` ${i.months} months` : ""}`,
    )
    .join("; ");
const discountsText = (terms: Terms): string =>
  terms.discounts.map((d) => `${d.percent} % ${d.days} days`).join("; ");

/**
 * Reads what stands in a field of the form. A part that is not understood goes to the check as it
 * is, which refuses it.
 */
function read(text: string) {
  return text
    .split(";")
    .map((p) => p.trim())
    .filter(Boolean)
    .map((part) => {
      const [, percent = part, days = "", rest = ""] =
        /^([\d.]+)\s*%\s*(\d+)\s*days?(.*)$/i.exec(part) ?? [];
      return {
        percent,
        days: Number(days),
        endOfMonth: /end of month/i.test(rest),
        months: Number(/(\d+)\s*months?/i.exec(rest)?.[1] ?? 0),
      };
    });
}

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
        { key: "instalments", header: "Due", value: (t) => instalmentsText(t.terms) },
        { key: "discounts", header: "Discounts", width: 200, value: (t) => discountsText(t.terms) },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "instalments",
          label: "Instalments",
          kind: "text",
          required: true,
          placeholder: "100 % 30 days",
          hint: "Several with semicolons: 50 % 10 days; 50 % 40 days. “end of month” counts from there.",
        },
        { key: "discounts", label: "Discounts", kind: "text", placeholder: "2 % 10 days" },
      ]}
      toValues={(t) => ({
        code: t?.code ?? "",
        name: t?.name ?? "",
        instalments: t ? instalmentsText(t.terms) : "100 % 30 days",
        discounts: t ? discountsText(t.terms) : "",
      })}
      save={async (v) => {
        const result = await saveTermsAction({
          code: v.code,
          name: v.name,
          terms: {
            instalments: read(String(v.instalments)),
            discounts: read(String(v.discounts)).map(({ percent, days }) => ({ percent, days })),
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
