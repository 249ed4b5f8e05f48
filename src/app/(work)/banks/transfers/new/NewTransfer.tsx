"use client";
import { useRef, useState } from "react";
import Link from "next/link";
import { dateText, decimalText, minor, readAmount, readDate, type Minor } from "@/core/shared";
import type { TransferAccount } from "@/server/banks";
import { useRunForm } from "@/app/lib/useProposeRun";
import { DateField } from "@/ui/date/DateField";
import { FigureField } from "@/ui/FigureField";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount } from "@/ui/writing";

/** What is written for one account. */
interface Written {
  amount: string;
  text: string;
}
interface Fault {
  field: string | null;
  message: string;
}

/** What an account lacks to stand at nil: the amount that is proposed for it. */
const lacking = (a: TransferAccount): string =>
  a.standing < 0n ? decimalText(minor(-a.standing), a.currency) : "";

/** A trial goes to its account alone, whatever the others lack. */
const trialOf = (
  trial: TransferAccount,
  accounts: readonly TransferAccount[],
): Record<string, Written> => ({
  ...Object.fromEntries(accounts.map((a) => [a.code, { amount: "", text: "" }])),
  [trial.code]: { amount: decimalText(minor(1n), trial.currency), text: "Trial" },
});

/** Moves money from one account to others: every account of the currency with what it stands at. */
export function NewTransfer({
  accounts,
  trial,
}: {
  accounts: TransferAccount[];
  /** The account to which the smallest amount goes, to see that it arrives. */
  trial: TransferAccount | null;
}) {
  const work = useWork();
  const { propose, open } = useRunForm("transfer");
  const senders = accounts.filter((a) => a.isOwn);
  const near = senders.filter((a) => a.currency === trial?.currency && a.code !== trial.code);
  const [bank, setBank] = useState((richest(near) ?? richest(senders))?.code ?? "");
  const [date, setDate] = useState(dateText(work.today));
  const [typed, setTyped] = useState<Readonly<Record<string, Written>>>(
    trial ? trialOf(trial, accounts) : {},
  );
  const [busy, setBusy] = useState(false);
  const working = useRef(false);
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const from = accounts.find((a) => a.code === bank);
  const targets = accounts.filter((a) => a.code !== bank && a.currency === from?.currency);
  const writtenFor = (a: TransferAccount): Written =>
    typed[a.code] ?? { amount: lacking(a), text: "" };
  const transfers = targets
    .map((a) => ({ to: a.code, ...writtenFor(a) }))
    .filter((t) => t.amount.trim() !== "");
  const total = sumOf(transfers, from?.currency ?? "EUR");
  const guard = useLeaveGuard(Object.keys(typed).length > 0);
  const write = (code: string, more: Partial<Written>) => {
    const account = accounts.find((a) => a.code === code)!;
    setTyped({ ...typed, [code]: { ...writtenFor(account), ...more } });
  };
  const faultOf = (code: string, name: string): string | undefined => {
    const place = transfers.findIndex((t) => t.to === code);
    return faults.find((f) => f.field === `transfers.${place}.${name}`)?.message;
  };
  const submit = async () => {
    if (working.current) return;
    working.current = true;
    setBusy(true);
    const day = readDate(date, work.today) ?? date;
    const result = await propose({ bank, date: day, transfers }).catch(() => null);
    working.current = false;
    setBusy(false);
    if (result?.ok) {
      setTyped({});
      return open(result.value);
    }
    setFaults(
      result?.problems ?? [{ field: null, message: "The server did not answer. Try again." }],
    );
  };
  const ready = transfers.length > 0 && !busy;
  usePrimaryKeys(undefined, ready ? () => void submit() : undefined);
  if (senders.length === 0)
    return (
      <Page title="New transfer">
        <Empty title="No bank account to move money from">
          It needs an IBAN or a number.{" "}
          <Link className="link" href={work.link("/setup/banks")}>
            Bank accounts
          </Link>
        </Empty>
      </Page>
    );
  return (
    <Page
      title="New transfer"
      note={`between accounts of ${work.company?.name ?? ""} and of the group`}
      actions={
        <button
          type="button"
          className="button button-main"
          disabled={!ready}
          onClick={() => void submit()}
          data-keys="Ctrl Shift Enter=Propose"
        >
          Propose <kbd>Ctrl ⇧ ⏎</kbd>
        </button>
      }
      footer={
        <>
          <Fact label={`To move, ${from?.currency}`}>
            {shownAmount(total, from?.currency ?? "EUR")}
          </Fact>
          <Fact
            label={`${bank} after it`}
            tone={from && from.standing - total < 0n ? "bad" : "good"}
          >
            {shownAmount(minor((from?.standing ?? 0n) - total), from?.currency ?? "EUR")}
          </Fact>
          <NotSaved guard={guard} says="The transfer is not proposed." />
        </>
      }
    >
      <Problems
        messages={faults.filter((f) => !f.field?.startsWith("transfers.")).map((f) => f.message)}
      />
      <div className="panel grid grid-cols-[minmax(0,1fr)_200px] gap-5 p-4">
        <div>
          <label className="label" htmlFor="transfer-bank">
            From
          </label>
          <select
            id="transfer-bank"
            className="field"
            autoFocus
            value={bank}
            onChange={(e) => setBank(e.target.value)}
          >
            {senders.map((a) => (
              <option key={a.code} value={a.code}>
                {a.code} {a.name}, {shownAmount(a.standing, a.currency)} {a.currency}
              </option>
            ))}
          </select>
        </div>
        <div>
          <label className="label" htmlFor="transfer-date">
            Date
          </label>
          <DateField id="transfer-date" value={date} onChange={setDate} />
        </div>
      </div>
      <div
        className="panel min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Accounts that it goes to"
      >
        {targets.length === 0 ? (
          <Empty title={`No other account in ${from?.currency}`}>
            Money is moved between accounts of one currency.
          </Empty>
        ) : (
          <table className="sheet">
            <thead>
              <tr>
                <th className="w-28">To</th>
                <th>Account</th>
                <th>Company</th>
                <th className="num w-40">Stands at, {from?.currency}</th>
                <th className="num w-44">Amount</th>
                <th className="w-72">Text for the bank</th>
              </tr>
            </thead>
            <tbody>
              {targets.map((a) => (
                <tr key={a.code}>
                  <td className="font-semibold">{a.code}</td>
                  <td className="truncate">{a.name}</td>
                  <td className="truncate">
                    {a.companyName}
                    {faultOf(a.code, "to") && (
                      <span role="alert" className="block text-xs text-coral">
                        {faultOf(a.code, "to")}
                      </span>
                    )}
                  </td>
                  <td className="num">{shownAmount(a.standing, a.currency)}</td>
                  <td>
                    <FigureField
                      className="field text-right"
                      aria-label={`Amount to ${a.code}`}
                      aria-invalid={faultOf(a.code, "amount") !== undefined}
                      value={writtenFor(a).amount}
                      onChange={(amount) => write(a.code, { amount })}
                    />
                    {faultOf(a.code, "amount") && (
                      <span role="alert" className="block text-xs text-coral">
                        {faultOf(a.code, "amount")}
                      </span>
                    )}
                  </td>
                  <td>
                    <input
                      className="field"
                      aria-label={`Text to ${a.code}`}
                      maxLength={140}
                      value={writtenFor(a).text}
                      onChange={(e) => write(a.code, { text: e.target.value })}
                    />
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </div>
    </Page>
  );
}

/** The account that most can be moved from. */
const richest = (of: readonly TransferAccount[]): TransferAccount | undefined =>
  of.reduce<TransferAccount | undefined>(
    (best, a) => (best === undefined || a.standing > best.standing ? a : best),
    undefined,
  );

const sumOf = (transfers: readonly Written[], currency: string): Minor =>
  minor(
    transfers.reduce((t, { amount }) => {
      const read = readAmount(amount, currency);
      return t + (read.ok ? read.amount : 0n);
    }, 0n),
  );
