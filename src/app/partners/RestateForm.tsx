"use client";
import { useEffect, useState } from "react";
import { CURRENCIES, dateText, minor, readDate } from "@/core/shared";
import type { Restated } from "@/server/openItems";
import { FieldForm } from "@/app/lib/FieldForm";
import type { RecordField, RecordValues } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { shownAmount } from "@/ui/writing";
import { useFirstField } from "@/ui/useFirstField";
import { restateItemAction } from "./actions";

/** Agrees that an open item, or a part of it, is owed in another currency from a day on. */
export function RestateForm({
  item,
  to = "",
  date,
  className,
  columns = 2,
  then,
  close,
}: {
  item: { id: number; reference: string; currency: string };
  /** The currency of the money that pays it, where that is known. */
  to?: string;
  date: string;
  className?: string;
  columns?: 2 | 4;
  then: () => void;
  close: () => void;
}) {
  const work = useWork();
  useFirstField(to ? "restate-taken" : "restate-currency");
  const fields: RecordField[] = [
    {
      key: "currency",
      label: "Paid in",
      kind: "select",
      required: true,
      options: CURRENCIES.filter((c) => c !== item.currency).map((c) => ({ value: c, text: c })),
    },
    { key: "date", label: "From", kind: "date", required: true },
    {
      key: "taken",
      label: `Amount in ${item.currency}`,
      kind: "figure",
      hint: "Empty for all of it.",
    },
    { key: "amount", label: "Agreed as", kind: "figure", hint: "Empty for the day’s rate." },
  ];
  const inputOf = (v: RecordValues, post: boolean) => ({
    id: item.id,
    date: readDate(String(v.date ?? ""), work.today) ?? v.date,
    currency: v.currency,
    taken: String(v.taken ?? ""),
    amount: String(v.amount ?? ""),
    post,
  });
  return (
    <FieldForm
      name="restate"
      title={`${item.reference} is paid in another currency`}
      className={className ?? ""}
      columns={columns}
      fields={fields}
      start={{ currency: to, date: dateText(date), taken: "", amount: "" }}
      below={(v) => <Comes asked={JSON.stringify(inputOf(v, false))} of={item.currency} />}
      button="Post"
      job={(v) => restateItemAction(inputOf(v, true))}
      done={(v) => `${item.reference} is owed in ${String(v.currency)} now.`}
      then={then}
      close={close}
    />
  );
}

/** What it would come to, a moment after the last key. */
function Comes({ asked, of }: { asked: string; of: string }) {
  const work = useWork();
  const [state, setState] = useState<{ asked: string; said: Restated | string } | null>(null);
  const { currency } = JSON.parse(asked) as { currency: string };
  useEffect(() => {
    if (!currency) return;
    let isLatest = true;
    const timer = setTimeout(
      () =>
        void restateItemAction(JSON.parse(asked)).then(
          (r) => isLatest && setState({ asked, said: r.ok ? r.value : r.message }),
          () => undefined,
        ),
      250,
    );
    return () => {
      isLatest = false;
      clearTimeout(timer);
    };
  }, [asked, currency]);
  const said = state?.asked === asked ? state.said : null;
  if (said === null || typeof said === "string")
    return <p className="text-xs text-ink-2">{said ?? "Nothing is posted yet."}</p>;
  const { difference } = said;
  return (
    <p className="text-xs text-ink-2">
      {shownAmount(said.taken, of)} {of} become{" "}
      <b className="font-semibold text-ink">
        {shownAmount(said.amount, currency)} {currency}
      </b>
      {difference === 0n
        ? ", without an exchange difference."
        : `; exchange ${difference > 0n ? "loss" : "gain"} of ${shownAmount(
            minor(difference > 0n ? difference : -difference),
            work.company?.currency ?? "EUR",
          )} ${work.company?.currency ?? ""}. An agreed discount does not go along.`}
    </p>
  );
}
