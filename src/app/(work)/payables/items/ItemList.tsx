"use client";
import { ITEM_KINDS, type PurchaseItem } from "@/core/purchasing";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { savePurchaseItemAction } from "../orders/actions";
import { shownFigures } from "@/ui/writing";

/** What is bought again and again, with what it proposes on an order line. */
export function ItemList({ rows, mayChange }: { rows: PurchaseItem[]; mayChange: boolean }) {
  const work = useWork();
  return (
    <RecordPage<PurchaseItem>
      title="Purchase items"
      note="what they propose on an order line"
      name="purchase-items"
      rows={rows}
      rowKey={(r) => r.code}
      mayChange={mayChange}
      add="Add an item"
      empty={
        <Empty title="No item yet">
          Order lines can be written without items; an item saves the coding, tax and price.
        </Empty>
      }
      columns={[
        {
          key: "code",
          header: "Code",
          width: 120,
          value: (r) => r.code,
          cell: (r) => <b className="font-semibold">{r.code}</b>,
        },
        { key: "name", header: "Name", value: (r) => r.name },
        { key: "kind", header: "Kind", width: 80, value: (r) => r.kind },
        { key: "group", header: "Group", width: 110, value: (r) => r.group },
        { key: "unit", header: "Unit", width: 64, value: (r) => r.unit },
        { key: "account", header: "Account", width: 84, value: (r) => r.account },
        {
          key: "coding",
          header: "Coding",
          width: 120,
          value: (r) => Object.values(r.dimensions).filter(Boolean).join(" · "),
        },
        { key: "tax", header: "Tax", width: 70, value: (r) => r.taxCode },
        {
          key: "price",
          header: "Price",
          width: 90,
          align: "right",
          value: (r) => r.price,
          cell: (r) => shownFigures(r.price),
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", required: true, fixed: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "kind",
          label: "Kind",
          kind: "select",
          options: ITEM_KINDS.map((k) => ({ value: k, text: k })),
        },
        { key: "group", label: "Group", kind: "text", hint: "Tolerances can be set for a group." },
        { key: "unit", label: "Unit", kind: "text" },
        { key: "account", label: "Account", kind: "text" },
        ...work.dimensions.map((d) => ({
          key: `d.${d.code}`,
          label: d.name,
          kind: "text" as const,
        })),
        { key: "taxCode", label: "Tax code", kind: "text" },
        { key: "price", label: "Usual price", kind: "figure" },
        { key: "blocked", label: "Blocked", kind: "check" },
      ]}
      toValues={(r) => ({
        code: r?.code ?? "",
        name: r?.name ?? "",
        kind: r?.kind ?? "goods",
        group: r?.group ?? "",
        unit: r?.unit ?? "",
        account: r?.account ?? "",
        ...Object.fromEntries(
          work.dimensions.map((d) => [`d.${d.code}`, r?.dimensions[d.code] ?? ""]),
        ),
        taxCode: r?.taxCode ?? "",
        price: r?.price ?? "",
        blocked: r?.blocked ?? false,
      })}
      save={(v) =>
        savePurchaseItemAction({
          ...v,
          dimensions: Object.fromEntries(
            work.dimensions.flatMap((d) => (v[`d.${d.code}`] ? [[d.code, v[`d.${d.code}`]]] : [])),
          ),
        })
      }
    />
  );
}
