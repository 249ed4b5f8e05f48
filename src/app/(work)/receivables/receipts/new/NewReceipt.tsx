"use client";
import { useEffect, useRef, useState } from "react";
import { dateText, minor, readAmount, readDate } from "@/core/shared";
import {
  appliedTotals,
  writtenTakes,
  type ProposedApplication,
  type WrittenTakes,
} from "@/core/receivables";
import type { ReceivingAccount } from "@/server/receivables";
import { OfferedReasons } from "@/app/lib/OfferedReasons";
import { useAct } from "@/app/lib/useAct";
import type { ShownProblem } from "@/server/ledger";
import { DateField } from "@/ui/date/DateField";
import { Field } from "@/ui/Field";
import { FigureField } from "@/ui/FigureField";
import { NotSaved, useLeaveGuard } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { Empty, Fact, Page, Problems } from "@/ui/Page";
import { usePrimaryKeys } from "@/ui/usePrimaryKeys";
import { shownAmount } from "@/ui/writing";
import { recordReceiptAction } from "../actions";
import { Elsewhere } from "./Elsewhere";
import { ItemsToPay } from "./ItemsToPay";
import { useProposal } from "./useProposal";

const SAYS: Readonly<Record<ProposedApplication["by"], string>> = {
  numbers: "Proposed: what the text names",
  amount: "Proposed: the item of this amount",
  "amount less discount": "Proposed: the item of this amount less its discount",
  sum: "Proposed: items that come to this amount",
  "oldest first": "Proposed: the oldest first",
  "nothing is open": "",
};

