"use client";
import { useState } from "react";
import type { CalendarDate } from "@/core/shared";
import type { ItemElsewhere } from "@/server/receivables";
import { RestateForm } from "@/app/partners/RestateForm";
import { shownAmount, shownDate } from "@/ui/writing";

/** What a payer owes in other currencies than it pays, until it is agreed that it pays that. */
export function Elsewhere({
  items,
  currency,
  date,
  onRestated,
}: {
  items: readonly ItemElsewhere[];
  /** Of the money. */
  currency: string;
  date: CalendarDate;
  onRestated: () => void;
}) {
  const [chosen, setChosen] = useState<number | null>(null);
  const item = items.find((i) => i.id === chosen);
  if (items.length === 0) return null;
  return (
    <section className="border-t border-line-2 px-3 py-2" aria-label="In other currencies">
      <p className="label">In other currencies</p>
      {items.map((i) => (
        <p key={i.id} className="flex items-center gap-4 py-0.5">
          <b className="font-semibold">{i.reference}</b>
          <span>{i.partnerName}</span>
          <span>due {shownDate(i.due)}</span>
          <span>
            {shownAmount(i.left, i.currency)} {i.currency}
          </span>
          <button type="button" className="link" onClick={() => setChosen(i.id)}>
            Pay it in {currency}
          </button>
        </p>
      ))}
      {item && (
        <RestateForm
          key={item.id}
          item={item}
          to={currency}
          date={date}
          className="mt-2 max-w-4xl"
          columns={4}
          then={() => {
            setChosen(null);
            onRestated();
          }}
          close={() => setChosen(null)}
        />
      )}
    </section>
  );
}
