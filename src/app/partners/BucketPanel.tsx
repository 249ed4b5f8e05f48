"use client";
import Link from "next/link";
import { documentPage } from "@/core/documents";
import { minor } from "@/core/shared";
import type { OpenItemRow } from "@/server/openItems";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { shownAmount, shownDate } from "@/ui/writing";

/** The items behind an amount of the ageing; each opens its invoice. */
export function BucketPanel({
  title,
  items,
  sign,
  amount,
  currency,
}: {
  title: string;
  items: OpenItemRow[];
  /** Minus one where what is owed is shown as positive. */
  sign: bigint;
  /** What they add up to, in this currency. */
  amount: bigint;
  currency: string;
}) {
  const work = useWork();
  return (
    <SidePanel title={title} onClose={() => work.go({ bucket: null, of: null })} width={390}>
      <table className="sheet">
        <thead>
          <tr>
            <th>Due date</th>
            <th>Reference</th>
            <th className="num">Open amount</th>
          </tr>
        </thead>
        <tbody>
          {items.map((i) => (
            <tr key={i.id}>
              <td>{shownDate(i.dueDate)}</td>
              <td className="max-w-44 truncate" title={`${i.partnerName}, ${i.reference}`}>
                <Link className="link" href={work.link(documentPage(i.documentKind, i.documentId))}>
                  {i.reference}
                </Link>{" "}
                <span className="text-ink-2">{i.partnerName}</span>
              </td>
              <td className="num">
                {shownAmount(minor(sign * i.left), i.currency)}
                {i.currency !== currency && (
                  <span className="text-xs text-ink-3"> {i.currency}</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <td colSpan={2}>
              {items.length} {items.length === 1 ? "item" : "items"}, {currency}
            </td>
            <td className="num">{shownAmount(amount, currency)}</td>
          </tr>
        </tfoot>
      </table>
    </SidePanel>
  );
}
