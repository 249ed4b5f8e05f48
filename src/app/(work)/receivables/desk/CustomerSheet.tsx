"use client";
import Link from "next/link";
import { documentPage } from "@/core/documents";
import { daysBetween, exponentOf, type CalendarDate } from "@/core/shared";
import type { DeskCustomer, DeskItem } from "@/server/receivables";
import { DueLine, type DueMark } from "@/ui/charts/DueLine";
import { paysText } from "@/app/partners/CustomerFacts";
import { useWork } from "@/ui/frame/work";
import { shownAmount, shownDate } from "@/ui/writing";
import { DisputeForm } from "./DisputeForm";
import { PromiseForm } from "./PromiseForm";
import { Why } from "./Why";
import { WriteOffForm } from "./WriteOffForm";

export type DeskAct = "promise" | "dispute" | "write off" | null;

interface Props {
  customer: DeskCustomer;
  currency: string;
  today: CalendarDate;
  act: DeskAct;
  onAct: (act: DeskAct) => void;
  chosen: readonly number[];
  onChosen: (ids: number[]) => void;
  folded: boolean;
  onUnfold: () => void;
}

/** The customer in hand: figures, days, items, what is done with them, and why the score is so. */
export function CustomerSheet(props: Props) {
  const { customer, currency, today, act, onAct, chosen, onChosen } = props;
  const work = useWork();
  const { row, contacts } = customer;
  const contact = contacts[0];
  const items = customer.items.filter((i) => chosen.includes(i.id));
  return (
    <section
      aria-label={row.name}
      className="panel flex min-h-0 min-w-0 flex-1 flex-col overflow-y-auto"
    >
      <div className="flex items-center gap-2.5 border-b border-line px-3.5 py-2 [&>.button]:shrink-0">
        <h2 className="min-w-24 truncate">
          <Link
            className="link"
            href={work.link(`/receivables/customers/${encodeURIComponent(row.code)}`)}
          >
            {row.name}
          </Link>
        </h2>
        <span className="shrink-0 text-ink-3">{row.code}</span>
        <span className="min-w-0 flex-1 truncate text-ink-2">
          {contact
            ? [contact.name, contact.role, contact.telephone].filter(Boolean).join(" · ")
            : ""}
        </span>
        {props.folded && (
          <button
            type="button"
            className="button"
            data-keys="\=Conversation"
            onClick={props.onUnfold}
          >
            Conversation <kbd>\</kbd>
          </button>
        )}
        {work.may("prepare.receivables") && (
          <>
            <Link
              className="button"
              data-keys="l=Write to the customer"
              href={work.link("/receivables/letters", { customers: row.code })}
            >
              Letter <kbd>l</kbd>
            </Link>
            <button
              type="button"
              className="button"
              aria-expanded={act === "promise"}
              data-keys="p=Note a promise"
              onClick={() => onAct("promise")}
            >
              Promise <kbd>p</kbd>
            </button>
            <button
              type="button"
              className="button"
              aria-expanded={act === "dispute"}
              data-keys="d=Note a dispute"
              onClick={() => onAct("dispute")}
            >
              Dispute <kbd>d</kbd>
            </button>
          </>
        )}
      </div>
      <Figures customer={customer} currency={currency} />
      {act === "promise" && (
        <PromiseForm
          customer={customer}
          today={today}
          items={items.length > 0 ? items : overdueOf(customer.items, today)}
          onClose={() => onAct(null)}
        />
      )}
      {act === "write off" && (
        <WriteOffForm items={items} today={today} onClose={() => onAct(null)} />
      )}
      {act === "dispute" && (
        <DisputeForm
          items={customer.items}
          item={items[0] ?? overdueOf(customer.items, today)[0]}
          onClose={() => onAct(null)}
        />
      )}
      <div className="border-b border-line px-2">
        <DueLine
          label={`What is due of ${row.name}, what came in and what is promised, by day`}
          today={today}
          marks={marksOf(customer, today, currency)}
        />
      </div>
      <Items items={customer.items} today={today} chosen={chosen} onChosen={onChosen} />
      <Why customer={customer} />
    </section>
  );
}

/** What a promise is usually about, where nothing is chosen. */
const overdueOf = (items: readonly DeskItem[], today: CalendarDate): DeskItem[] =>
  items.filter((i) => i.left > 0n && i.due < today && i.left > i.disputed);

