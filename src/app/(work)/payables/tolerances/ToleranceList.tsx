"use client";
import { quantityText } from "@/core/ledger";
import { decimalText, minor } from "@/core/shared";
import type { ToleranceRow } from "@/server/purchasing";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { saveToleranceAction } from "../orders/actions";
import { shownAmount, shownQuantity } from "@/ui/writing";

/**
 * How far invoices may differ from orders, and receipts go beyond them, before somebody has to
 * look.
 */
export function ToleranceList({ rows, mayChange }: { rows: ToleranceRow[]; mayChange: boolean }) {
  return (
    <RecordPage<ToleranceRow>
      title="Matching tolerances"
      note="the closest holds: supplier and group, supplier, group, all"
      name="tolerances"
      rows={rows}
      rowKey={(r) => `${r.supplier}|${r.itemGroup}`}
      mayChange={mayChange}
      add="Add a tolerance"
      empty={
        <Empty title="No tolerance yet">
          Every difference to an order holds its invoice until somebody lets it pass.
        </Empty>
      }
      columns={[
        { key: "supplier", header: "Supplier", value: (r) => r.supplier || "all" },
        { key: "group", header: "Group of items", value: (r) => r.itemGroup || "all" },
        {
          key: "price",
          header: "Price tolerance, %",
          width: 148,
          align: "right",
          value: (r) => r.pricePercent ?? "",
        },
        {
          key: "amount",
          header: "Maximum amount",
          width: 120,
          align: "right",
          value: (r) => (r.priceAmount === null ? "" : shownAmount(minor(r.priceAmount), "EUR")),
        },
        {
          key: "quantity",
          header: "Quantity tolerance, %",
          width: 169,
          align: "right",
          value: (r) => r.quantityPercent ?? "",
        },
        {
          key: "quantityAmount",
          header: "Maximum units",
          width: 113,
          align: "right",
          value: (r) => (r.quantityAmount === null ? "" : shownQuantity(r.quantityAmount)),
        },
        {
          key: "receipt",
          header: "Over-delivery, %",
          width: 134,
          align: "right",
          value: (r) => r.receiptPercent,
        },
      ]}
      fields={[
        { key: "supplier", label: "Supplier", kind: "text", fixed: true, placeholder: "all" },
        {
          key: "itemGroup",
          label: "Group of items",
          kind: "text",
          fixed: true,
          placeholder: "all",
        },
        { key: "pricePercent", label: "Price may differ by per cent", kind: "figure" },
        { key: "priceAmount", label: "and by no more than", kind: "figure" },
        { key: "quantityPercent", label: "Quantity may be beyond by per cent", kind: "figure" },
        { key: "quantityAmount", label: "and by no more than units", kind: "figure" },
        {
          key: "receiptPercent",
          label: "Goods received may be beyond the order by per cent",
          kind: "figure",
        },
        { key: "remove", label: "Remove it", kind: "check" },
      ]}
      toValues={(r) => ({
        supplier: r?.supplier ?? "",
        itemGroup: r?.itemGroup ?? "",
        pricePercent: r?.pricePercent ?? "",
        priceAmount: r?.priceAmount != null ? decimalText(minor(r.priceAmount), "EUR") : "",
        quantityPercent: r?.quantityPercent ?? "",
        quantityAmount: r?.quantityAmount != null ? quantityText(r.quantityAmount) : "",
        receiptPercent: r?.receiptPercent ?? "0",
        remove: false,
      })}
      save={(v) => saveToleranceAction(v)}
    />
  );
}
