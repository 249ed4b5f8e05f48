"use client";
import { useId } from "react";
import type { LineCoding } from "@/core/banks";
import { minor, type Minor } from "@/core/shared";
import { OfferedReasons } from "@/app/lib/OfferedReasons";
import { shownAmount } from "@/ui/writing";

export interface KindChoice {
  code: string;
  name: string;
  coding: LineCoding;
}
/** Where what is not taken of items goes: "" for nowhere yet, the partner's account, or a kind. */
type RestTo = "" | typeof ON_ACCOUNT | typeof WRITE_OFF | `kind:${string}`;
const ON_ACCOUNT = "account";
const WRITE_OFF = "write off";

/** Where the difference goes, and why, where it is written off. */
export interface Rest {
  to: RestTo;
  reason: string;
}

/** Whether more came, or went, than is taken: only that can stay on the partner's account. */
const isOver = (rest: bigint, line: bigint): boolean => rest !== 0n && rest > 0n === line > 0n;

/** Too much goes on account where nothing is said; what is too little has to be said. */
export const usualRest = (rest: bigint, line: bigint, kinds: readonly KindChoice[]): Rest => {
  if (isOver(rest, line)) return { to: ON_ACCOUNT, reason: "" };
  return { to: kinds.length === 1 ? `kind:${kinds[0]!.code}` : "", reason: "" };
};

/** The part of a decision that says where the rest goes. */
export const restOf = ({ to, reason }: Rest) => ({
  kind: to.startsWith("kind:") ? to.slice(5) : "",
  onAccount: to === ON_ACCOUNT,
  // Without a reason it is asked for where it is decided.
  writeOff: to === WRITE_OFF ? reason.trim() || "?" : "",
});

export const restName = ({ to }: Rest, kinds: readonly KindChoice[]): string =>
  to === ON_ACCOUNT
    ? "On the partner’s account"
    : to === WRITE_OFF
      ? "Differences written off"
      : (kinds.find((k) => to === `kind:${k.code}`)?.name ?? "Still without an account");

/** What a line is posted to beside its items, in a word or two; "" where that is still open. */
export function restAccount(of: {
  transfer?: { code: string; company?: string } | null | undefined;
  coding?: { account: string; text: string } | null | undefined;
  kindName: string;
  onAccount?: boolean;
  writeOff?: string;
  partnerName?: string;
}): string {
  if (of.transfer?.company) return `Due from or to ${of.transfer.company}`;
  if (of.transfer) return `Under way, ${of.transfer.code}`;
  if (of.coding) return [of.coding.account, of.coding.text].filter(Boolean).join(" ");
  if (of.onAccount) return `On account, ${of.partnerName ?? "the partner"}`;
  if (of.writeOff) return `Written off: ${of.writeOff}`;
  return of.kindName;
}

/** The coding of what a line is beside its items; null where that is none, or still open. */
export function codingBeside(
  of: {
    transfer?: unknown;
    coding?: LineCoding | null | undefined;
    kind: string;
    onAccount?: boolean;
    writeOff?: string;
  },
  kinds: readonly KindChoice[],
  said: Rest | null = null,
): LineCoding | null {
  if (of.transfer || of.onAccount || of.writeOff) return null;
  const kind = of.kind || (said?.to.startsWith("kind:") ? said.to.slice(5) : "");
  return of.coding ?? kinds.find((k) => k.code === kind)?.coding ?? null;
}

/** Asks where the difference between a line and what it takes goes. */
export function RestChoice({
  rest,
  line,
  kinds,
  value,
  onChange,
}: {
  rest: Minor;
  line: { amount: Minor; currency: string };
  kinds: readonly KindChoice[];
  value: Rest;
  onChange: (rest: Rest) => void;
}) {
  const offered = useId();
  const size = minor(rest < 0n ? -rest : rest);
  return (
    <div>
      <label className="label" htmlFor="line-rest">
        The difference of {shownAmount(size, line.currency)} goes to
      </label>
      <select
        id="line-rest"
        className="field"
        value={value.to}
        onChange={(e) => onChange({ ...value, to: e.target.value as RestTo })}
      >
        <option value="">Choose</option>
        {isOver(rest, line.amount) ? (
          <option value={ON_ACCOUNT}>The partner’s account</option>
        ) : (
          <option value={WRITE_OFF}>Differences written off</option>
        )}
        {kinds.map((k) => (
          <option key={k.code} value={`kind:${k.code}`}>
            {k.name}
          </option>
        ))}
      </select>
      {value.to === WRITE_OFF && (
        <>
          <label className="label mt-2" htmlFor="line-rest-reason">
            Why it is written off
          </label>
          <input
            id="line-rest-reason"
            className="field"
            list={offered}
            maxLength={200}
            value={value.reason}
            onChange={(e) => onChange({ ...value, reason: e.target.value })}
          />
          <OfferedReasons id={offered} place="writeOffs" />
        </>
      )}
    </div>
  );
}
