"use client";
import { minor, type Minor } from "@/core/shared";
import { shownAmount } from "@/ui/writing";

export interface KindChoice {
  code: string;
  name: string;
}
/** Where what is not taken of items goes: "" for nowhere yet, the partner's account, or a kind. */
export type RestTo = "" | typeof ON_ACCOUNT | `kind:${string}`;
export const ON_ACCOUNT = "account";

/** Whether more came, or went, than is taken: only that can stay on the partner's account. */
export const isOver = (rest: bigint, line: bigint): boolean =>
  rest !== 0n && rest > 0n === line > 0n;

/** Too much goes on account where nothing is said; what is too little has to be said. */
export const usualRest = (rest: bigint, line: bigint, kinds: readonly KindChoice[]): RestTo => {
  if (isOver(rest, line)) return ON_ACCOUNT;
  return kinds.length === 1 ? `kind:${kinds[0]!.code}` : "";
};

/** The part of a decision that says where the rest goes. */
export const restOf = (to: RestTo): { kind: string; onAccount: boolean } => ({
  kind: to.startsWith("kind:") ? to.slice(5) : "",
  onAccount: to === ON_ACCOUNT,
});

export const restName = (to: RestTo, kinds: readonly KindChoice[]): string =>
  to === ON_ACCOUNT
    ? "On the partner’s account"
    : (kinds.find((k) => to === `kind:${k.code}`)?.name ?? "Still without an account");

/** What a line is posted to beside its items, in a word or two; "" where that is still open. */
export function restAccount(of: {
  transfer?: { code: string; company?: string } | null | undefined;
  coding?: { account: string; text: string } | null | undefined;
  kindName: string;
  onAccount?: boolean;
  partnerName?: string;
}): string {
  if (of.transfer?.company) return `Due from or to ${of.transfer.company}`;
  if (of.transfer) return `Under way, ${of.transfer.code}`;
  if (of.coding) return [of.coding.account, of.coding.text].filter(Boolean).join(" ");
  if (of.onAccount) return `On account, ${of.partnerName ?? "the partner"}`;
  return of.kindName;
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
  value: RestTo;
  onChange: (to: RestTo) => void;
}) {
  const size = minor(rest < 0n ? -rest : rest);
  return (
    <div>
      <label className="label" htmlFor="line-rest">
        The difference of {shownAmount(size, line.currency)} goes to
      </label>
      <select
        id="line-rest"
        className="field"
        value={value}
        onChange={(e) => onChange(e.target.value as RestTo)}
      >
        <option value="">Choose</option>
        {isOver(rest, line.amount) && <option value={ON_ACCOUNT}>The partner’s account</option>}
        {kinds.map((k) => (
          <option key={k.code} value={`kind:${k.code}`}>
            {k.name}
          </option>
        ))}
      </select>
    </div>
  );
}
