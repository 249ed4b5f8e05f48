"use client";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { DeskItem } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import type { Fault, RecordField, RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { shownAmount } from "@/ui/writing";
import { writeOffItemsAction } from "../losses/actions";
import { useFirstField } from "@/ui/useFirstField";

/** What of the chosen items is given up, and why; of each all, or a part. */
export function WriteOffForm({
  items,
  today,
  onClose,
}: {
  items: readonly DeskItem[];
  today: CalendarDate;
  onClose: () => void;
}) {
  const work = useWork();
  useFirstField("writeoff-reason");
  const owed = items.filter((i) => i.left > 0n);
  const fields: RecordField[] = [
    { key: "reason", label: "Reason", kind: "text", required: true },
    { key: "date", label: "Date", kind: "date", required: true },
    { key: "correctTax", label: "The tax declared of it is corrected", kind: "check", wide: true },
    ...owed.map((i): RecordField => ({
      key: `amount-${i.id}`,
      label: `${i.reference}, ${shownAmount(i.left, i.currency)} ${i.currency}`,
      kind: "figure",
      hint: "A part of it; empty for all.",
    })),
  ];
  if (owed.length === 0)
    return <p className="notice m-3">Choose the items that are written off.</p>;
  const inputOf = (v: RecordValues) => ({
    company: work.place.company,
    date: readDate(String(v.date ?? ""), today) ?? v.date,
    reason: v.reason,
    correctTax: v.correctTax === true,
    items: owed.map((i) => ({ id: i.id, amount: String(v[`amount-${i.id}`] ?? "").trim() })),
  });
  const atItem = <F extends Fault>(fault: F): F => {
    const place = /^items(?:\[(\d+)\])?/.exec(fault.field ?? "");
    return place ? { ...fault, field: `amount-${owed[Number(place[1] ?? 0)]!.id}` } : fault;
  };
  return (
    <FieldForm
      name="writeoff"
      title="Write off"
      className="m-3"
      columns={2}
      fields={fields}
      start={{
        reason: "",
        date: dateText(today),
        correctTax: false,
        ...Object.fromEntries(owed.map((i) => [`amount-${i.id}`, ""])),
      }}
      button="Write off"
      job={async (v) => {
        const result = await writeOffItemsAction(inputOf(v));
        return result.ok ? result : { ...result, problems: result.problems.map(atItem) };
      }}
      done="Written off."
      then={() => {
        onClose();
        work.go({}, { replace: true });
      }}
      close={onClose}
    />
  );
}
