"use client";
import type { ReactNode } from "react";
import Link from "next/link";
import { documentPage } from "@/core/documents";
import {
  appliedTo,
  DISPUTE_REASONS,
  NOTHING_WRITTEN,
  SHORT_OUTCOME_NAMES,
  SHORT_OUTCOMES,
  writtenWhole,
  type ShortOutcome,
  type WrittenTake,
  type WrittenTakes,
} from "@/core/receivables";
import { decimalText } from "@/core/shared";
import type { OpenForReceipt } from "@/server/receivables";
import { FigureField } from "@/ui/FigureField";
import { useWork } from "@/ui/frame/work";
import { shownAmount, shownDate } from "@/ui/writing";

/**
 * What is open of a payer, what the money pays of each item, and what becomes of the rest of it.
 */
export function ItemsToPay({
  customer,
  items,
  message,
  currency,
  takes,
  faultOf,
  says,
  below,
  onWrite,
  onPropose,
}: {
  customer: { code: string } | null;
  /** Null while they are looked up. */
  items: readonly OpenForReceipt[] | null;
  message: string;
  currency: string;
  takes: WrittenTakes;
  faultOf: (item: number, field: string) => string | undefined;
  /** How the proposal came about. */
  says: string;
  below: ReactNode;
  onWrite: (takes: WrittenTakes) => void;
  /** Goes back to the proposal, where a person has changed it. */
  onPropose: (() => void) | undefined;
}) {
  const write = (item: OpenForReceipt, take: WrittenTake | null) => {
    const { [item.id]: _before, ...others } = takes;
    onWrite(take === null ? others : { ...others, [item.id]: take });
  };
  return (
    <div
      className="panel min-h-0 flex-1 overflow-auto"
      tabIndex={0}
      role="region"
      aria-label="Open items"
    >
      {(says !== "" || onPropose) && (
        <p className="flex items-center gap-3 px-3 py-1.5 text-xs text-ink-2">
          {says}
          {onPropose && (
            <button type="button" className="link" onClick={onPropose}>
              Propose again
            </button>
          )}
        </p>
      )}
      <table className="sheet">
        <thead>
          <tr>
            <th className="w-9" aria-label="Pays" />
            <th>Open item</th>
            <th>Customer</th>
            <th className="w-28">Due</th>
            <th className="num w-32">Open</th>
            <th className="num w-32">Pays</th>
            <th className="num w-28">Discount</th>
            <th className="num w-28">Left</th>
            <th className="w-72">What is left</th>
          </tr>
        </thead>
        <tbody>
          {items?.map((i) => (
            <ItemRow
              key={i.id}
              item={i}
              take={takes[i.id]}
              currency={currency}
              fault={(field) => faultOf(i.id, field)}
              onWrite={(take) => write(i, take)}
            />
          ))}
          {items?.length === 0 && (
            <Says>Nothing of this customer is open in {currency}; the money stays on account.</Says>
          )}
          {items === null && (
            <Says>
              {message ||
                (customer ? "Looking up what is open …" : "Say who has paid to see what is open.")}
            </Says>
          )}
        </tbody>
      </table>
      {below}
    </div>
  );
}

const Says = ({ children }: { children: ReactNode }) => (
  <tr>
    <td colSpan={9} className="text-ink-2">
      {children}
    </td>
  </tr>
);

function ItemRow({
  item: i,
  take,
  currency,
  fault,
  onWrite,
}: {
  item: OpenForReceipt;
  take: WrittenTake | undefined;
  currency: string;
  fault: (field: string) => string | undefined;
  onWrite: (take: WrittenTake | null) => void;
}) {
  const work = useWork();
  const is = take ?? NOTHING_WRITTEN;
  const { short } = appliedTo(i, is, currency);
  const said = ["pays", "discount", "short", "dispute"].flatMap((f) => fault(f) ?? []);
  const invalid = (field: string) =>
    fault(field) ? { "aria-invalid": true as const, title: fault(field) } : {};
  const change = (part: Partial<WrittenTake>) => {
    const next = { ...is, ...part };
    onWrite(next.pays === "" && next.discount === "" ? null : next);
  };
  return (
    <tr>
      <td>
        <input
          type="checkbox"
          aria-label={`Pays ${i.reference}`}
          checked={take !== undefined}
          onChange={() => onWrite(take ? null : writtenWhole(i, currency))}
        />
      </td>
      <td className="truncate">
        <Link
          className="link font-semibold"
          href={work.link(documentPage(i.document.kind, i.document.id))}
        >
          {i.reference}
        </Link>
        {i.disputed > 0n && (
          <span className="pl-2 text-xs text-coral">
            {shownAmount(i.disputed, currency)} in dispute
          </span>
        )}
        {said.map((s) => (
          <div key={s} role="alert" className="text-xs text-coral">
            {s}
          </div>
        ))}
      </td>
      <td className="truncate" title={i.partnerName}>
        {i.partnerName}
      </td>
      <td>{shownDate(i.due)}</td>
      <td className="num">{shownAmount(i.left, currency)}</td>
      <td className="num">
        <FigureField
          aria-label={`Money for ${i.reference}`}
          className="field h-6! text-right"
          {...invalid("pays")}
          value={is.pays}
          onChange={(pays) => change({ pays })}
        />
      </td>
      <td className="num">
        {i.left > 0n && (
          <FigureField
            aria-label={`Discount on ${i.reference}`}
            className="field h-6! text-right"
            {...invalid("discount")}
            {...(i.discount > 0n
              ? {
                  placeholder: decimalText(i.discount, currency),
                  title: i.late
                    ? `${shownAmount(i.discount, currency)} could have been deducted earlier; its date is past`
                    : `${shownAmount(i.discount, currency)} may be deducted on this day`,
                }
              : {})}
            value={is.discount}
            onChange={(discount) => change({ discount })}
          />
        )}
      </td>
      <td className="num">{take && short !== 0n ? shownAmount(short, currency) : ""}</td>
      <td>
        {take && short > 0n && i.left > 0n && (
          <span className="flex gap-1.5">
            <select
              aria-label={`What is left of ${i.reference}`}
              className="field h-6! min-w-0 flex-1 py-0!"
              value={is.short}
              onChange={(e) => change({ short: e.target.value as ShortOutcome })}
            >
              {SHORT_OUTCOMES.map((o) => (
                <option key={o} value={o}>
                  {SHORT_OUTCOME_NAMES[o]}
                </option>
              ))}
            </select>
            {is.short === "disputed" && (
              <select
                aria-label={`What is disputed of ${i.reference}`}
                className="field h-6! min-w-0 flex-1 py-0!"
                {...invalid("dispute")}
                value={is.dispute}
                onChange={(e) => change({ dispute: e.target.value as WrittenTake["dispute"] })}
              >
                <option value="">about …</option>
                {DISPUTE_REASONS.map((r) => (
                  <option key={r} value={r}>
                    {r}
                  </option>
                ))}
              </select>
            )}
          </span>
        )}
      </td>
    </tr>
  );
}
