"use client";
import { toast } from "sonner";
import { promiseDays, promiseSchema } from "@/core/receivables";
import { dateText, readDate, type CalendarDate } from "@/core/shared";
import type { DeskCustomer, DeskItem } from "@/server/receivables";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultsOf, type Fault, type RecordField, type RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { shownAmount, shownDate } from "@/ui/writing";
import { confirmPromiseAction } from "../letters/actions";
import { makePromiseAction } from "./actions";
import { useFirstField } from "@/ui/useFirstField";

/** A promise of the chosen items: for which day, how and by whom; of each all, or a part. */
export function PromiseForm({
  customer,
  items,
  today,
  onClose,
}: {
  customer: DeskCustomer;
  items: readonly DeskItem[];
  today: CalendarDate;
  onClose: () => void;
}) {
  const work = useWork();
  useFirstField("promise-when");
  const days = promiseDays(today);
  const free = items.filter((i) => i.left > i.disputed);
  const inputOf = (v: RecordValues) => ({
    company: work.place.company,
    partner: customer.row.code,
    due: dayOf(v, today),
    how: String(v.how ?? ""),
    by: String(v.by ?? ""),
    items: free.map((i) => ({ id: i.id, amount: String(v[`amount-${i.id}`] ?? "").trim() })),
  });
  const atItem = <F extends Fault>(fault: F): F => {
    // What is said of all of them stands at the first.
    const place = /^items(?:\[(\d+)\])?/.exec(fault.field ?? "");
    return place ? { ...fault, field: `amount-${free[Number(place[1] ?? 0)]!.id}` } : fault;
  };
  const fields: RecordField[] = [
    {
      key: "when",
      label: "For",
      kind: "select",
      options: [
        ...days.map((d) => ({ value: d.key, text: `${d.name}, ${shownDate(d.day)}` })),
        { value: "other", text: "another day" },
      ],
    },
    { key: "due", label: "Day", kind: "date" },
    { key: "how", label: "How", kind: "text", placeholder: "transfer" },
    { key: "by", label: "Promised by", kind: "text" },
    { key: "confirm", label: "Confirm it by a letter", kind: "check" },
    ...free.map((i): RecordField => ({
      key: `amount-${i.id}`,
      label: `${i.reference}, ${shownAmount(i.left - i.disputed, i.currency)} ${i.currency}`,
      kind: "figure",
      hint: "A part of it; empty for all.",
    })),
  ];
  if (free.length === 0)
    return (
      <p className="notice m-3">
        Nothing of what is chosen can be promised: it is in dispute, or the customer’s own credit.
      </p>
    );
  return (
    <FieldForm
      name="promise"
      title="Promise to pay"
      className="m-3"
      columns={2}
      fields={fields}
      shows={(v) => fields.map((f) => f.key).filter((k) => k !== "due" || v.when === "other")}
      start={{
        when: "3",
        due: dateText(days[2]!.day),
        how: "transfer",
        by: customer.contacts[0]?.name ?? "",
        confirm: false,
        ...Object.fromEntries(free.map((i) => [`amount-${i.id}`, ""])),
      }}
      check={(v) => faultsOf(promiseSchema, inputOf(v)).map(atItem)}
      below={(v) => (
        <p className="col-span-2 text-ink-2">
          {free.length === 1 ? "1 item" : `${free.length} items`}, to collect again after{" "}
          {shownDate(dayOf(v, today) || today)} if it does not come.
        </p>
      )}
      button="Note the promise"
      job={async (v) => {
        const result = await makePromiseAction(inputOf(v));
        return result.ok ? result : { ...result, problems: result.problems.map(atItem) };
      }}
      done="Promise noted."
      then={({ id }, v) => {
        if (v.confirm === true) void confirm(id);
        onClose();
        work.go({}, { replace: true });
      }}
      close={onClose}
    />
  );
}

/** Sends what was promised to the customer; the promise stands whether or not that can be done. */
async function confirm(id: number): Promise<void> {
  const sent = await confirmPromiseAction(id).catch(() => null);
  if (sent?.ok) toast.success(`Confirmed to ${sent.value.to}.`);
  else toast.error(sent?.problems[0]?.message ?? "The confirmation was not sent. Try again.");
}

const dayOf = (v: RecordValues, today: CalendarDate): string =>
  v.when === "other"
    ? (readDate(String(v.due ?? ""), today) ?? String(v.due ?? ""))
    : (promiseDays(today).find((d) => d.key === v.when)?.day ?? "");
