"use client";
import { LATE_DISCOUNT_NAMES, LATE_DISCOUNTS, paymentToleranceSchema } from "@/core/openItems";
import type { GroupTolerance } from "@/server/partners";
import { faultsOf, type RecordValues } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { shownFigures } from "@/ui/writing";
import { savePaymentToleranceAction } from "./actions";

const toleranceOf = (v: RecordValues) =>
  v.own === true || v.code === ""
    ? { late: v.late, lateDays: String(v.lateDays), small: String(v.small || "0") }
    : null;

/** What is let pass when customers of a group pay late or a little too little. */
export function TolerancesPage({
  groups,
  currency,
  mayChange,
}: {
  groups: GroupTolerance[];
  currency: string;
  mayChange: boolean;
}) {
  return (
    <RecordPage<GroupTolerance>
      title="Payment tolerances"
      note="by group of customers"
      name="paymentTolerances"
      rows={groups}
      rowKey={(g) => g.code}
      mayChange={mayChange}
      add={null}
      empty={<Empty title="No group yet">Groups of customers are added with their score.</Empty>}
      columns={[
        { key: "name", header: "Group", value: (g) => g.name },
        {
          key: "own",
          header: "Its own",
          width: 90,
          value: (g) => (g.own || g.code === "" ? "yes" : "as others"),
        },
        {
          key: "late",
          header: "A discount after its date",
          width: 230,
          value: (g) => LATE_DISCOUNT_NAMES[g.rule.late],
        },
        {
          key: "days",
          header: "Within days",
          width: 100,
          align: "right",
          value: (g) => g.rule.lateDays,
        },
        {
          key: "small",
          header: `Let go up to, ${currency}`,
          width: 150,
          align: "right",
          value: (g) => shownFigures(g.rule.small),
        },
      ]}
      fields={[
        { key: "name", label: "Group", kind: "text", fixed: true },
        { key: "own", label: "This group has its own", kind: "check" },
        {
          key: "late",
          label: "A discount taken after its date",
          kind: "select",
          options: LATE_DISCOUNTS.map((l) => ({ value: l, text: LATE_DISCOUNT_NAMES[l] })),
        },
        { key: "lateDays", label: "Within so many days after it", kind: "figure" },
        {
          key: "small",
          label: `What may be missing, ${currency}`,
          kind: "figure",
          hint: "Proposed to be written off, within the limit of whoever records the money.",
        },
      ]}
      shows={(v) =>
        v.code === ""
          ? ["name", "late", "lateDays", "small"]
          : v.own === true
            ? ["name", "own", "late", "lateDays", "small"]
            : ["name", "own"]
      }
      toValues={(g) => ({
        code: g?.code ?? "",
        name: g?.name ?? "",
        own: g?.own ?? false,
        late: g?.rule.late ?? "ask",
        lateDays: String(g?.rule.lateDays ?? 0),
        small: g?.rule.small ?? "0",
      })}
      check={(v) => {
        const tolerance = toleranceOf(v);
        return tolerance ? faultsOf(paymentToleranceSchema, tolerance) : [];
      }}
      save={(v) => savePaymentToleranceAction({ code: String(v.code), tolerance: toleranceOf(v) })}
    />
  );
}
