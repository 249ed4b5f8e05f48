"use client";
import { priceIndexSchema, type PriceIndex } from "@/core/receivables";
import { dateText, readDate } from "@/core/shared";
import { faultsOf, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty } from "@/ui/Page";
import { RecordPage } from "@/ui/RecordPage";
import { shownDate, shownFigures } from "@/ui/writing";
import { savePriceIndexAction } from "../agreements/actions";

/** Values as people write them: a day and what the index stands at from it on, a line each. */
const linesOf = (values: PriceIndex["values"]): string =>
  values.map((v) => `${dateText(v.from!)}: ${v.value}`).join("\n");

/** Indices of prices that agreements follow, with what each stands at. */
export function IndicesPage({ rows, mayChange }: { rows: PriceIndex[]; mayChange: boolean }) {
  const { today } = useWork();
  const indexOf = (v: RecordValues) => ({
    code: String(v.code),
    name: String(v.name),
    values: String(v.values)
      .split("\n")
      .filter((l) => l.trim() !== "")
      .map((l) => {
        const [day = "", value = ""] = l.split(":").map((p) => p.trim());
        return { from: readDate(day, today) ?? day, value };
      }),
  });
  return (
    <RecordPage<PriceIndex>
      title="Price indices"
      note="that the prices of agreements follow"
      name="priceIndices"
      rows={rows}
      rowKey={(r) => r.code}
      mayChange={mayChange}
      add="Add an index"
      empty={
        <Empty title="No index yet">
          Enter one with its values as they are published; agreements name it in their clause.
        </Empty>
      }
      columns={[
        { key: "code", header: "Code", width: 120, value: (r) => r.code },
        { key: "name", header: "Name", value: (r) => r.name },
        {
          key: "value",
          header: "Stands at",
          width: 110,
          align: "right",
          value: (r) => shownFigures(r.values.at(-1)?.value ?? ""),
        },
        {
          key: "since",
          header: "Since",
          width: 120,
          value: (r) => shownDate(r.values.at(-1)?.from ?? ""),
        },
        {
          key: "values",
          header: "Values",
          width: 90,
          align: "right",
          value: (r) => r.values.length,
        },
      ]}
      fields={[
        { key: "code", label: "Code", kind: "text", fixed: true, required: true },
        { key: "name", label: "Name", kind: "text", required: true },
        {
          key: "values",
          label: "Values, a line each",
          kind: "lines",
          wide: true,
          placeholder: "1 Jan 2026: 121.2",
          hint: "The day from which it holds, a colon, the figure.",
        },
      ]}
      toValues={(r) => ({
        code: r?.code ?? "",
        name: r?.name ?? "",
        values: r ? linesOf(r.values) : "",
      })}
      check={(v) =>
        faultsOf(priceIndexSchema, indexOf(v)).map((f) =>
          f.field?.startsWith("values") ? { ...f, field: "values" } : f,
        )
      }
      save={(v) => savePriceIndexAction(indexOf(v))}
    />
  );
}