/** Money that a customer has sent, and what it pays: proposed, and as a person has it. */
export function NewReceipt({
  start,
  customers,
  accounts,
}: {
  start: string;
  customers: readonly { code: string; name: string }[];
  accounts: readonly ReceivingAccount[];
}) {
  const work = useWork();
  const { busy, messages, setMessages, act } = useAct();
  const [head, setHead] = useState({
    who: start,
    bank: accounts[0]?.code ?? "",
    date: dateText(work.today),
    amount: "",
    text: "",
    reason: "",
  });
  const set = (change: Partial<typeof head>) => setHead((h) => ({ ...h, ...change }));
  // What a person wrote; null while the proposal stands.
  const [own, setOwn] = useState<WrittenTakes | null>(null);
  const [faults, setFaults] = useState<readonly ShownProblem[]>([]);
  const [recorded, setRecorded] = useState(0);
  const first = useRef<HTMLInputElement>(null);
  const company = work.company?.code ?? "";
  const customer = customers.find((c) => c.code === head.who.trim() || c.name === head.who.trim());
  const date = readDate(head.date, work.today);
  const account = accounts.find((a) => a.code === head.bank);
  const currency = account?.currency ?? "EUR";
  const { found, message } = useProposal(
    customer && date
      ? {
          company,
          bank: head.bank,
          partner: customer.code,
          date,
          amount: head.amount,
          text: head.text,
        }
      : null,
    recorded,
  );
  const items = found?.items ?? [];
  const takes = own ?? (found ? writtenTakes(found.proposed, currency) : {});
  const totals = appliedTotals(items, takes, currency);
  const read = readAmount(head.amount || "0", currency);
  const amount = read.ok ? read.amount : minor(0n);
  const rest = minor(amount - totals.applied);
  const dirty = head.amount !== "" || own !== null;
  const guard = useLeaveGuard(dirty);
  const chosen = items.filter((i) => takes[i.id]);
  const at = (field: string) => faults.find((f) => f.field === field)?.message;
  useEffect(() => first.current?.focus(), []);
  const record = () =>
    void act(
      async () => {
        const result = await recordReceiptAction({
          company,
          bank: head.bank,
          date: date ?? head.date,
          partner: customer?.code ?? head.who,
          amount: head.amount,
          text: head.text,
          reason: head.reason,
          takes: chosen.map((i) => ({ item: i.id, ...takes[i.id] })),
        });
        setFaults(result.ok ? [] : result.problems);
        return result;
      },
      ({ number }) => `${number} is recorded`,
      () => {
        setHead((h) => ({ ...h, who: "", amount: "", text: "", reason: "" }));
        setOwn(null);
        setRecorded((n) => n + 1);
        first.current?.focus();
      },
    );
  const isReady = customer !== undefined && amount > 0n && rest >= 0n && !busy;
  usePrimaryKeys(undefined, isReady ? record : undefined);
  if (accounts.length === 0)
    return (
      <Page title="New receipt">
        <Empty title="No bank account yet">A receipt needs one that it comes to.</Empty>
      </Page>
    );
  return (
    <Page
      title="New receipt"
      note="money of a customer before the bank’s statement shows it"
      actions={
        <button
          type="button"
          className="button button-main"
          disabled={!isReady}
          onClick={record}
          data-keys="Ctrl Shift Enter=Record the receipt"
        >
          Record <kbd>Ctrl ⇧ ⏎</kbd>
        </button>
      }
      footer={
        <>
          <Fact label="Pays items">{shownAmount(totals.applied, currency)}</Fact>
          {totals.discount > 0n && (
            <Fact label="Discount allowed">{shownAmount(totals.discount, currency)}</Fact>
          )}
          {totals.writtenOff > 0n && (
            <Fact label="Written off">{shownAmount(totals.writtenOff, currency)}</Fact>
          )}
          <Fact label={rest < 0n ? "Too much is applied" : "Stays on account"}>
            <span className={rest < 0n ? "text-coral" : ""}>
              {shownAmount(minor(rest < 0n ? -rest : rest), currency)}
            </span>
          </Fact>
          <NotSaved guard={guard} says="The receipt is not recorded." />
          <Fact apart label={`Received ${currency}`}>
            {shownAmount(amount, currency)}
          </Fact>
        </>
      }
    >
      <Problems messages={messages} />
      <div className="panel flex flex-wrap gap-x-4 gap-y-2 p-4">
        <Field
          id="r-customer"
          label="Customer"
          required
          width="w-56"
          problem={at("partner")}
          hint={customer?.name}
        >
          {(p) => (
            <>
              <input
                {...p}
                ref={first}
                className="field"
                list="r-customers"
                autoComplete="off"
                placeholder="Code or name"
                value={head.who}
                onChange={(e) => {
                  set({ who: e.target.value });
                  setOwn(null);
                  setMessages([]);
                  setFaults([]);
                }}
              />
              <datalist id="r-customers">
                {customers.map((c) => (
                  <option key={c.code} value={c.code}>
                    {c.name}
                  </option>
                ))}
              </datalist>
            </>
          )}
        </Field>
        <Field
          id="r-amount"
          label={`Amount, ${currency}`}
          required
          width="w-36"
          problem={at("amount")}
        >
          {(p) => (
            <FigureField
              {...p}
              className="field text-right"
              value={head.amount}
              onChange={(value) => set({ amount: value })}
            />
          )}
        </Field>
        <Field
          id="r-text"
          label="What the payer wrote"
          width="min-w-48 flex-1"
          problem={at("text")}
        >
          {(p) => (
            <input
              {...p}
              className="field"
              maxLength={200}
              value={head.text}
              onChange={(e) => set({ text: e.target.value })}
            />
          )}
        </Field>
        <Field id="r-date" label="Date" width="w-32" problem={at("date")}>
          {(p) => <DateField {...p} value={head.date} onChange={(value) => set({ date: value })} />}
        </Field>
        <Field id="r-bank" label="Bank account" width="w-56" problem={at("bank")}>
          {(p) => (
            <select
              {...p}
              className="field"
              value={head.bank}
              onChange={(e) => {
                set({ bank: e.target.value });
                setOwn(null);
              }}
            >
              {accounts.map((a) => (
                <option key={a.code} value={a.code}>
                  {a.code} {a.name}, {a.currency}
                </option>
              ))}
            </select>
          )}
        </Field>
        {totals.writtenOff > 0n && (
          <Field
            id="r-reason"
            label="Why it is written off"
            required
            width="min-w-48 flex-1"
            problem={at("reason")}
          >
            {(p) => (
              <>
                <input
                  {...p}
                  className="field"
                  list="r-reasons"
                  maxLength={200}
                  value={head.reason}
                  onChange={(e) => set({ reason: e.target.value })}
                />
                <OfferedReasons id="r-reasons" place="writeOffs" />
              </>
            )}
          </Field>
        )}
      </div>
      <ItemsToPay
        customer={customer ?? null}
        items={found ? items : null}
        message={message}
        currency={currency}
        takes={takes}
        faultOf={(item, field) => {
          const place = chosen.findIndex((i) => i.id === item);
          return place < 0 ? undefined : at(`takes.${place}.${field}`);
        }}
        says={own ? "" : (found && amount > 0n && SAYS[found.proposed.by]) || ""}
        below={
          found &&
          date &&
          work.may("post.receivables") && (
            <Elsewhere
              items={found.elsewhere}
              currency={currency}
              date={date}
              onRestated={() => setRecorded((n) => n + 1)}
            />
          )
        }
        onWrite={setOwn}
        onPropose={own ? () => setOwn(null) : undefined}
      />
    </Page>
  );
}
