"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useCallback, useState, type ReactNode } from "react";
import { toast } from "sonner";
import { documentPage } from "@/core/documents";
import { minor } from "@/core/shared";
import type { PostedView } from "@/server/ledger";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Fact, Page } from "@/ui/Page";
import { Status } from "@/ui/Status";
import { useTrace } from "@/ui/trace/useTrace";
import { reverseJournalAction } from "../actions";
import { PapersPanel } from "@/app/papers/PapersPanel";
import { DateField } from "@/ui/date/DateField";
import { shownAmount, shownDate, shownQuantity } from "@/ui/writing";

/** A posted journal: what it says, where it came from, what it reaches, and the way to undo it. */
export function PostedJournal({ journal, panel }: { journal: PostedView; panel: ReactNode }) {
  const work = useWork();
  const router = useRouter();
  const trace = useTrace();
  const [papers, setPapers] = useState(false);
  const documentId = useCallback(() => Promise.resolve(journal.id), [journal.id]);
  const [reversing, setReversing] = useState(false);
  const [date, setDate] = useState("");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const reverse = async () => {
    setBusy(true);
    const result = await reverseJournalAction({
      key: String(journal.id),
      date: date || null,
    }).catch(() => null);
    setBusy(false);
    if (!result)
      return setProblem("The server did not answer. Try again: a journal is reversed only once.");
    if (!result.ok) return setProblem(result.message);
    toast.success(`Reversed by ${result.value.number} on ${shownDate(result.value.date)}.`);
    setReversing(false);
    router.refresh();
  };
  const link = (id: number, number: string) => (
    <Link className="link font-semibold" href={work.link(`/ledger/journals/${id}`)}>
      {number}
    </Link>
  );
  const facts: [string, ReactNode][] = [
    ["Type", journal.typeName],
    ["Date", shownDate(journal.date)],
    ["Period", journal.periodName],
    ["Books", journal.book ? `${journal.book} only` : "all"],
    ["Reference", journal.reference || "–"],
    ["Prepared by", journal.preparedBy],
    [
      "Posted by",
      `${journal.postedBy}, ${shownDate(journal.postedAt.slice(0, 10))} ${journal.postedAt.slice(11, 16)}`,
    ],
    ...(journal.foreignCurrency
      ? [
          ["Currency", `${journal.foreignCurrency}, kept in ${journal.currency}`] as [
            string,
            ReactNode,
          ],
        ]
      : []),
    ...(journal.reverseOn
      ? [["Reverses on", shownDate(journal.reverseOn)] as [string, ReactNode]]
      : []),
    ...(journal.linked.length > 0
      ? [
          [
            "Posted together with",
            <span key="t" className="flex gap-2">
              {journal.linked.map((l) => (
                <button
                  key={l.id}
                  type="button"
                  className="link font-semibold"
                  title="Open it beside this one"
                  onClick={() => work.go({ beside: String(l.id), trace: null })}
                >
                  {l.number}
                </button>
              ))}
            </span>,
          ] as [string, ReactNode],
        ]
      : []),
    ...(journal.reverses
      ? [["Reverses", link(journal.reverses.id, journal.reverses.number)] as [string, ReactNode]]
      : []),
    ...(journal.reversedBy
      ? [
          ["Reversed by", link(journal.reversedBy.id, journal.reversedBy.number)] as [
            string,
            ReactNode,
          ],
        ]
      : []),
    ...(journal.load
      ? [
          [
            "Loaded from",
            <Link
              key="l"
              className="link font-semibold"
              href={work.link("/ledger/load", { load: String(journal.load.id) })}
            >
              {journal.load.source || `load ${journal.load.id}`}
            </Link>,
          ] as [string, ReactNode],
        ]
      : []),
    ...(journal.bankLine
      ? [
          [
            "Bank line",
            <Link
              key="b"
              className="link font-semibold"
              href={work.link("/banks/lines", {
                line: String(journal.bankLine.id),
                status: "all",
              })}
            >
              {journal.bankLine.bank}, statement {journal.bankLine.statement}
            </Link>,
          ] as [string, ReactNode],
        ]
      : []),
    ...(journal.hasChain
      ? [
          [
            "Chain",
            <Link
              key="c"
              className="link font-semibold"
              href={work.link(`/documents/${journal.id}`)}
            >
              {journal.bankLine ? "What the line has paid" : "To the bank's line"}
            </Link>,
          ] as [string, ReactNode],
        ]
      : []),
    ...(journal.origin
      ? [
          [
            "Came from",
            <Link
              key="o"
              className="link font-semibold"
              href={work.link(documentPage(journal.origin.kind, journal.origin.id))}
            >
              {journal.origin.number}
            </Link>,
          ] as [string, ReactNode],
        ]
      : []),
  ];
  const credits = journal.lines.reduce(
    (t, l) => (l.side === "credit" && !l.units ? t + l.amount : t),
    0n,
  );
  const foreign = journal.foreignCurrency;
  const some = (of: (l: PostedView["lines"][number]) => unknown) => journal.lines.some(of);
  const [quantities, partners, counterparties, notes] = [
    some((l) => l.quantity !== null),
    some((l) => l.partner),
    some((l) => l.counterparty),
    some((l) => l.note),
  ];
  const dimensions = work.dimensions.filter((d) => journal.lines.some((l) => l.dimensions[d.code]));
  return (
    <Page
      strip={<PeriodStrip />}
      title={journal.number}
      status={<Status of={journal.status} />}
      note={`${journal.description} · ${journal.companyName}`}
      panel={papers ? <PapersPanel id={documentId} onClose={() => setPapers(false)} /> : panel}
      actions={
        <>
          <button
            type="button"
            className="button"
            aria-expanded={papers}
            onClick={() => setPapers(!papers)}
          >
            Papers
          </button>
          <button
            type="button"
            className="button"
            onClick={() => {
              setPapers(false);
              trace.open({ kind: "journal", id: journal.id });
            }}
          >
            What it reaches
          </button>
          {journal.mayReverse && (
            <button
              type="button"
              className="button"
              aria-expanded={reversing}
              onClick={() => setReversing(!reversing)}
            >
              Reverse
            </button>
          )}
          {work.may("prepare.ledger") && (
            <Link
              className="button"
              href={work.link("/ledger/journals/new", {
                copy: String(journal.id),
                company: journal.company,
              })}
            >
              Copy
            </Link>
          )}
          {work.may("prepare.ledger") && (
            <Link
              className="button"
              href={work.link("/ledger/recurring/new", {
                copy: String(journal.id),
                company: journal.company,
              })}
            >
              Repeat
            </Link>
          )}
          {work.may("prepare.ledger") && (
            <Link className="button button-main" href={work.link("/ledger/journals/new")}>
              New journal
            </Link>
          )}
        </>
      }
      footer={
        <>
          <Fact label="Debits">{shownAmount(journal.total, journal.currency)}</Fact>
          <Fact label="Credits">{shownAmount(credits, journal.currency)}</Fact>
          <Fact label="Lines">{journal.lines.length}</Fact>
          <span className="ml-auto truncate text-ink-3" title={journal.hash}>
            number {journal.seq} in the chain of {journal.company} · {journal.hash.slice(0, 12)}…
          </span>
        </>
      }
    >
      {reversing && (
        <form
          className="panel flex items-end gap-3 px-3 py-2.5"
          onSubmit={(e) => {
            e.preventDefault();
            void reverse();
          }}
        >
          <p className="flex-1">
            A reversing journal will be posted and linked to this one, which keeps its number.
            {problem && (
              <span role="alert" className="block text-coral">
                {problem}
              </span>
            )}
          </p>
          <div>
            <label className="label" htmlFor="reverse-date">
              Date
            </label>
            <DateField
              as="day"
              id="reverse-date"
              className="w-40"
              value={date}
              onChange={(text) => setDate(text)}
              aria-describedby="reverse-hint"
            />
          </div>
          <span id="reverse-hint" className="self-center text-xs text-ink-3">
            empty: {shownDate(journal.date)}, or the first open day after it
          </span>
          <button type="submit" className="button button-main" disabled={busy}>
            Post the reversal
          </button>
        </form>
      )}
      <dl className="panel flex shrink-0 flex-wrap gap-x-8 gap-y-2 px-3.5 py-2.5">
        {facts.map(([label, value]) => (
          <div key={label}>
            <dt className="text-xs text-ink-2">{label}</dt>
            <dd className="font-semibold">{value}</dd>
          </div>
        ))}
      </dl>
      <div
        className="panel print-flow min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Lines"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="num w-10">#</th>
              <th>Account</th>
              {dimensions.map((d) => (
                <th key={d.code}>{d.name}</th>
              ))}
              <th>Description</th>
              {counterparties && <th>Counterparty</th>}
              {partners && (
                <>
                  <th>Partner</th>
                  <th>Due</th>
                </>
              )}
              {notes && <th>Note</th>}
              {quantities && <th className="num">Quantity</th>}
              {foreign && (
                <>
                  <th className="num">{foreign}</th>
                  <th className="num">Rate</th>
                </>
              )}
              <th className="num w-32">Debit</th>
              <th className="num w-32">Credit</th>
            </tr>
          </thead>
          <tbody>
            {journal.lines.map((l) => (
              <tr key={l.lineNo}>
                <td className="num text-ink-3">{l.lineNo}</td>
                <td>
                  <Link
                    className="link mr-2 font-semibold"
                    href={work.link(`/ledger/accounts/${l.account}`, {
                      period: journal.period,
                      company: journal.company,
                    })}
                  >
                    {l.account}
                  </Link>
                  {l.accountName}
                </td>
                {dimensions.map((d) => (
                  <td key={d.code}>
                    {l.dimensions[d.code] ?? <span className="text-ink-3">–</span>}
                  </td>
                ))}
                <td>{l.description}</td>
                {counterparties && <td>{l.counterparty}</td>}
                {partners && (
                  <>
                    <td>{l.partner}</td>
                    <td>{l.dueDate && shownDate(l.dueDate)}</td>
                  </>
                )}
                {notes && (
                  <td className="max-w-48 truncate" title={l.note}>
                    {l.note}
                  </td>
                )}
                {quantities && (
                  <td className="num">
                    {l.quantity === null
                      ? ""
                      : shownQuantity(l.side === "credit" && l.units ? -l.quantity : l.quantity)}
                  </td>
                )}
                {foreign && (
                  <>
                    <td className="num text-ink-2">
                      {l.units
                        ? ""
                        : shownAmount(
                            l.side === "debit" ? l.foreignAmount : minor(-l.foreignAmount),
                            foreign,
                          )}
                    </td>
                    <td className="num text-ink-3">{l.rate ?? ""}</td>
                  </>
                )}
                <td className="num">
                  {l.side === "debit" && !l.units ? shownAmount(l.amount, journal.currency) : ""}
                </td>
                <td className="num">
                  {l.side === "credit" && !l.units ? shownAmount(l.amount, journal.currency) : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
