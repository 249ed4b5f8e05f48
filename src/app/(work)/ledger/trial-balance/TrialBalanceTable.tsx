"use client";
import Link from "next/link";
import { useMemo, useState } from "react";
import { ChevronDown, ChevronRight } from "lucide-react";
import type { Heading } from "@/core/ledger";
import type { Measure } from "@/core/trace";
import type { TrialBalance, TrialBalanceRow } from "@/server/ledger";
import { useWork } from "@/ui/frame/work";
import { Fact } from "@/ui/Page";
import { Figure } from "@/ui/trace/Figure";
import { moveBetweenFigures } from "../../statements/[code]/StatementTable";
import { shownAmount } from "@/ui/writing";

const MEASURES: readonly (Measure & keyof TrialBalanceRow)[] = [
  "opening",
  "debit",
  "credit",
  "closing",
];
type Sums = Record<(typeof MEASURES)[number], bigint>;

type Measured = { of: "account" | "heading" | "total"; code: string };
const under = (knot: Knot): TrialBalanceRow[] => [
  ...knot.accounts,
  ...knot.children.flatMap(under),
];

interface Knot {
  heading: Heading;
  depth: number;
  sums: Sums;
  accounts: TrialBalanceRow[];
  children: Knot[];
}

/** The chart as a tree with its balances; headings carry the sum of what is below them. */
export function TrialBalanceTable({
  balance,
  headings,
  zeros,
  now,
}: {
  balance: TrialBalance;
  headings: Heading[];
  zeros: boolean;
  now: TrialBalance | null;
}) {
  const work = useWork();
  const closingNow = useMemo(
    () => now && new Map(now.rows.map((r) => [r.account, r.closing as bigint])),
    [now],
  );
  // As known then: what the figure is now, and by how much it differs; the difference opens into
  // the journals behind it.
  const since = (accounts: readonly TrialBalanceRow[], of: Measured) => {
    if (!closingNow) return null;
    const today = accounts.reduce((sum, a) => sum + (closingNow.get(a.account) ?? 0n), 0n);
    const change = today - accounts.reduce((sum, a) => sum + a.closing, 0n);
    return (
      <>
        <td className="num text-ink-2">{shownAmount(today, balance.currency)}</td>
        <td className="num">
          {change !== 0n && (
            <Figure
              amount={change}
              currency={balance.currency}
              of={{ kind: "balance", ...of, measure: "closing" }}
            />
          )}
        </td>
      </>
    );
  };
  const [shut, setShut] = useState<ReadonlySet<string>>(new Set());
  const tree = useMemo(
    () =>
      buildTree(
        balance.rows,
        headings,
        (r) =>
          zeros || MEASURES.some((m) => r[m] !== 0n) || (closingNow?.get(r.account) ?? 0n) !== 0n,
      ),
    [balance, headings, zeros, closingNow],
  );
  const toggle = (code: string) =>
    setShut((s) => {
      const next = new Set(s);
      if (!next.delete(code)) next.add(code);
      return next;
    });
  const all = useMemo(
    () =>
      tree.flatMap(function codes(k: Knot): string[] {
        return [k.heading.code, ...k.children.flatMap(codes)];
      }),
    [tree],
  );
  const level = (depth: number) =>
    setShut(
      new Set(
        tree.flatMap(function deep(k: Knot): string[] {
          return [...(k.depth >= depth ? [k.heading.code] : []), ...k.children.flatMap(deep)];
        }),
      ),
    );

  const render = (knot: Knot): React.ReactNode[] => {
    const open = !shut.has(knot.heading.code);
    return [
      <tr key={knot.heading.code} className="font-semibold">
        <td style={{ paddingLeft: 9 + knot.depth * 14 }} title={knot.heading.name}>
          <button
            type="button"
            aria-expanded={open}
            onClick={() => toggle(knot.heading.code)}
            className="inline-flex items-center gap-1"
          >
            {open ? <ChevronDown size={14} aria-hidden /> : <ChevronRight size={14} aria-hidden />}
            {knot.heading.code} {knot.heading.name}
          </button>
        </td>
        {MEASURES.map((m) => (
          <td key={m} className="num">
            <Figure
              amount={knot.sums[m]}
              currency={balance.currency}
              of={{ kind: "balance", of: "heading", code: knot.heading.code, measure: m }}
            />
          </td>
        ))}
        {since(under(knot), { of: "heading", code: knot.heading.code })}
      </tr>,
      ...(open
        ? [
            ...knot.children.flatMap(render),
            ...knot.accounts.map((a) => (
              <tr key={a.account}>
                <td style={{ paddingLeft: 27 + knot.depth * 14 }} title={a.name}>
                  <Link
                    className="link mr-3 font-semibold"
                    href={work.link(`/ledger/accounts/${a.account}`)}
                  >
                    {a.account}
                  </Link>
                  {a.name}
                </td>
                {MEASURES.map((m) => (
                  <td key={m} className="num">
                    <Figure
                      amount={a[m]}
                      currency={balance.currency}
                      of={{ kind: "balance", of: "account", code: a.account, measure: m }}
                    />
                  </td>
                ))}
                {since([a], { of: "account", code: a.account })}
              </tr>
            )),
          ]
        : []),
    ];
  };

  return (
    <div
      className="panel print-flow min-h-0 flex-1 overflow-auto"
      data-keys="Arrows=Between the figures;Enter=Take the figure apart"
      onKeyDown={moveBetweenFigures}
    >
      <table
        className="sheet sheet-named"
        style={{ tableLayout: "fixed", minWidth: 300 + (now ? 6 * 124 : 4 * 142) }}
      >
        <colgroup>
          <col />
          {[...MEASURES, ...(now ? ["now", "since"] : [])].map((m) => (
            <col key={m} style={{ width: now ? 124 : 142 }} />
          ))}
        </colgroup>
        <thead>
          <tr>
            <th>
              Account
              <span className="no-print ml-3 font-normal">
                {[
                  ["Headings", 1],
                  ["Groups", 2],
                ].map(([word, depth]) => (
                  <button
                    key={word}
                    type="button"
                    className="link mr-2"
                    onClick={() => level(depth as number)}
                  >
                    {word}
                  </button>
                ))}
                <button
                  type="button"
                  className="link"
                  onClick={() => setShut(new Set(shut.size === 0 ? all : []))}
                >
                  {shut.size === 0 ? "Shut all" : "Accounts"}
                </button>
              </span>
            </th>
            <th className="num">Opening</th>
            <th className="num">Debits</th>
            <th className="num">Credits</th>
            <th className="num">Closing</th>
            {now && (
              <>
                <th className="num">Closing now</th>
                <th className="num">Changed since</th>
              </>
            )}
          </tr>
        </thead>
        <tbody>
          {tree.flatMap(render)}
          {balance.uncarried !== 0n && (
            <tr>
              <td
                style={{ paddingLeft: 27 }}
                title="The year end that carries it to retained earnings is not posted"
              >
                Result of earlier years, year end not posted
              </td>
              <td className="num">{shownAmount(balance.uncarried, balance.currency)}</td>
              <td />
              <td />
              <td className="num">{shownAmount(balance.uncarried, balance.currency)}</td>
              {now && (
                <>
                  <td className="num text-ink-2">{shownAmount(now.uncarried, balance.currency)}</td>
                  <td className="num">
                    {now.uncarried !== balance.uncarried &&
                      shownAmount(now.uncarried - balance.uncarried, balance.currency)}
                  </td>
                </>
              )}
            </tr>
          )}
        </tbody>
        <tfoot>
          <tr>
            <td>All accounts</td>
            {MEASURES.map((m) => (
              <td key={m} className="num">
                <Figure
                  amount={balance.totals[m]}
                  currency={balance.currency}
                  of={{ kind: "balance", of: "total", code: "", measure: m }}
                />
              </td>
            ))}
            {now && (
              <>
                <td className="num">{shownAmount(now.totals.closing, balance.currency)}</td>
                <td />
              </>
            )}
          </tr>
        </tfoot>
      </table>
    </div>
  );
}

