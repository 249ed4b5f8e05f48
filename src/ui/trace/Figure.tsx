"use client";
import { type AmountStyle } from "@/core/shared";
import { encodeRef, type FigureRef } from "@/core/trace";
import { useTrace } from "./useTrace";
import { shownAmount } from "../writing";

/** A figure that opens into what it is made of, by click or Enter. */
export function Figure({
  amount,
  currency,
  of,
  style,
  signed,
}: {
  amount: bigint;
  currency: string;
  of: FigureRef;
  style?: AmountStyle;
  signed?: "favourable";
}) {
  const { open, currentRef } = useTrace();
  const tone =
    amount === 0n ? "text-ink-3" : signed ? (amount > 0n ? "text-moss" : "text-coral") : "";
  return (
    <button
      type="button"
      className={`figure ${tone}`}
      aria-expanded={currentRef === encodeRef(of)}
      data-trace={encodeRef(of)}
      onClick={() => open(of)}
    >
      {shownAmount(amount, currency, style)}
    </button>
  );
}
