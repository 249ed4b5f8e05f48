import Link from "next/link";
import { documentPage } from "@/core/documents";
import { minor, type CalendarDate, type Minor } from "@/core/shared";
import type { ExpectedFlow } from "@/server/cash";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { shownAmount, shownDay, shownSentence } from "@/ui/writing";

export interface FlowsOfStep {
  step: { from: CalendarDate; to: CalendarDate };
  flows: ExpectedFlow[];
  count: number;
  sum: Minor;
}

const SOURCES: Readonly<Record<ExpectedFlow["source"], string>> = {
  "under way": "Under way",
  receivables: "Receivables",
  payables: "Payables",
  "payment runs": "Payment runs in preview",
  orders: "Orders",
  "recurring invoices": "Recurring invoices",
  taxes: "Taxes",
  monthly: "Paid monthly",
};

/** What a day or week of the forecast is made of, by where it comes from. */
export function FlowsPanel({
  flows: { step, flows, count, sum },
  currency,
  onClose,
}: {
  flows: FlowsOfStep;
  currency: string;
  onClose: () => void;
}) {
  const work = useWork();
  const title =
    step.from === step.to ? shownDay(step.to) : `${shownDay(step.from)} to ${shownDay(step.to)}`;
  const sources = (Object.keys(SOURCES) as ExpectedFlow["source"][]).filter((s) =>
    flows.some((f) => f.source === s),
  );
  return (
    <SidePanel
      title={`${title}: ${shownAmount(sum, currency)} ${currency}`}
      width={430}
      onClose={onClose}
    >
      <div className="flex flex-col gap-3 text-[12.5px]">
        {count === 0 && <p className="text-ink-2">Nothing is expected.</p>}
        {count > flows.length && (
          <p className="text-ink-2">
            The {flows.length} largest of {count}.
          </p>
        )}
        {sources.map((source) => {
          const own = flows.filter((f) => f.source === source);
          return (
            <section key={source}>
              <h3 className="flex justify-between border-b border-line pb-0.5 font-semibold">
                <span>{SOURCES[source]}</span>
                <span className="figure-text">
                  {shownAmount(minor(own.reduce((t, f) => t + f.amount, 0n)), currency)}
                </span>
              </h3>
              <ul>
                {own.map((f, i) => (
                  <li key={i} className="border-b border-line py-1">
                    <span className="flex items-baseline gap-2">
                      <Link
                        className="link font-semibold"
                        href={work.link(pageOf(f), {
                          company: f.company,
                        })}
                      >
                        {f.what}
                      </Link>
                      <span className="min-w-0 flex-1 truncate">{f.partnerName}</span>
                      <span className="figure-text">{shownAmount(f.amount, currency)}</span>
                    </span>
                    <span className="text-ink-2">
                      {shownDay(f.usual)}
                      {f.early === f.late
                        ? ""
                        : `, between ${shownDay(f.early)} and ${shownDay(f.late)}`}
                      {f.currency === currency
                        ? ""
                        : `; ${shownAmount(f.owed, f.currency)} ${f.currency}`}
                      . {shownSentence(f.why)}.
                    </span>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
      </div>
    </SidePanel>
  );
}

/** What stands behind a flow: its document, or its account. */
const pageOf = (f: ExpectedFlow): string =>
  f.document ? documentPage(f.document.kind, f.document.id) : `/ledger/accounts/${f.account ?? ""}`;