/** The two numbers that every accountant looks at first. */
export function TrialBalanceFooter({ balance }: { balance: TrialBalance }) {
  const { totals, currency } = balance;
  const difference = totals.debit - totals.credit;
  const result = balance.rows.reduce(
    (sum, r) => (r.type === "income" || r.type === "expense" ? sum + r.credit - r.debit : sum),
    0n,
  );
  return (
    <>
      <Fact label="Debits">{shownAmount(totals.debit, currency)}</Fact>
      <Fact label="Credits">{shownAmount(totals.credit, currency)}</Fact>
      <Fact label="Difference" tone={difference === 0n ? "good" : "bad"}>
        {shownAmount(difference, currency)}
      </Fact>
      <Fact label={`Result, ${balance.label}`} apart>
        {shownAmount(result, currency)}
      </Fact>
      <span className="ml-auto text-ink-3">Credits are negative in opening and closing.</span>
    </>
  );
}

function buildTree(
  rows: readonly TrialBalanceRow[],
  headings: readonly Heading[],
  shown: (row: TrialBalanceRow) => boolean,
): Knot[] {
  const make = (parentId: number | null, depth: number): Knot[] =>
    headings
      .filter((h) => h.parentId === parentId)
      .map((heading) => {
        const children = make(heading.id, depth + 1);
        const own = rows.filter((r) => r.headingId === heading.id);
        const add = (m: (typeof MEASURES)[number]) =>
          own.reduce((t, r) => t + r[m], 0n) + children.reduce((t, c) => t + c.sums[m], 0n);
        return {
          heading,
          depth,
          children,
          accounts: own.filter(shown),
          sums: {
            opening: add("opening"),
            debit: add("debit"),
            credit: add("credit"),
            closing: add("closing"),
          },
        };
      })
      .filter((k) => k.children.length > 0 || k.accounts.length > 0);
  return make(null, 0);
}
