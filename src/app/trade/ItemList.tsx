"use client";
import { CURRENCIES } from "@/core/shared";
import { ITEM_KINDS, priceText, type ItemSide, type TradeItem } from "@/core/trade";
import type { Answer } from "@/app/lib/answer";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { shownFigures } from "@/ui/writing";

const SAYS: Readonly<
  Record<ItemSide, { title: string; note: string; name: string; none: string }>
> = {
  bought: {
    title: "Purchase items",
    note: "what they propose on an order line",
    name: "purchase-items",
    none: "Order lines can be written without items; an item saves the coding, tax and price.",
  },
  sold: {
    title: "Sale items",
    note: "what they propose on an invoice line",
    name: "sale-items",
    none: "Invoice lines can be written without items; an item saves the coding, tax and price.",
  },
};

/** What is bought or sold again and again, with what it proposes on a line. */
export function ItemList({
  side,
  rows,
  mayChange,
  save,
}: {
  side: ItemSide;
  rows: TradeItem[];
  mayChange: boolean;
  save: (item: unknown) => Promise<Answer<object>>;
}) {
  const work = useWork();
  const { title, note, name, none } = SAYS[side];
  return (
    <RecordPage<TradeItem>
      title={title}
      note={note}
      name={name}
      rows={rows}
      rowKey={(r) => r.code}
      mayChange={mayChange}
      add="Add an item"
      empty={<Empty title="No item yet">{none}</Empty>}
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
          cell: (r) => shownFigures(priceText(r.price, r.currency)),
        },
        { key: "currency", header: "Currency", width: 84, value: (r) => r.currency },
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
        {
          key: "group",
          label: "Group",
          kind: "text",
          ...(side === "bought" ? { hint: "Tolerances can be set for a group." } : {}),
        },
        { key: "unit", label: "Unit", kind: "text" },
        { key: "account", label: "Account", kind: "text" },
        ...work.dimensions.map((d) => ({
          key: `d.${d.code}`,
          label: d.name,
          kind: "text" as const,
        })),
        { key: "taxCode", label: "Tax code", kind: "text" },
        { key: "price", label: "Usual price", kind: "figure", hint: "Of one unit, without tax." },
        {
          key: "currency",
          label: "Currency of the price",
          kind: "select",
          options: [
            { value: "", text: "The company’s own" },
            ...CURRENCIES.map((c) => ({ value: c, text: c })),
          ],
        },
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
        price: r ? priceText(r.price, r.currency) : "",
        currency: r?.currency ?? "",
        blocked: r?.blocked ?? false,
      })}
      save={(v) =>
        save({
          ...v,
          dimensions: Object.fromEntries(
            work.dimensions.flatMap((d) => (v[`d.${d.code}`] ? [[d.code, v[`d.${d.code}`]]] : [])),
          ),
        })
      }
    />
  );
}
