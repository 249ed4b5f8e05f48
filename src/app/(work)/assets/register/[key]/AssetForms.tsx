"use client";
import { EMPTY_RULE, writtenRule } from "@/core/assets";
import type { AssetView } from "@/server/assets";
import { FieldForm } from "@/app/lib/FieldForm";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { changeEstimateAction, moveAssetAction, saveAssetAction } from "../../actions";
import { ruleFields, ruleIn, shownOf, valuesOfRule } from "../../ruleFields";

interface Props {
  asset: AssetView;
  close: () => void;
}

/** What is known of it and moves nothing. */
export function FactsPanel({ asset, close }: Props) {
  const { id, version } = asset;
  return (
    <SidePanel title="Change" onClose={close}>
      <FieldForm
        name="asset"
        className="border-0! p-0!"
        fields={[
          { key: "description", label: "Description", kind: "text", required: true },
          { key: "serial", label: "Serial number", kind: "text" },
          { key: "warrantyTo", label: "Warranty to", kind: "date" },
          { key: "insurance", label: "Insurance", kind: "text" },
          { key: "note", label: "Note", kind: "text" },
        ]}
        start={{
          description: asset.description,
          serial: asset.serial,
          warrantyTo: asset.warrantyTo ?? "",
          insurance: asset.insurance,
          note: asset.note,
        }}
        button="Save"
        main
        job={(v) => saveAssetAction({ id, version, ...v })}
        done="Saved."
      />
    </SidePanel>
  );
}

/** Who uses it where, from a day on. */
export function MovePanel({
  asset,
  now,
  close,
}: Props & { now: AssetView["places"][number] | undefined }) {
  const { dimensions, today } = useWork();
  const { id, version } = asset;
  return (
    <SidePanel title="Move" onClose={close}>
      <p className="text-ink-2">
        From that day on it is charged to the new coding; a month with a move is shared by days.
      </p>
      <FieldForm
        name="move"
        className="border-0! p-0!"
        fields={[
          { key: "from", label: "From", kind: "date", required: true },
          { key: "place", label: "Place", kind: "text" },
          { key: "person", label: "Person in charge", kind: "text" },
          ...dimensions.map((d) => ({ key: d.code, label: d.name, kind: "text" as const })),
        ]}
        start={{
          from: today,
          place: now?.place ?? "",
          person: now?.person ?? "",
          ...Object.fromEntries(dimensions.map((d) => [d.code, now?.dimensions[d.code] ?? ""])),
        }}
        button="Move it"
        main
        job={({ from, place, person, ...coding }) =>
          moveAssetAction({ id, version, from, place, person, dimensions: coding })
        }
        done="Moved."
      />
    </SidePanel>
  );
}

/** Another estimate of its life, its residual value or its method, which goes forward. */
export function EstimatePanel({ asset, close }: Props) {
  const { books, today } = useWork();
  const { id, version } = asset;
  return (
    <SidePanel title="Estimate anew" onClose={close}>
      <p className="text-ink-2">
        What is left on that day is charged by the new rule; what was charged stays (IAS 8). The
        life is counted from the day of first use.
      </p>
      <FieldForm
        name="estimate"
        className="border-0! p-0!"
        fields={[
          { key: "from", label: "From", kind: "date", required: true },
          {
            key: "book",
            label: "Holds for",
            kind: "select",
            options: [
              { value: "", text: "all books without a rule of their own" },
              ...books.filter((b) => !b.ended).map((b) => ({ value: b.code, text: b.code })),
            ],
          },
          ...ruleFields("rule", "they"),
          { key: "reason", label: "Why", kind: "text", required: true },
        ]}
        shows={(v) => ["from", "book", "reason", ...shownOf("rule", v)]}
        start={{
          from: today,
          book: "",
          reason: "",
          ...valuesOfRule("rule", writtenRule({ ...EMPTY_RULE, life: 60 })),
        }}
        button="Estimate anew"
        main
        job={(v) =>
          changeEstimateAction({
            id,
            version,
            from: v.from,
            book: v.book,
            reason: v.reason,
            rule: ruleIn("rule", v),
          })
        }
        done="Estimated anew."
      />
    </SidePanel>
  );
}
