"use client";
import Link from "next/link";
import { useMemo } from "react";
import { sumOfItems, type PositionItem } from "@/core/banks";
import type { BankPosition, Reconciliation } from "@/server/banks";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { Empty, Page } from "@/ui/Page";
import { AsKnown } from "@/ui/AsKnown";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate, shownDay } from "@/ui/writing";
import { Closing } from "./Closing";
import { StatementButton, StatementDrop, useStatementFiles } from "./StatementDrop";

/** Each bank account: what the bank says, what the ledger says, and what lies between them. */
export function PositionView({
  rows,
  closed,
  date,
  open,
  thenNote,
}: {
  rows: BankPosition[];
  closed: Reconciliation[];
  date: string;
  open: string;
  /** That it is shown as it was known earlier; "" where not. */
  thenNote: string;
}) {
  const work = useWork();
  const files = useStatementFiles();
  const columns = useMemo((): TableColumn<BankPosition>[] => {
    const amount = (
      key: string,
      header: string,
      of: (b: BankPosition) => bigint | null,
    ): TableColumn<BankPosition> => ({
      key,
      header,
      width: 122,
      align: "right",
      value: (b) => of(b) as never,
      cell: (b) => {
        const value = of(b);
        return value === null ? "" : shownAmount(value as never, b.currency);
      },
    });
    return [
      {
        key: "code",
        header: "Account",
        width: 110,
        value: (b) => b.code,
        cell: (b) => <b className="font-semibold">{b.code}</b>,
      },
      { key: "name", header: "Name", value: (b) => b.name },
      { key: "currency", header: "Currency", width: 78, value: (b) => b.currency },
      {
        key: "statement",
        header: "Last statement",
        width: 130,
        value: (b) => b.bank?.date ?? "",
        cell: (b) => (b.bank ? `${b.bank.statement}, ${shownDay(b.bank.date)}` : "none"),
      },
      amount("bank", "Bank", (b) => b.bank?.amount ?? null),
      amount("ledger", "Ledger", (b) => b.ledger),
      amount("notPosted", "Not posted", (b) => sumOfItems(b.notPosted)),
      amount("notOnStatement", "On no statement", (b) => sumOfItems(b.notOnStatement)),
      amount("unexplained", "Unexplained", (b) => (b.bank ? b.unexplained : null)),
      {
        key: "state",
        header: "Status",
        width: 100,
        value: (b) => stateOf(b, date),
        cell: (b) => <Status of={stateOf(b, date)} quiet />,
      },
    ];
  }, [date]);
  const account = rows.find((b) => b.code === open);
  return (
    <Page
      strip={<PeriodStrip />}
      title="Bank reconciliation"
      note={`on ${shownDate(date)}${thenNote}`}
      actions={
        <>
          <AsKnown />
          <StatementButton files={files} />
          <Link className="button button-main" href={work.link("/banks/lines")}>
            Statement lines
          </Link>
        </>
      }
      panel={
        account && (
          <Between
            account={account}
            date={date}
            closed={closed.filter((r) => r.bank === account.code)}
            then={thenNote !== ""}
            onClose={() => work.go({ account: null })}
          />
        )
      }
    >
      <StatementDrop files={files}>
        <DataTable
          name="bank-position"
          rows={rows}
          columns={columns}
          rowKey={(b) => b.code}
          currency={work.company?.currency ?? "EUR"}
          currencyOf={(b) => b.currency}
          current={open || undefined}
          onOpen={(b) => work.go({ account: b.code }, { replace: true })}
          empty={
            <Empty title="No bank account yet">
              <Link className="link" href={work.link("/setup/banks")}>
                Enter the company’s bank accounts
              </Link>{" "}
              first; their statements come next.
            </Empty>
          }
        />
      </StatementDrop>
    </Page>
  );
}

