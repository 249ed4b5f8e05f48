"use client";
import Link from "next/link";
import { decimalText, type Minor } from "@/core/shared";
import type { CashPosition } from "@/server/cash";
import { useWork } from "@/ui/frame/work";
import { BalanceBand, type BandPoint } from "@/ui/charts/BalanceBand";
import { Empty, Fact, Page } from "@/ui/Page";
import { shownAmount, shownDate, shownDay } from "@/ui/writing";
import { CashAccounts } from "./CashAccounts";
import { FlowsPanel, type FlowsOfStep } from "./FlowsPanel";

/** What all bank accounts hold, and what is expected to come and go, as a picture and as figures. */
export function CashView({
  position,
  all,
  by,
  flows,
}: {
  position: CashPosition;
  all: boolean;
  by: "day" | "week";
  flows: FlowsOfStep | null;
}) {
  const work = useWork();
  const { currency, steps, shortage, missing } = position;
  const open = (to: string) => work.go({ to }, { replace: true });
  const text = (amount: Minor) => shownAmount(amount, currency);
  return (
    <Page
      title="Cash position"
      note={`on ${shownDate(position.today)}, in ${currency}`}
      actions={
        <>
          <Choices
            label="Companies"
            chosen={all ? "all" : ""}
            of={[
              ["", "This company"],
              ["all", "All companies"],
            ]}
            choose={(of) => work.go({ of: of || null, to: null }, { replace: true })}
          />
          <Choices
            label="Steps"
            chosen={by}
            of={[
              ["week", "Weeks"],
              ["day", "Days"],
            ]}
            choose={(step) => work.go({ by: step === "week" ? null : step, to: null })}
          />
        </>
      }
      panel={
        flows && (
          <FlowsPanel flows={flows} currency={currency} onClose={() => work.go({ to: null })} />
        )
      }
      footer={
        <>
          <Fact label={`Held today, ${currency}`}>{text(position.total)}</Fact>
          <Fact label={`Expected on ${shownDay(steps.at(-1)!.to)}`}>
            {text(steps.at(-1)!.closing)}
          </Fact>
          <Fact label="At the least">{text(steps.at(-1)!.low)}</Fact>
          <span className="ml-auto text-ink-2">
            Open items by how late each customer usually pays, orders and recurring invoices by
            their terms, taxes and monthly payments on their days; what is on hold is left out.
          </span>
        </>
      }
    >
      {missing.length > 0 && (
        <p className="notice" role="alert">
          No rate is known today for {missing.join(", ")}: what is in{" "}
          {missing.length === 1 ? "it" : "them"} is in no sum.{" "}
          <Link className="link" href={work.link("/setup/rates")}>
            Exchange rates
          </Link>
        </p>
      )}
      <Shortage {...shortage} />
      {position.accounts.length === 0 ? (
        <Empty title="No bank account yet">
          <Link className="link" href={work.link("/setup/banks")}>
            Add a bank account
          </Link>
        </Empty>
      ) : (
        <>
          <div className="panel no-print flex h-[230px] shrink-0 px-2 py-1">
            <BalanceBand
              label={`Expected balance, ${currency}`}
              points={steps.map((s): BandPoint => ({
                name: shownDay(s.to),
                closing: drawn(s.closing, currency),
                low: drawn(s.low, currency),
                high: drawn(s.high, currency),
                in: drawn(s.in, currency),
                out: drawn(s.out, currency),
                texts: {
                  closing: text(s.closing),
                  low: text(s.low),
                  high: text(s.high),
                  in: text(s.in),
                  out: text(s.out),
                },
              }))}
              onChoose={(i) => open(steps[i]!.to)}
            />
          </div>
          <div
            className="panel min-h-0 flex-1 overflow-auto"
            tabIndex={0}
            role="region"
            aria-label="Accounts and expected balances"
          >
            <CashAccounts accounts={position.accounts} currency={currency} />
            <table className="sheet">
              <thead>
                <tr>
                  <th className="w-48">{by === "week" ? "Week" : "Day"}</th>
                  <th className="num w-36">In</th>
                  <th className="num w-36">Out</th>
                  <th className="num w-40">Balance</th>
                  <th className="num w-40">At the least</th>
                  <th className="num w-40">At the most</th>
                </tr>
              </thead>
              <tbody>
                {steps.map((s) => (
                  <tr key={s.to} aria-current={flows?.step.to === s.to ? "true" : undefined}>
                    <td>
                      <button type="button" className="link" onClick={() => open(s.to)}>
                        {s.from === s.to
                          ? shownDay(s.to)
                          : `${shownDay(s.from)} to ${shownDay(s.to)}`}
                      </button>
                    </td>
                    <td className="num">{s.in === 0n ? "–" : text(s.in)}</td>
                    <td className="num">{s.out === 0n ? "–" : text(s.out)}</td>
                    <td className={`num font-semibold ${s.closing < 0n ? "text-coral" : ""}`}>
                      {text(s.closing)}
                    </td>
                    <td className={`num ${s.low < 0n ? "text-coral" : ""}`}>{text(s.low)}</td>
                    <td className="num">{text(s.high)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
    </Page>
  );
}

const drawn = (amount: Minor, currency: string): number => Number(decimalText(amount, currency));

function Shortage({ expected, possible }: CashPosition["shortage"]) {
  if (!expected && !possible) return null;
  return (
    <p className="notice" role="alert">
      {expected
        ? `By ${shownDate(expected)} more is expected to go out than there is.`
        : `By ${shownDate(possible!)} more could go out than there is, where customers pay late.`}
    </p>
  );
}

function Choices({
  label,
  chosen,
  of,
  choose,
}: {
  label: string;
  chosen: string;
  of: readonly (readonly [string, string])[];
  choose: (value: string) => void;
}) {
  return (
    <div role="group" aria-label={label} className="flex">
      {of.map(([value, text]) => (
        <button
          key={value}
          type="button"
          className={`button first:rounded-r-none last:rounded-l-none last:border-l-0 ${chosen === value ? "bg-sea-2! shadow-[inset_0_-3px_var(--color-yellow)]" : ""}`}
          aria-pressed={chosen === value}
          onClick={() => choose(value)}
        >
          {text}
        </button>
      ))}
    </div>
  );
}
