"use client";
import Link from "next/link";
import type { ReactNode } from "react";
import { documentKindName, documentPage } from "@/core/documents";
import { decimalText, monthName } from "@/core/shared";
import type { ItemArea, PartnerGlance as Glance } from "@/server/openItems";
import { daysLateText } from "@/core/receivables";
import type { PartnerView as Partner } from "@/server/partners";
import type { CustomerState } from "@/server/receivables";
import { Bars } from "@/ui/charts/Bars";
import { useWork } from "@/ui/frame/work";
import { Status } from "@/ui/Status";
import { shownAmount, shownDay, shownSentence } from "@/ui/writing";

/** A partner at one glance, above the items: who, when what is due, a year's trade, what was last. */
export function PartnerGlance({
  area,
  partner,
  terms,
  glance,
  state,
}: {
  area: ItemArea;
  partner: Partner;
  terms: string;
  glance: Glance;
  state: CustomerState | null;
}) {
  const work = useWork();
  const bar = (name: string, amount: bigint, late = false) => ({
    name,
    value: Number(decimalText(amount, glance.currency)),
    text: `${shownAmount(amount, glance.currency)} ${glance.currency}`,
    late,
  });
  const payables = area === "payables";
  const contact = state?.contacts[0];
  const confirmed = partner.banks.filter((b) => b.state === "confirmed");
  return (
    <div className="no-print grid h-[168px] shrink-0 auto-rows-[0] grid-cols-[repeat(auto-fit,minmax(212px,1fr))] grid-rows-[168px] gap-x-2.5 overflow-hidden">
      <Part title="Terms and contact">
        <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-0.5 text-[12.5px]">
          {contact && (
            <Line name="Contact">
              {[contact.name, contact.role, contact.telephone].filter(Boolean).join(" · ")}
            </Line>
          )}
          <Line name="Address">
            {[partner.street, `${partner.postcode} ${partner.city}`.trim(), partner.country]
              .filter(Boolean)
              .join(", ")}
          </Line>
          <Line name="E-mail">{partner.email}</Line>
          <Line name="Tax number">{partner.taxNumber}</Line>
          <Line name="Terms">{`${terms}, ${payables ? "paid" : "pays"} by ${partner.method}`}</Line>
          <Line name="Bank account">
            {confirmed.map((b) => b.iban || b.number).join(", ") ||
              (partner.banks.some((b) => b.state === "waiting") ? "waits to be confirmed" : "none")}
          </Line>
        </dl>
      </Part>
      <Part
        title={`Open by due date, ${glance.currency}`}
        note={
          partner.hold
            ? `On hold: ${partner.hold}`
            : glance.held > 0
              ? `${glance.held} on hold`
              : undefined
        }
      >
        <Bars
          label={`What is open by due date, ${glance.currency}`}
          head="Due"
          bars={glance.due.map((d, i) => bar(d.name, d.amount, i === 0))}
        />
      </Part>
      <Part
        title={`${payables ? "Invoices" : "Sales"}, 12 months, ${glance.currency}`}
        note={lateText(glance, payables)}
      >
        <Bars
          label={`Invoices less credit notes by month, ${glance.currency}`}
          head="Month"
          bars={glance.months.map((m) => bar(monthName(`${m.month}-01`), m.amount))}
        />
      </Part>
      {state && (
        <Part title="Days late, by quarter">
          <Bars
            label="How many days late it paid, by quarter"
            head="Quarter"
            bars={state.late.map(({ quarter, days }) => ({
              name: `${quarter.slice(5)} ${quarter.slice(2, 4)}`,
              value: days ?? 0,
              text: days === null ? "nothing paid" : daysLateText(days),
              late: (days ?? 0) > 0,
            }))}
          />
        </Part>
      )}
      <Part title="Latest">
        <ul className="text-[12.5px]">
          {glance.remarks.slice(0, 2).map((r, i) => (
            <li key={`r${i}`} className="truncate py-px" title={`${r.title}: ${r.text}`}>
              <span className="text-ink-2">{shownDay(r.at.slice(0, 10))}</span>{" "}
              {r.document ? (
                <Link
                  className="link"
                  href={work.link(documentPage(r.document.kind, r.document.id))}
                >
                  {r.by}
                </Link>
              ) : (
                r.by
              )}
              : {shownSentence(r.text)}
            </li>
          ))}
          {glance.documents.slice(0, LATEST - Math.min(2, glance.remarks.length)).map((d) => (
            <li key={d.id} className="flex items-center gap-1.5 py-px" title={d.title}>
              <Status of={d.status} quiet />
              <Link className="link min-w-0 truncate" href={work.link(documentPage(d.kind, d.id))}>
                {d.number ?? documentKindName(d.kind)}
              </Link>
              <span className="ml-auto whitespace-nowrap">
                {d.amount !== null && d.currency && shownAmount(d.amount, d.currency)}
              </span>
            </li>
          ))}
          {glance.documents.length + glance.remarks.length === 0 && (
            <li className="text-ink-2">No documents in this company.</li>
          )}
        </ul>
      </Part>
    </div>
  );
}

/** Lines that the latest have room for. */
const LATEST = 6;

function lateText({ late }: Glance, payables: boolean): string | undefined {
  if (!late) return undefined;
  const days = Math.abs(late.days);
  const unit = days === 1 ? "day" : "days";
  const when =
    late.days === 0 ? "on the due date" : `${days} ${unit} ${late.days > 0 ? "late" : "early"}`;
  return `${payables ? "Paid" : "Pays"} ${when} on average, ${late.latePercent} % late`;
}

const Part = ({
  title,
  note,
  children,
}: {
  title: string;
  note?: string | undefined;
  children: ReactNode;
}) => (
  <section className="panel flex min-h-0 min-w-0 flex-col px-3 py-1.5" aria-label={title}>
    <h2 className="shrink-0 truncate pb-1 text-[12.5px] font-semibold text-ink-2">{title}</h2>
    {children}
    {note && (
      <p className="truncate text-xs text-ink-2" title={note}>
        {note}
      </p>
    )}
  </section>
);

const Line = ({ name, children }: { name: string; children: ReactNode }) => (
  <>
    <dt className="text-ink-3">{name}</dt>
    <dd className="truncate" title={typeof children === "string" ? children : undefined}>
      {children || "–"}
    </dd>
  </>
);
