"use client";
import Link from "next/link";
import { useState } from "react";
import { bankAddressText, NO_BANK_ADDRESS, readBankAddress, type BankAddress } from "@/core/banks";
import type { PartnerBank, PartnerView as Partner } from "@/server/partners";
import type { Answer } from "@/app/lib/answer";
import { useWork } from "@/ui/frame/work";
import { SidePanel } from "@/ui/panel/SidePanel";
import { Status } from "@/ui/Status";
import { addPartnerBankAction, decidePartnerBankAction } from "./actions";
import { shownDate } from "@/ui/writing";

type Act = (job: () => Promise<Answer<unknown>>, done: string) => Promise<boolean>;

/** Bank accounts of a partner: what is known, what waits for a second person, a form for a new one. */
export function PartnerBanks({
  partner,
  mayChange,
  busy,
  act,
  onClose,
}: {
  partner: Partner;
  mayChange: boolean;
  busy: boolean;
  act: Act;
  onClose: () => void;
}) {
  const work = useWork();
  return (
    <SidePanel title="Bank accounts" onClose={onClose} width={380}>
      {partner.banks.length === 0 && (
        <p className="text-ink-2">
          None yet. Nothing can be transferred until one is entered and confirmed.
        </p>
      )}
      {partner.banks.map((b) => (
        <KnownAccount key={b.id} bank={b} of={partner.name} busy={busy} act={act} />
      ))}
      {mayChange && <NewAccount partner={partner} busy={busy} act={act} />}
      {partner.customer && work.may("read.receivables") && (
        <Link className="link" href={work.link("/receivables/mandates", { partner: partner.code })}>
          Mandate for direct debits
        </Link>
      )}
    </SidePanel>
  );
}

function KnownAccount({
  bank: b,
  of,
  busy,
  act,
}: {
  bank: PartnerBank;
  of: string;
  busy: boolean;
  act: Act;
}) {
  return (
    <div className="rounded-lg border border-line-2 px-3 py-2">
      <p className="flex items-center gap-2">
        <b className="font-semibold">{bankAddressText(b)}</b>
        <span className="ml-auto">
          <Status of={b.state} quiet />
        </span>
      </p>
      <p className="text-xs text-ink-2">
        {b.bic && `${b.bic} · `}
        {b.holder && b.holder !== of && `held by ${b.holder} · `}entered by {b.changedBy} on{" "}
        {shownDate(b.changedAt.slice(0, 10))}
        {b.decidedBy && `, ${b.state} by ${b.decidedBy}`}
      </p>
      {b.mayDecide && (
        <p className="mt-1 flex gap-2">
          <button
            type="button"
            className="button h-7"
            disabled={busy}
            onClick={() =>
              void act(
                () => decidePartnerBankAction(b.id, "confirmed"),
                "Confirmed: it is paid to from now on.",
              )
            }
          >
            Confirm
          </button>
          <button
            type="button"
            className="button h-7"
            disabled={busy}
            onClick={() => void act(() => decidePartnerBankAction(b.id, "refused"), "Refused.")}
          >
            Refuse
          </button>
        </p>
      )}
      {b.state === "waiting" && !b.mayDecide && (
        <p className="text-xs text-ink-2">
          A second person has to confirm it before anything is paid there.
        </p>
      )}
    </div>
  );
}

const FIELDS: readonly [keyof BankAddress | "holder", string][] = [
  ["iban", "New account, IBAN"],
  ["number", "Account number, where there is no IBAN"],
  ["country", "Country of the bank, two letters"],
  ["routing", "Routing code of the bank"],
  ["bic", "BIC"],
  ["holder", "Held by, where it is somebody else"],
];

/** A new account. What is wrong with a field is said as soon as the field is left. */
function NewAccount({ partner, busy, act }: { partner: Partner; busy: boolean; act: Act }) {
  const empty = { ...NO_BANK_ADDRESS, holder: "" };
  const [written, setWritten] = useState(empty);
  const [left, setLeft] = useState<readonly string[]>([]);
  const read = readBankAddress(written);
  const problemOf = (field: string): string | undefined =>
    read.ok ? undefined : read.problems.find((p) => p.field === field)?.what;
  const withIban = written.iban.trim() !== "";
  const shown = FIELDS.filter(
    ([key]) => !withIban || !["number", "country", "routing"].includes(key),
  );
  return (
    <form
      className="grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        setLeft(FIELDS.map(([key]) => key));
        if (!read.ok) return;
        void act(
          () =>
            addPartnerBankAction({
              ...written,
              partner: partner.code,
              holder: written.holder.trim() || partner.name,
            }),
          "Entered. A second person confirms it.",
        ).then((done) => {
          if (!done) return;
          setWritten(empty);
          setLeft([]);
        });
      }}
    >
      {shown.map(([key, label]) => {
        const problem = left.includes(key) ? problemOf(key) : undefined;
        return (
          <div key={key}>
            <label className="label" htmlFor={`bank-${key}`}>
              {label}
            </label>
            <input
              id={`bank-${key}`}
              className="field"
              autoComplete="off"
              aria-invalid={problem ? true : undefined}
              aria-describedby={problem ? `bank-${key}-problem` : undefined}
              value={written[key]}
              onChange={(e) => setWritten((all) => ({ ...all, [key]: e.target.value }))}
              onBlur={() => written[key] !== "" && setLeft((all) => [...all, key])}
            />
            {problem && (
              <p id={`bank-${key}-problem`} className="pt-0.5 text-xs text-coral">
                {problem}
              </p>
            )}
          </div>
        );
      })}
      <button type="submit" className="button justify-self-start" disabled={busy}>
        Enter it
      </button>
    </form>
  );
}
