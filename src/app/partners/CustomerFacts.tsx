"use client";
import { daysLateText, type ActionFacts } from "@/core/receivables";
import { readAmount } from "@/core/shared";
import type { PartnerView as Partner } from "@/server/partners";
import type { CustomerState } from "@/server/receivables";
import { shownAmount, shownDate } from "@/ui/writing";

type Pays = ActionFacts["pays"];
interface ShownFact {
  label: string;
  text: string;
  bad?: boolean;
}

/** How late a customer pays, and whether that is more or less than before. */
export function paysText(pays: Pays): string {
  if (pays === null) return "nothing paid lately";
  const { now, before } = pays;
  if (before === null || now === before) return daysLateText(now);
  return `${daysLateText(now)}, ${Math.abs(now - before)} ${now > before ? "more" : "less"} than before`;
}

/** A decimal as it is kept, as the person reads amounts. */
function shownIn(kept: string, currency: string): string {
  const read = readAmount(kept, currency);
  return `${read.ok ? shownAmount(read.amount, currency) : kept} ${currency}`;
}

/** What stands with a customer, beside what is open: credit, promises, disputes, contact. */
export function CustomerFacts({ partner, state }: { partner: Partner; state: CustomerState }) {
  const { row } = state;
  const facts: ShownFact[] = [
    creditFact(partner, state),
    ...insuranceFacts(partner),
    {
      label: "Grade, group",
      text: [partner.grade, partner.customerGroup].filter(Boolean).join(", ") || "none",
    },
    { label: "Pays", text: row ? paysText(row.pays) : "nothing open" },
    ...(row ? openFacts(state, row) : []),
    {
      label: "Promises kept",
      text: state.promises === 0 ? "none made" : `${state.kept} of ${state.promises}`,
      bad: (row?.broken ?? 0) > 0,
    },
    ...saidFacts(state),
    ...(partner.blocks.length > 0
      ? [
          {
            label: "Blocked for",
            text: `${partner.blocks.join(", ")}: ${partner.blockReason}`,
            bad: true,
          },
        ]
      : []),
    ...(partner.headOffice ? [{ label: "Paid by", text: partner.headOffice }] : []),
  ];
  return (
    <dl className="panel no-print flex shrink-0 flex-wrap gap-x-6 gap-y-1 px-3 py-1.5">
      {facts.map(({ label, text, bad }) => (
        <div key={label}>
          <dt className="text-xs text-ink-2">{label}</dt>
          <dd className={`font-semibold ${bad ? "text-coral" : ""}`}>{text}</dd>
        </div>
      ))}
    </dl>
  );
}

function creditFact(
  partner: Partner,
  { limit, row, currency, agreed, agreedDays }: CustomerState,
): ShownFact {
  const label = "Credit used";
  if (partner.creditLimit === "") return { label, text: "no limit set" };
  if (limit === null || row === null)
    return { label, text: `limit ${shownIn(partner.creditLimit, partner.creditCurrency)}` };
  return {
    label,
    text: `${row.limitUsed} % of ${shownAmount(limit, currency)} ${currency}${
      agreed === 0n ? "" : `, ${shownAmount(agreed, currency)} agreed for ${agreedDays} days more`
    }`,
    bad: (row.limitUsed ?? 0) > 100,
  };
}

const insuranceFacts = ({ insurer, insuredAmount, insuredUntil, creditCurrency }: Partner) =>
  insurer === ""
    ? []
    : [
        {
          label: "Insured",
          text: [
            insurer,
            insuredAmount && shownIn(insuredAmount, creditCurrency),
            insuredUntil && `until ${shownDate(insuredUntil)}`,
          ]
            .filter(Boolean)
            .join(", "),
        },
      ];

function openFacts(
  { currency }: CustomerState,
  { promised, disputed, level }: NonNullable<CustomerState["row"]>,
): ShownFact[] {
  return [
    { label: "Promised", text: promised === 0n ? "nothing" : shownAmount(promised, currency) },
    {
      label: "In dispute",
      text: disputed === 0n ? "nothing" : shownAmount(disputed, currency),
      bad: disputed > 0n,
    },
    { label: "Reminded", text: level === 0 ? "not yet" : `level ${level}` },
  ];
}

/** When it was last spoken to, and what comes next. */
function saidFacts({ conversation }: CustomerState): ShownFact[] {
  const last = conversation[0];
  const next = conversation.find((s) => s.next !== null)?.next;
  return [
    {
      label: "Last contact",
      text: last ? `${shownDate(last.at.slice(0, 10))}, ${last.kind}` : "none",
    },
    ...(next
      ? [
          {
            label: "Next step",
            text: [next.step || "look again", next.on && shownDate(next.on)]
              .filter(Boolean)
              .join(", "),
          },
        ]
      : []),
  ];
}
