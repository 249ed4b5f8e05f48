"use client";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { DEPOSIT_KIND_NAMES, toBank } from "@/core/banks";
import { dateText, minor, readAmount, readDate, type Minor } from "@/core/shared";
import type { BankAccount } from "@/server/banks";
import { sendTable } from "@/app/lib/sendFile";
import { useAct } from "@/app/lib/useAct";
import { DateField } from "@/ui/date/DateField";
import { FileLoad } from "@/ui/FileLoad";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount, shownDate } from "@/ui/writing";
import { makeDepositAction } from "../actions";
import { PartForm, type WrittenPart } from "./PartForm";

/** A slip in the making: its parts gathered one by one, then deposited together. */
export function NewDeposit({
  accounts,
  kinds,
}: {
  accounts: BankAccount[];
  /** Kinds of movement as which a fee can be posted. */
  kinds: readonly { code: string; name: string }[];
}) {
  const work = useWork();
  const router = useRouter();
  const { busy, messages, act } = useAct();
  const [bank, setBank] = useState(accounts[0]?.code ?? "");
  const [date, setDate] = useState(dateText(work.today));
  const [parts, setParts] = useState<readonly WrittenPart[]>([]);
  const guard = useLeaveGuard(parts.length > 0);
  const account = accounts.find((a) => a.code === bank);
  const currency = account?.currency ?? work.company?.currency ?? "EUR";
  const amountOf = (p: WrittenPart): bigint => {
    const read = readAmount(p.amount, currency);
    return read.ok ? read.amount : 0n;
  };
  const feeOf = (p: WrittenPart): bigint => {
    const read = readAmount(p.fee, currency);
    return read.ok ? read.amount : 0n;
  };
  const total: Minor = minor(
    parts.reduce(
      (t, p) => t + toBank({ ...p, amount: minor(amountOf(p)), fee: minor(feeOf(p)) }),
      0n,
    ),
  );
  const ofCards = parts[0]?.kind === "card";
  const fees = minor(parts.reduce((t, p) => t + feeOf(p), 0n));
  const [cardFees, setCardFees] = useState(kinds[0]?.code ?? "");
  const [made, setMade] = useState(0);
  const deposit = () =>
    void act(
      async () => {
        const result = await makeDepositAction({
          company: work.company?.code ?? "",
          bank,
          date: readDate(date, work.today) ?? date,
          parts: parts.map(({ payer: _payer, pays: _pays, ...p }) => p),
        });
        if (result.ok) setMade(result.value.id);
        return result;
      },
      ({ number }) => `${number} is deposited`,
      () => setParts([]),
    );
  // Only once nothing unsaved is left behind.
  const isDone = made !== 0 && parts.length === 0;
  const page = work.link(`/banks/deposits/${made}`);
  useEffect(() => {
    if (isDone) router.replace(page);
  }, [isDone, page, router]);
  usePrimaryKeys(undefined, parts.length > 0 && !busy ? deposit : undefined);
  if (accounts.length === 0)
    return (
      <Page title="New deposit slip">
        <Empty title="No bank account yet">A deposit needs one to go to.</Empty>
      </Page>
    );
  return (
    <Page
      title="New deposit slip"
      note="cheques, bills, notes and cash of customers, or card payments"
      actions={
        <>
          {parts.length === 0 && (
            <FileLoad
              label="Load card payments"
              what="card payments"
              load={sendTable("card-payments", {
                company: work.company?.code ?? "",
                bank,
                date: readDate(date, work.today) ?? date,
                kind: cardFees,
              })}
            />
          )}
          <button
            type="button"
            className="button button-main"
            disabled={busy || parts.length === 0}
            onClick={deposit}
            data-keys="Ctrl Shift Enter=Deposit"
          >
            Deposit <kbd>Ctrl ⇧ ⏎</kbd>
          </button>
        </>
      }
      footer={
        <>
          <Fact label={`${ofCards ? "To the bank" : "Slip"}, ${currency}`}>
            {shownAmount(total, currency)}
          </Fact>
          {ofCards && <Fact label="Kept as fees">{shownAmount(fees, currency)}</Fact>}
          <Fact label="Parts">{parts.length}</Fact>
          <NotSaved guard={guard} says="The slip is not deposited." />
        </>
      }
      panel={
        <PartForm
          key={`${bank} ${parts.length}`}
          company={work.company?.code ?? ""}
          currency={currency}
          kinds={kinds}
          taken={new Set(parts.flatMap((p) => p.items))}
          onAdd={(p) => setParts([...parts, p])}
        />
      }
    >
      <Problems messages={messages} />
      <div className="panel grid grid-cols-[minmax(0,1fr)_180px_220px] gap-5 p-4">
        <div>
          <label className="label" htmlFor="deposit-bank">
            Bank account
          </label>
          <select
            id="deposit-bank"
            className="field"
            value={bank}
            disabled={parts.length > 0}
            onChange={(e) => setBank(e.target.value)}
          >
            {accounts.map((a) => (
              <option key={a.code} value={a.code}>
                {a.code} {a.name}, {a.currency}
              </option>
            ))}
          </select>
        </div>
        <div>
          <label className="label" htmlFor="deposit-date">
            Date
          </label>
          <DateField id="deposit-date" value={date} onChange={setDate} />
        </div>
        <div>
          <label className="label" htmlFor="deposit-fees">
            Fees of card payments from a file
          </label>
          <select
            id="deposit-fees"
            className="field"
            value={cardFees}
            onChange={(e) => setCardFees(e.target.value)}
          >
            {kinds.map((k) => (
              <option key={k.code} value={k.code}>
                {k.name}
              </option>
            ))}
          </select>
        </div>
      </div>
      <div
        className="panel min-h-0 flex-1 overflow-auto"
        tabIndex={0}
        role="region"
        aria-label="Parts of the slip"
      >
        <table className="sheet">
          <thead>
            <tr>
              <th className="w-32">Kind</th>
              <th className="w-44">Number</th>
              <th>Customer</th>
              <th>Pays</th>
              <th className="num w-36">Amount</th>
              <th className="w-24" aria-label="Remove" />
            </tr>
          </thead>
          <tbody>
            {parts.map((p, i) => (
              <tr key={i}>
                <td className="truncate">{DEPOSIT_KIND_NAMES[p.kind]}</td>
                <td className="truncate">
                  {p.cheque}
                  {p.dueDate !== "" && `, due ${shownDate(p.dueDate)}`}
                </td>
                <td className="truncate">{p.payer}</td>
                <td className="truncate">{p.pays.join(", ") || "on account"}</td>
                <td className="num">
                  {shownAmount(minor(amountOf(p)), currency)}
                  {p.kind === "card" && feeOf(p) > 0n && (
                    <span className="block text-xs text-ink-2">
                      less {shownAmount(minor(feeOf(p)), currency)}
                    </span>
                  )}
                </td>
                <td>
                  <button
                    type="button"
                    className="link"
                    onClick={() => setParts(parts.filter((_, n) => n !== i))}
                  >
                    Remove
                  </button>
                </td>
              </tr>
            ))}
            {parts.length === 0 && (
              <tr>
                <td colSpan={6} className="whitespace-normal text-ink-2">
                  Nothing on it yet: add cheques, bills, notes or cash at the right. Card payments
                  are settled on a slip of their own, one by one or from the file of whoever
                  collects them (columns number, invoice or customer, amount, fee).
                </td>
              </tr>
            )}
          </tbody>
        </table>
      </div>
    </Page>
  );
}
