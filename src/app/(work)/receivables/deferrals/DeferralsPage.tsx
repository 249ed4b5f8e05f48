"use client";
import Link from "next/link";
import { useCallback, useMemo } from "react";
import { documentPage } from "@/core/documents";
import { minor, type CalendarDate } from "@/core/shared";
import type { DeferralRow, Deferrals } from "@/server/receivables";
import { useProposeRun } from "@/app/lib/useProposeRun";
import { PeriodStrip } from "@/ui/frame/PeriodStrip";
import { useWork } from "@/ui/frame/work";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { DataTable, type TableColumn } from "@/ui/table/DataTable";
import { shownAmount, shownDate } from "@/ui/writing";

/** Revenue that was invoiced ahead: what is earned of it, and what waits. */
export function DeferralsPage({
  deferrals: { rows, account },
  upTo,
}: {
  deferrals: Deferrals;
  /** The last day of the period in view. */
  upTo: CalendarDate;
}) {
  const work = useWork();
  const { busy, messages, propose } = useProposeRun("deferred-revenue");
  const currency = work.company?.currency ?? "EUR";
  const mayPost = work.may("post.receivables");
  const run = useCallback(() => void (mayPost && propose({ upTo })), [mayPost, propose, upTo]);
  usePrimaryKeys(undefined, run);
  const left = rows.reduce((t, r) => t + r.amount - r.released, 0n);
  const columns = useMemo(
    (): TableColumn<DeferralRow>[] => [
      {
        key: "document",
        header: "Invoice",
        width: 132,
        value: (r) => r.document.number,
        cell: (r) => (
          <Link className="link" href={work.link(documentPage("sale", r.document.id))}>
            {r.document.number}
          </Link>
        ),
      },
      { key: "customer", header: "Customer", width: 200, value: (r) => r.customer },
      { key: "description", header: "What", value: (r) => r.description },
      { key: "account", header: "Revenue", width: 80, value: (r) => r.account },
      {
        key: "from",
        header: "Earned from",
        width: 106,
        value: (r) => r.from,
        cell: (r) => shownDate(r.from),
      },
      { key: "to", header: "To", width: 106, value: (r) => r.to, cell: (r) => shownDate(r.to) },
      {
        key: "amount",
        header: "Deferred",
        width: 112,
        align: "right",
        sum: true,
        value: (r) => r.amount,
      },
      {
        key: "released",
        header: "Earned",
        width: 112,
        align: "right",
        sum: true,
        value: (r) => r.released,
      },
      {
        key: "left",
        header: "Still deferred",
        width: 120,
        align: "right",
        sum: true,
        value: (r) => minor(r.amount - r.released),
      },
    ],
    [work],
  );
  return (
    <Page
      strip={<PeriodStrip />}
      title="Deferred revenue"
      note={`on ${shownDate(upTo)}`}
      actions={
        mayPost && (
          <button type="button" className="button button-main" disabled={busy} onClick={run}>
            Preview what is earned by {shownDate(upTo)}
          </button>
        )
      }
      footer={
        account && (
          <>
            <Fact label="Still deferred">
              {shownAmount(left, currency)} {currency}
            </Fact>
            <Fact
              label={`Account ${account.number}`}
              tone={account.balance === left ? "good" : "bad"}
            >
              {shownAmount(account.balance, currency)}
            </Fact>
            {account.balance !== left && (
              <span className="text-ink-2">
                {shownAmount(minor(account.balance - left), currency)} {currency} on it came
                otherwise than by invoices that are earned over a time.
              </span>
            )}
          </>
        )
      }
    >
      <Problems messages={messages} />
      <DataTable
        name="deferrals"
        rows={rows}
        columns={columns}
        rowKey={(r) => String(r.id)}
        currency={currency}
        empty={
          <Empty title="Nothing is deferred">
            {account
              ? "On an invoice, “Deferral” gives its lines the days over which they are earned."
              : "Choose the account of deferred revenue in Setup, Receivables; then lines of invoices can be earned over a time."}
          </Empty>
        }
      />
    </Page>
  );
}