function Figures({ customer, currency }: { customer: DeskCustomer; currency: string }) {
  const { row, limit } = customer;
  const facts: [string, string, boolean][] = [
    ["Open", shownAmount(row.open, currency), false],
    ["Overdue", shownAmount(row.overdue, currency), row.overdue > 0n],
    ["To collect", shownAmount(row.toCollect, currency), false],
    [
      "Credit limit",
      limit === null ? "none" : `${row.limitUsed} % of ${shownAmount(limit, currency)}`,
      (row.limitUsed ?? 0) > 100,
    ],
    ["Pays", paysText(row.pays), false],
    ["Reminded", row.level === 0 ? "not yet" : `level ${row.level}`, false],
    [
      "Promises kept",
      customer.promises === 0 ? "none made" : `${customer.kept} of ${customer.promises}`,
      false,
    ],
    ...(customer.owed === 0n
      ? []
      : [["We owe", shownAmount(customer.owed, currency), false] as [string, string, boolean]]),
  ];
  return (
    <dl className="flex flex-wrap gap-x-6 gap-y-1 border-b border-line px-3.5 py-2">
      {facts.map(([label, text, bad]) => (
        <div key={label}>
          <dt className="text-xs text-ink-2">{label}</dt>
          <dd className={`font-bold ${bad ? "text-coral" : ""}`}>{text}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Days with what is due, was paid and is promised; amounts of one day and sort together. */
function marksOf(customer: DeskCustomer, today: CalendarDate, currency: string): DueMark[] {
  const scale = 10 ** exponentOf(currency);
  const sums = new Map<string, { day: CalendarDate; kind: DueMark["kind"]; amount: bigint }>();
  const add = (day: CalendarDate, kind: DueMark["kind"], amount: bigint) => {
    const key = `${day} ${kind}`;
    const at = sums.get(key) ?? { day, kind, amount: 0n };
    sums.set(key, { ...at, amount: at.amount + amount });
  };
  for (const i of customer.items)
    if (i.left > 0n) add(i.due, i.due < today ? "overdue" : "due", i.leftFunctional);
  for (const p of customer.paid) add(p.on, "paid", p.amount);
  for (const i of customer.items) {
    if (i.promisedFor)
      add(i.promisedFor, "promise", i.left === 0n ? 0n : (i.leftFunctional * i.promised) / i.left);
    if (i.brokenOn) add(i.brokenOn, "broken", i.leftFunctional);
  }
  const names: Record<DueMark["kind"], string> = {
    overdue: "overdue",
    due: "due",
    paid: "paid",
    promise: "promised",
    broken: "promise not kept",
  };
  return [...sums.values()]
    .filter((s) => Math.abs(daysBetween(today, s.day)) <= 180)
    .map((s) => ({
      day: daysBetween(today, s.day),
      kind: s.kind,
      value: Number(s.amount) / scale,
      texts: {
        day: shownDate(s.day),
        what: names[s.kind],
        amount: shownAmount(s.amount, currency),
      },
    }))
    .sort((a, b) => a.day - b.day);
}

function Items({
  items,
  today,
  chosen,
  onChosen,
}: {
  items: readonly DeskItem[];
  today: CalendarDate;
  chosen: readonly number[];
  onChosen: (ids: number[]) => void;
}) {
  const work = useWork();
  const all = items.length > 0 && chosen.length === items.length;
  const toggle = (id: number) =>
    onChosen(chosen.includes(id) ? chosen.filter((c) => c !== id) : [...chosen, id]);
  return (
    <div className="min-h-[180px] shrink-0">
      <table className="sheet table-fixed">
        <thead>
          <tr>
            <th className="w-8">
              <input
                type="checkbox"
                aria-label="Choose all items"
                checked={all}
                onChange={() => onChosen(all ? [] : items.map((i) => i.id))}
              />
            </th>
            <th className="w-36">Invoice</th>
            <th className="w-28">Due date</th>
            <th>State</th>
            <th className="num w-32">Open amount</th>
          </tr>
        </thead>
        <tbody>
          {items.map((i) => (
            <tr key={i.id} className={chosen.includes(i.id) ? "bg-sea-2" : ""}>
              <td>
                <input
                  type="checkbox"
                  aria-label={`Choose ${i.reference}`}
                  checked={chosen.includes(i.id)}
                  onChange={() => toggle(i.id)}
                />
              </td>
              <td>
                <Link
                  className="link font-semibold"
                  href={work.link(documentPage(i.documentKind, i.documentId))}
                >
                  {i.reference || i.kind}
                </Link>
              </td>
              <td className={i.left > 0n && i.due < today ? "text-coral" : ""}>
                {shownDate(i.due)}
              </td>
              <td className="truncate text-ink-2" title={stateOf(i)}>
                {stateOf(i)}
              </td>
              <td className="num">
                {shownAmount(i.left, i.currency)}
                {i.currency !== work.company?.currency ? ` ${i.currency}` : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** What stands in the way of collecting an item, in a few words. */
function stateOf(i: DeskItem): string {
  const part = (amount: bigint) => (amount < i.left ? `${shownAmount(amount, i.currency)} ` : "");
  return [
    i.dispute ? `${part(i.disputed)}disputed, ${i.dispute.reason}` : "",
    i.promisedFor ? `${part(i.promised)}promised for ${shownDate(i.promisedFor)}` : "",
    !i.promisedFor && i.brokenOn ? `promise of ${shownDate(i.brokenOn)} not kept` : "",
    i.level > 0 ? `level ${i.level} on ${shownDate(i.remindedOn!)}` : "",
    i.discount ? `${i.discount.percent} % until ${shownDate(i.discount.until)}` : "",
    i.kind === "invoice" ? "" : i.kind,
  ]
    .filter(Boolean)
    .join(" · ");
}
