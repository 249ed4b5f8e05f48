"use client";
import { useRouter } from "next/navigation";
import { toast } from "sonner";
import { ROLES } from "@/core/access";
import { approvalRuleSchema, type ApprovalRule } from "@/core/ledger";
import { amountText, CURRENCIES } from "@/core/shared";
import { faultsOf, type RecordValues } from "@/ui/form";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveRecordAction } from "../actions";
import { shownAmount } from "@/ui/writing";

const inputOf = (v: RecordValues, r: ApprovalRule | null) => ({
  ...v,
  ...(r ? { id: r.id } : {}),
  type: v.type || null,
  company: v.company || null,
  accountFrom: v.accountFrom || null,
  accountTo: v.accountTo || null,
});

/** When a journal needs a second person, and whose. The first rule that holds decides. */
export function ApprovalRules({
  rows,
  types,
  companies,
  mayChange,
}: {
  rows: ApprovalRule[];
  types: { code: string; name: string }[];
  companies: { code: string; name: string }[];
  mayChange: boolean;
}) {
  const router = useRouter();
  const any = (text: string) => ({ value: "", text });
  const remove = async (rule: ApprovalRule) => {
    const result = await saveRecordAction("approvalGone", { id: rule.id }).catch(() => null);
    if (!result?.ok)
      return void toast.error(result?.message ?? "The server did not answer. Try again.");
    toast.success("The rule is gone.");
    router.refresh();
  };
  return (
    <RecordPage<ApprovalRule>
      title="Approval"
      note="the first rule that holds decides; nobody approves what they prepared"
      name="approval"
      rows={rows}
      rowKey={(r) => String(r.id)}
      mayChange={mayChange}
      add="Add a rule"
      empty={<Empty title="No rule yet">Without one, whoever may post a journal posts it.</Empty>}
      columns={[
        { key: "type", header: "Type", width: 140, value: (r) => r.type ?? "any" },
        { key: "company", header: "Company", width: 120, value: (r) => r.company ?? "any" },
        {
          key: "accounts",
          header: "Accounts",
          value: (r) =>
            r.accountFrom || r.accountTo ? `${r.accountFrom ?? ""} to ${r.accountTo ?? ""}` : "any",
        },
        {
          key: "minimum",
          header: "From amount",
          width: 170,
          align: "right",
          value: (r) => r.minimum,
          cell: (r) => `${shownAmount(r.minimum, r.currency)} ${r.currency}`,
        },
        { key: "role", header: "Approved by", width: 150, value: (r) => r.role },
      ]}
      fields={[
        {
          key: "type",
          label: "Type",
          kind: "select",
          options: [any("any"), ...types.map((t) => ({ value: t.code, text: t.name }))],
        },
        {
          key: "company",
          label: "Company",
          kind: "select",
          options: [any("any"), ...companies.map((c) => ({ value: c.code, text: c.name }))],
        },
        { key: "accountFrom", label: "Accounts from", kind: "text" },
        { key: "accountTo", label: "to", kind: "text" },
        { key: "minimum", label: "From an amount of", kind: "figure", placeholder: "50,000.00" },
        {
          key: "currency",
          label: "in",
          kind: "select",
          options: CURRENCIES.map((c) => ({ value: c, text: c })),
        },
        {
          key: "role",
          label: "Approved by a",
          kind: "select",
          options: ROLES.map((r) => ({ value: r, text: r })),
        },
      ]}
      toValues={(r) => ({
        type: r?.type ?? "",
        company: r?.company ?? "",
        accountFrom: r?.accountFrom ?? "",
        accountTo: r?.accountTo ?? "",
        minimum: r ? amountText(r.minimum, r.currency) : "",
        currency: r?.currency ?? "EUR",
        role: r?.role ?? "controller",
      })}
      check={(v, r) => faultsOf(approvalRuleSchema, inputOf(v, r))}
      save={(v, r) => saveRecordAction("approvalRule", inputOf(v, r))}
      aside={(r) =>
        mayChange && (
          <button type="button" className="button button-plain" onClick={() => void remove(r)}>
            Delete rule
          </button>
        )
      }
    />
  );
}
