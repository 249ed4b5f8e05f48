"use client";
import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { documentPage } from "@/core/documents";
import { minor } from "@/core/shared";
import type { JournalView } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Problems } from "@/ui/Page";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { shownAmount, shownDate, shownQuantity } from "@/ui/writing";

/**
 * A whole posted journal beside the page that asks for it. The working company and period stay as
 * they are.
 */
export function JournalBeside({
  journal,
  message,
}: {
  journal: JournalView | null;
  message: string | null;
}) {
  const work = useWork();
  const close = () => work.go({ beside: null }, { replace: true });
  if (!journal || journal.kind === "draft")
    return (
      <SidePanel title="Journal" onClose={close}>
        <Problems messages={[message ?? "This journal is not posted yet."]} />
      </SidePanel>
    );
  const foreign = journal.foreignCurrency;
  return (
    <SidePanel title={journal.number} onClose={close} width={520}>
      <p className="flex flex-wrap gap-x-3 text-ink-2">
        <Status of={journal.status} quiet />
        <span>{journal.companyName}</span>
        <span>{shownDate(journal.date)}</span>
        <span>{journal.typeName}</span>
        {journal.reference && <span>{journal.reference}</span>}
      </p>
      <p className="font-semibold">{journal.description}</p>
      <div
        className="overflow-x-auto rounded-lg border border-line-2"
        tabIndex={0}
        role="region"
        aria-label={`Lines of ${journal.number}`}
      >
        <table className="sheet">
          <thead>
            <tr>
              <th>Account</th>
              {foreign && <th className="num">{foreign}</th>}
              <th className="num">Debit {journal.currency}</th>
              <th className="num">Credit</th>
            </tr>
          </thead>
          <tbody>
            {journal.lines.map((l) => (
              <tr key={l.lineNo}>
                <td
                  title={[...Object.values(l.dimensions), l.description]
                    .filter(Boolean)
                    .join(" · ")}
                >
                  <b className="font-semibold">{l.account}</b> {l.accountName}
                  <span className="block text-xs text-ink-2">
                    {[
                      ...Object.values(l.dimensions),
                      l.description === journal.description ? "" : l.description,
                    ]
                      .filter(Boolean)
                      .join(" · ")}
                  </span>
                </td>
                {foreign && (
                  <td className="num text-ink-2">
                    {l.units
                      ? ""
                      : shownAmount(
                          l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount),
                          foreign,
                        )}
                  </td>
                )}
                {(["debit", "credit"] as const).map((side) => (
                  <td key={side} className="num">
                    {l.side !== side
                      ? ""
                      : l.units
                        ? shownQuantity(l.quantity ?? 0n)
                        : shownAmount(l.amount, journal.currency)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="text-ink-2">
        Prepared by {journal.preparedBy}, posted by {journal.postedBy} on{" "}
        {shownDate(journal.postedAt.slice(0, 10))}.
      </p>
      {journal.linked.length > 0 && (
        <p>
          Posted together with{" "}
          {journal.linked.map((l) => (
            <button
              key={l.id}
              type="button"
              className="link mr-2 font-semibold"
              onClick={() => work.go({ beside: String(l.id) })}
            >
              {l.number}
            </button>
          ))}
        </p>
      )}
      <p className="flex gap-4">
        <Link className="link" href={`/ledger/journals/${journal.id}?${placeQuery(work.place)}`}>
          Open the journal
        </Link>
        {journal.origin && (
          <Link
            className="link"
            href={`${documentPage(journal.origin.kind, journal.origin.id)}?${placeQuery(work.place)}`}
          >
            Came from {journal.origin.number}
          </Link>
        )}
        {journal.bankLine && (
          <Link
            className="link"
            href={work.link("/banks/lines", {
              line: String(journal.bankLine.id),
              status: "all",
            })}
          >
            Line of {journal.bankLine.bank}
          </Link>
        )}
      </p>
    </SidePanel>
  );
}