const stateOf = (b: BankPosition, date: string): string =>
  b.reconciled !== null && b.reconciled >= date
    ? "closed"
    : !b.bank
      ? "not-yet"
      : b.unexplained === 0n
        ? "agrees"
        : "differs";

/** The lists that explain the difference of one account, the oldest first. */
function Between({
  account: b,
  date,
  closed,
  then,
  onClose,
}: {
  account: BankPosition;
  date: string;
  closed: readonly Reconciliation[];
  /** As it was known earlier: nothing is closed in the past. */
  then: boolean;
  onClose: () => void;
}) {
  const work = useWork();
  const text = (amount: bigint) => shownAmount(amount as never, b.currency);
  return (
    <SidePanel title={`${b.code}, from the ledger to the bank`} width={400} onClose={onClose}>
      <dl className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 gap-y-1">
        <dt>
          Balance of the ledger, account{" "}
          <Link className="link" href={work.link(`/ledger/accounts/${b.account}`)}>
            {b.account}
          </Link>
        </dt>
        <dd className="text-right font-semibold">{text(b.ledger)}</dd>
        <dt>Lines of the bank not posted</dt>
        <dd className="text-right">{text(sumOfItems(b.notPosted))}</dd>
        <dt>Lines of the ledger on no statement</dt>
        <dd className="text-right">{text(-(sumOfItems(b.notOnStatement) as bigint))}</dd>
        <dt>Unexplained</dt>
        <dd className={`text-right ${b.unexplained === 0n ? "" : "font-semibold text-coral"}`}>
          {b.bank ? text(b.unexplained) : "no statement yet"}
        </dd>
        <dt className="border-t border-line pt-1">
          Balance of the bank{b.bank ? `, statement ${b.bank.statement}` : ""}
        </dt>
        <dd className="border-t border-line pt-1 text-right font-semibold">
          {b.bank ? text(b.bank.amount) : "none"}
        </dd>
      </dl>
      {!then && <Closing account={b} date={date} closed={closed} />}
      <Items
        title="Lines of the bank not posted"
        items={b.notPosted}
        currency={b.currency}
        pageOf={(i) => work.link("/banks/lines", { line: String(i.id), status: "all" })}
      />
      <Items
        title="Lines of the ledger on no statement"
        items={b.notOnStatement}
        currency={b.currency}
        pageOf={(i) => work.link(`/ledger/journals/${i.id}`)}
      />
      <Items
        title="Money under way"
        items={b.underWay}
        currency={b.currency}
        pageOf={(i) => work.link(`/ledger/journals/${i.id}`)}
      />
    </SidePanel>
  );
}

function Items({
  title,
  items,
  currency,
  pageOf,
}: {
  title: string;
  items: readonly PositionItem[];
  currency: string;
  /** Where one of them is seen in full. */
  pageOf: (item: PositionItem) => string;
}) {
  if (items.length === 0) return null;
  return (
    <section>
      <h3 className="mb-1 mt-2 font-semibold">
        {title} ({items.length})
      </h3>
      <table className="w-full text-[12.5px]">
        <thead className="text-left text-ink-2">
          <tr>
            <th className="font-normal">Date</th>
            <th className="font-normal">What</th>
            <th className="text-right font-normal">Days</th>
            <th className="text-right font-normal">Amount</th>
          </tr>
        </thead>
        <tbody>
          {items.slice(0, 100).map((i, n) => (
            <tr key={n} className="border-t border-line align-top">
              <td className="whitespace-nowrap py-1 pr-2">{shownDay(i.date)}</td>
              <td className="py-1 pr-2">
                <Link className="link" href={pageOf(i)}>
                  {i.label || i.number || "no text"}
                </Link>
                <span className="block text-ink-2">{i.number}</span>
              </td>
              <td className="py-1 text-right">{i.age}</td>
              <td className="whitespace-nowrap py-1 pl-2 text-right">
                {shownAmount(i.amount, currency)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {items.length > 100 && <p className="text-ink-2">and {items.length - 100} more</p>}
    </section>
  );
}
