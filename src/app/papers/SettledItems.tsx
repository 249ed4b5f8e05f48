import Link from "next/link";
import type { ReactNode } from "react";
import { documentPage } from "@/core/documents";
import { minor, type Minor } from "@/core/shared";
import { useWork } from "@/ui/frame/work";
import { shownAmount } from "@/ui/writing";

export interface SettledItem {
  id: number;
  reference: string;
  document: { id: number; kind: string };
  /** What of it is settled, and the discount within that, without sign. */
  taken: Minor;
  discount: Minor;
}

/** The items that money settles, each leading to its document. */
export function SettledItems({
  items,
  currency,
  moved,
  children,
}: {
  items: readonly SettledItem[];
  currency: string;
  /** What the last column is called: paid, or received. */
  moved: string;
  /** Further rows. */
  children?: ReactNode;
}) {
  const work = useWork();
  return (
    <div className="panel overflow-auto">
      <table className="sheet">
        <thead>
          <tr>
            <th>Settled item</th>
            <th className="num w-40">Settled</th>
            <th className="num w-40">Discount</th>
            <th className="num w-40">{moved}</th>
          </tr>
        </thead>
        <tbody>
          {items.map((i) => (
            <tr key={i.id}>
              <td>
                <Link
                  className="link font-semibold"
                  href={work.link(documentPage(i.document.kind, i.document.id))}
                >
                  {i.reference}
                </Link>
              </td>
              <td className="num">{shownAmount(i.taken, currency)}</td>
              <td className="num">{i.discount === 0n ? "" : shownAmount(i.discount, currency)}</td>
              <td className="num">{shownAmount(minor(i.taken - i.discount), currency)}</td>
            </tr>
          ))}
          {children}
        </tbody>
      </table>
    </div>
  );
}

/** The journals of a document, reversals marked. */
export function JournalsOf({
  journals,
}: {
  journals: readonly { id: number; number: string; reverses: boolean }[];
}) {
  const work = useWork();
  return (
    <div className="panel px-3 py-2">
      <b className="font-semibold">Journals</b>{" "}
      {journals.map((j) => (
        <Link key={j.id} className="link ml-3" href={work.link(`/ledger/journals/${j.id}`)}>
          {j.number}
          {j.reverses ? " (reversal)" : ""}
        </Link>
      ))}
    </div>
  );
}
