"use client";
import type { ReactNode } from "react";
import type { PaperFigures } from "@/server/trade";
import { Fact } from "@/ui/Page";
import { shownAmount, shownDate, shownFigures } from "@/ui/writing";

/** Net, taxes and total of a trade document. */
export function PaperSums({
  figures,
  currency,
  owed,
}: {
  figures: PaperFigures | null;
  currency: string;
  /** By whom a tax under reverse charge is owed: “owed by us”. */
  owed: string;
}) {
  return (
    <>
      <Fact label="Net">{shownAmount(figures?.net ?? 0n, currency)}</Fact>
      {(figures?.taxes ?? []).map((t) => (
        <Fact
          key={t.code}
          label={`${t.code} ${shownFigures(t.percent)} %${t.reverse ? `, ${owed}` : ""}`}
        >
          {shownAmount(t.tax, currency)}
        </Fact>
      ))}
      <Fact apart label={`Comes to ${currency}`}>
        {shownAmount(figures?.gross ?? 0n, currency)}
      </Fact>
    </>
  );
}

/** When it falls due, with the discount for paying early. */
export function FirstDue({
  figures,
  currency,
  discounts,
}: {
  figures: PaperFigures | null;
  currency: string;
  discounts: boolean;
}) {
  const [first] = figures?.instalments ?? [];
  if (!first) return null;
  const count = figures!.instalments.length;
  const [discount] = discounts ? first.discounts : [];
  return (
    <Fact label={count > 1 ? `First of ${count} due` : "Due"}>
      {shownDate(first.due)}
      {discount && (
        <span className="ml-2 text-xs font-normal text-ink-2">
          {shownAmount(discount.amount, currency)} less until {shownDate(discount.until)}
        </span>
      )}
    </Fact>
  );
}

/** How many problems there are, and the way to the first; or what keys do. */
export function ProblemCount({
  count,
  first,
  atCells,
  onJump,
  keys,
}: {
  count: number;
  /** What stands against it and has no place in the form. */
  first: string | undefined;
  atCells: boolean;
  onJump: () => void;
  keys: ReactNode;
}) {
  return (
    <span className="ml-auto max-w-[30%] truncate text-right text-ink-3">
      {count > 0 ? (
        <button type="button" className="max-w-full truncate font-bold text-coral" onClick={onJump}>
          {count === 1 ? "1 problem" : `${count} problems`}
          {first ? `: ${first}` : atCells ? ", marked at their cells (F8)" : ""}
        </button>
      ) : (
        keys
      )}
    </span>
  );
}
