"use client";
import { EMPTY_RULE, RETIREMENT_KINDS, writtenRule } from "@/core/assets";
import type { AssetView } from "@/server/assets";
import { FieldForm } from "@/app/lib/FieldForm";
import { useRunForm } from "@/app/lib/useProposeRun";
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

/** It is gone, or a share of it: what that does to the books is previewed before it is posted. */
export function RetirePanel({ asset, close }: Props) {
  const { today } = useWork();
  const { propose, open } = useRunForm("retirement");
  return (
    <SidePanel title="Retire" onClose={close}>
      <p className="text-ink-2">
        It is depreciated until that day. What was got for it is what its invoice has booked; the
        rest is its gain or loss.
      </p>
      <FieldForm
        name="retire"
        className="border-0! p-0!"
        fields={[
          { key: "date", label: "On", kind: "date", required: true },
          {
            key: "why",
            label: "Why",
            kind: "select",
            options: RETIREMENT_KINDS.map((k) => ({ value: k, text: k })),
          },
          {
            key: "share",
            label: "How much of it",
            kind: "text",
            required: true,
            placeholder: "all, 1/2 or 40 %",
          },
          { key: "proceeds", label: "Got for it, without tax", kind: "figure" },
          { key: "account", label: "Booked by its invoice on", kind: "text" },
        ]}
        shows={(v) => [
          "date",
          "why",
          "share",
          ...(v.why === "sold" || v.why === "exchanged" ? ["proceeds", "account"] : []),
        ]}
        start={{ date: today, why: "sold", share: "all", proceeds: "", account: "" }}
        button="Preview it"
        main
        job={({ date, why, share, proceeds, account }) => {
          const got = why === "sold" || why === "exchanged" ? { proceeds, account } : {};
          return propose({ date, why, assets: [{ number: asset.number, share, ...got }] });
        }}
        then={open}
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
