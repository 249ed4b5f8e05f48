"use client";
import { DISPUTE_OUTCOMES, DISPUTE_REASONS, disputeSchema } from "@/core/receivables";
import { readDate } from "@/core/shared";
import type { DeskItem } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultsOf, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { shownAmount } from "@/ui/writing";
import { useFirstField } from "@/ui/useFirstField";
import { closeDisputeAction, openDisputeAction } from "./actions";

const OUTCOMES = {
  credited: "credited",
  upheld: "stands as invoiced",
  part: "credited in part",
} as const;

/** A dispute about an item, or what came of the one that there is. */
export function DisputeForm({
  items,
  item,
  onClose,
}: {
  items: readonly DeskItem[];
  item: DeskItem | undefined;
  onClose: () => void;
}) {
  const work = useWork();
  useFirstField("dispute-item", "outcome-outcome");
  const owed = items.filter((i) => i.left > 0n);
  const start = item ?? owed[0];
  const again = () => {
    onClose();
    work.go({}, { replace: true });
  };
  if (!start) return <p className="notice m-3">Nothing is open that could be disputed.</p>;
  if (start.dispute)
    return (
      <FieldForm
        key={`close ${start.dispute.id}`}
        name="outcome"
        title={`Dispute about ${start.reference}, ${start.dispute.reason}`}
        className="m-3"
        columns={2}
        fields={[
          {
            key: "outcome",
            label: "What came of it",
            kind: "select",
            options: DISPUTE_OUTCOMES.map((o) => ({ value: o, text: OUTCOMES[o] })),
          },
          { key: "note", label: "Note", kind: "text" },
        ]}
        start={{ outcome: "upheld", note: "" }}
        button="Close the dispute"
        job={(v) => closeDisputeAction({ id: start.dispute!.id, ...v })}
        done="The dispute is closed."
        then={again}
        close={onClose}
      />
    );
  const inputOf = (v: RecordValues) => ({
    item: Number(v.item),
    amount: String(v.amount ?? "").trim(),
    reason: String(v.reason),
    note: String(v.note ?? ""),
    owner: String(v.owner ?? ""),
    by: readDate(String(v.by ?? ""), work.today) ?? String(v.by ?? ""),
  });
  return (
    <FieldForm
      name="dispute"
      title="Dispute"
      className="m-3"
      columns={4}
      fields={[
        {
          key: "item",
          label: "Invoice",
          kind: "select",
          options: owed
            .filter((i) => !i.dispute)
            .map((i) => ({
              value: String(i.id),
              text: `${i.reference}, ${shownAmount(i.left, i.currency)}`,
            })),
        },
        {
          key: "reason",
          label: "What is disputed",
          kind: "select",
          options: DISPUTE_REASONS.map((r) => ({ value: r, text: r })),
        },
        { key: "amount", label: "Amount", kind: "figure", hint: "Empty for all of it." },
        { key: "by", label: "To be solved by", kind: "date" },
        { key: "owner", label: "Looked into by", kind: "text", hint: "A sign-in name." },
        { key: "note", label: "What the customer says", kind: "text", wide: true },
      ]}
      start={{
        item: String(start.id),
        reason: "price",
        amount: "",
        by: "",
        owner: "",
        note: "",
      }}
      check={(v) => faultsOf(disputeSchema, inputOf(v))}
      button="Note the dispute"
      job={(v) => openDisputeAction(inputOf(v))}
      done="In dispute: reminders leave it out."
      then={again}
      close={onClose}
    />
  );
}
